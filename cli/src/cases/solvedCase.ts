/** A solved power-flow case as a reference: its load flow against the voltages, angles and powers that are printed in it. */
import { voltageFactor } from '@mesura/core/faults/iec60909/voltageFactor';
import { flowFigures } from '@mesura/core/flow/figures';
import { loadFlow } from '@mesura/core/flow/loadFlow';
import { FileRefusal } from '@mesura/core/formats/format';
import { mergeReport } from '@mesura/core/formats/merge';
import { networkOfCase } from '@mesura/core/formats/powerFlow/network';
import { busTypes } from '@mesura/core/formats/powerFlow/form';
import { isPowerFlowCase, readCase, type PowerFlowCase } from '@mesura/core/formats/powerFlow/read';
import { finished } from '@mesura/core/formats/registry';
import { applyChanges } from '@mesura/core/model/changes';
import { blankElements } from '@mesura/core/model/defaults';
import type { ElementId } from '@mesura/core/model/fields';
import { networkOf, settingsOf, type Network } from '@mesura/core/model/network';
import type { Read } from '../command';
import { Refusal } from '../options';
import { compared, type Compared, type Pair } from './case';

/** In per unit, degrees and megawatts: cases are printed with three digits, and not all of them solve their own data to the last. */
const allowed = { voltage: 0.0015, angle: 0.05, power: 1, reactive: 2 } as const;

/** Null where the file is no solved case. */
export function solvedCase(path: string, read: Read): Compared[] | null {
  let text: string;
  try {
    text = read(path);
  } catch {
    return null;
  }
  if (!isPowerFlowCase(text)) return null;
  try {
    const given = finished(readCase(text));
    return pairsOf(given, networkFrom(given)).map((pair) => compared({ id: given.title || path }, pair));
  } catch (error) {
    if (error instanceof FileRefusal) throw new Refusal(1, `${path}: ${error.message}`);
    throw error;
  }
}

function networkFrom(given: PowerFlowCase): Network {
  const blank = networkOf(blankElements());
  let made = 0;
  const newId = () => `e${++made}` as ElementId;
  const { batch } = mergeReport(finished(networkOfCase(given)), { network: blank, newId }, '');
  const applied = applyChanges(blank, batch);
  if (!applied.ok) throw new FileRefusal(applied.problems[0].message);
  return applied.network;
}

function pairsOf({ buses }: PowerFlowCase, network: Network): Pair[] {
  const factor = voltageFactor(settingsOf(network).lowVoltageTolerancePercent);
  const figures = flowFigures(loadFlow(network, { voltageFactor: factor }));
  const names = new Map<string, number>();
  const at = buses.map((bus) => {
    // As the importer has it: the second of a name is "name 2".
    const label = bus.name || `Bus ${bus.number}`;
    const nth = (names.get(label.toLowerCase()) ?? 0) + 1;
    names.set(label.toLowerCase(), nth);
    return nth === 1 ? label : `${label} ${nth}`;
  });
  const slack = buses.findIndex(({ type }) => type === busTypes.slack);
  const voltage = (name: string) => figures.buses.find((each) => each.name === name);
  const reference = (voltage(at[slack] ?? at[0])?.angleDeg ?? 0) - (buses[slack] ?? buses[0]).angle;
  return buses.flatMap((bus, k): Pair[] => {
    const found = figures.converged ? voltage(at[k]) : undefined;
    const source = figures.sources.find(({ name }) => name === `Machine at ${at[k]}` || name === `Network at ${at[k]}`);
    const turned = found && found.angleDeg - reference;
    return [
      {
        figure: `${at[k]} V pu`,
        expected: bus.voltage,
        computed: found && found.percent / 100,
        allowed: allowed.voltage,
      },
      {
        figure: `${at[k]} angle deg`,
        expected: bus.angle,
        computed: turned === undefined ? undefined : turned - 360 * Math.round((turned - bus.angle) / 360),
        allowed: allowed.angle,
      },
      ...(bus.type === busTypes.slack
        ? [{ figure: `${at[k]} P MW`, expected: bus.generationMw, computed: source?.mw, allowed: allowed.power }]
        : []),
      ...(bus.type === busTypes.heldVoltage
        ? [
            {
              figure: `${at[k]} Q Mvar`,
              expected: bus.generationMvar,
              computed: source?.mvar,
              allowed: allowed.reactive,
            },
          ]
        : []),
    ];
  });
}
