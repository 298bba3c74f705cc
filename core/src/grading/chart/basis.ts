/** What a chart rests on that no setting changes: voltage ratios, fault currents at the devices, the states that pairs are judged in, the lines of what is protected. */
import { arcPlace } from '../../arc/equipment';
import { arcModel } from '../../arc/judge';
import { limitsOf } from '../../limits/limits';
import type { LimitCurve } from '../../limits/limit';
import { breakingCurrent } from '../../faults/iec60909/breaking';
import { steadyCurrent } from '../../faults/iec60909/steady';
import { faultAtPlace, type Fault } from '../../faults/iec60909/study';
import { solidFault } from '../../faults/kinds';
import { modesOf, type FlagKind, type GradingChart, type GradingPair, type Measured } from '../../model/chart';
import type { Condition } from '../../model/condition';
import type { ElementId } from '../../model/fields';
import { find, settingsOf, type Network } from '../../model/network';
import type { Bus } from '../../model/switching';
import { quantityOfMode } from '../../protection/curve';
import { currentOf, deviceOf, mainInput, type Device } from '../../protection/device';
import { seenBy } from '../../protection/seen';
import { closeInPlace } from '../../protection/zone';
import { lineWithstand } from '../../ratings/lineWithstand';
import { loadRanges } from '../../studies/loads';
import type { Studies } from '../../studies/studies';
import { deviceFigures, kindsFor, referenceFactor, referenceFactorAt, type DeviceFigures } from '../figures';
import { pairStates, type PairState } from '../margin';

/** A line of what is protected with the amperes on the chart for one of its own. */
export interface ReferredLimit {
  readonly limit: LimitCurve;
  readonly factor: number;
}

/** What a line or cable bears as energy, k²·S² of all its circuits, in A²s at the level of the chart. */
export interface WithstandEnergy {
  readonly title: string;
  readonly a2s: number;
}

/** How the largest fault current close to a device goes on; primary amperes at its first input, its share of the place throughout. */
export type LaterCurrents = Readonly<Record<Exclude<FlagKind, 'maximum' | 'minimum'>, number>>;

export interface ChartDevice {
  readonly id: ElementId;
  /** Amperes on the chart for one primary ampere; null where its place has no voltage. */
  readonly factor: number | null;
  readonly figures: DeviceFigures;
  /** By what it measures, where the chart flags them. */
  readonly later: Readonly<Partial<Record<Measured, LaterCurrents>>>;
  /** Largest factor κ of the faults close in. */
  readonly kappa: number;
  readonly frequencyHz: number;
  /** Least breaking capacity of what it opens, in amperes; null where none is known. */
  readonly breaksA: number | null;
}

/** Arcing currents at a busbar whose energies stand on the chart, at the level of the chart: full and reduced, of the largest bolted current. */
export interface ChartArc {
  readonly title: string;
  readonly fullA: number;
  readonly reducedA: number;
}

export interface ChartBasis {
  readonly arcs: readonly ChartArc[];
  readonly devices: readonly ChartDevice[];
  readonly limits: readonly ReferredLimit[];
  readonly energies: readonly WithstandEnergy[];
  readonly pairs: readonly {
    readonly pair: GradingPair;
    readonly mode: Measured;
    readonly states: readonly PairState[];
  }[];
}

/** Nominal voltage in kV of the node at the first terminal of an element; null where it has none. */
export function nominalKvAt({ max: { assembly } }: Studies, id: ElementId): number | null {
  const node = assembly.topology.nodeAt(id, 0);
  return node === undefined ? null : assembly.topology.nodes[node].nominalKv;
}

export function chartBasis(studies: Studies, chart: GradingChart): ChartBasis {
  const { network, conditions } = studies;
  const modes = modesOf(chart);
  const limited = [...new Set(chart.limits.map(({ element }) => element))];
  const asksLater = chart.flags.some((flag) => flag !== 'maximum' && flag !== 'minimum');
  return {
    devices: chart.relays.flatMap((id): ChartDevice[] => {
      const device = deviceOf(network, id);
      if (!device) return [];
      const figures = deviceFigures(studies, device, conditions);
      return [
        {
          id,
          factor: referenceFactor(studies, device, chart.referenceKv),
          figures,
          later: asksLater
            ? Object.fromEntries(modes.map((mode) => [mode, laterCurrents(studies, device, conditions, figures, mode)]))
            : {},
          kappa: chart.shows === 'time' ? 0 : largestKappa(studies, device, conditions),
          frequencyHz: studies.max.assembly.frequencyHz,
          breaksA: breakingCapacity(network, device),
        },
      ];
    }),
    limits: limited.flatMap((id) => {
      const element = network.elements.get(id);
      const factor = referenceFactorAt(studies, id, chart.referenceKv);
      if (!element || factor === null) return [];
      const shown = new Set(chart.limits.filter((each) => each.element === id).map(({ line }) => line));
      return limitsOf(network, element, nominalKvAt(studies, id))
        .filter(({ line }) => shown.has(line))
        .map((limit): ReferredLimit => ({ limit: withLoad(studies, limit, chart.growthPercent), factor }));
    }),
    arcs: limited.flatMap((id) => {
      const bus = find(network, 'bus', id);
      const factor = referenceFactorAt(studies, id, chart.referenceKv);
      const found = bus && factor !== null ? arcingAt(studies, bus) : null;
      return found ? [{ title: bus!.name, fullA: found.fullA * factor!, reducedA: found.reducedA * factor! }] : [];
    }),
    energies: limited.flatMap((id) => {
      const line = find(network, 'line', id);
      const kv = nominalKvAt(studies, id);
      const factor = referenceFactorAt(studies, id, chart.referenceKv);
      const withstand = line && kv !== null ? lineWithstand(line, kv) : null;
      if (!line || !withstand || factor === null) return [];
      // Over a tenth of a second no heat leaves the conductor.
      const duration = 0.1;
      const allowedA = withstand.allowedA(duration) * line.circuits * factor;
      return [{ title: `${line.name} k²S²`, a2s: allowedA ** 2 * duration }];
    }),
    pairs: modes.flatMap((mode) =>
      chart.pairs.flatMap((pair) => {
        const [below, above] = [deviceOf(network, pair.downstream), deviceOf(network, pair.upstream)];
        return below && above ? [{ pair, mode, states: pairStates(studies, below, above, mode, conditions) }] : [];
      }),
    ),
  };
}

/** Arcing currents of the largest bolted current at a busbar, in amperes; null where nothing feeds it or the models do not reach. */
function arcingAt(studies: Studies, { id, arc, nominalKv }: Bus): { fullA: number; reducedA: number } | null {
  const place = { at: 'terminal', element: id, terminal: 0 } as const;
  const bolted = studies.conditions.flatMap(({ id: condition }) => {
    const found = faultAtPlace(studies.iec60909({ condition }), place, solidFault('3ph'));
    return found.ok ? [found.fault.ikA / 1000] : [];
  });
  if (bolted.length === 0) return null;
  const boltedKa = Math.max(...bolted);
  const model = arcModel(settingsOf(studies.network).arc.edition, arcPlace(arc, nominalKv), boltedKa, true);
  if (model.method === 'theoretical') return null;
  return { fullA: 1000 * model.arcingKa(boltedKa, false), reducedA: 1000 * model.arcingKa(boltedKa, true) };
}

/** Lines of the load that flows get its currents here: the largest over all conditions, and what growth adds. */
function withLoad(studies: Studies, limit: LimitCurve, growthPercent: number): LimitCurve {
  if (limit.line !== 'loadNow' && limit.line !== 'loadGrown') return limit;
  const load = loadRanges(studies, studies.conditions).get(`${limit.element}:0`)?.largest.ampere;
  if (!load) return limit;
  const grown = limit.line === 'loadGrown';
  const currentA = grown ? load * (1 + growthPercent / 100) : load;
  return {
    ...limit,
    title: grown ? `${limit.title}, ${growthPercent} %` : limit.title,
    points: [
      [currentA, 1e4],
      [currentA, 1],
    ],
  };
}

function breakingCapacity(network: Network, { opens }: Device): number | null {
  const known = opens.flatMap((id) => find(network, 'switch', id)?.breakingKa ?? []);
  return known.length === 0 ? null : Math.min(...known) * 1000;
}

/** The contact parting that the breaking current is told for, in seconds. */
export const flaggedPartingS = 0.1;

/** Faults just beyond a device, of the kinds of a chart, with the part of each that it carries. */
function closeFaults(studies: Studies, device: Device, conditions: readonly Condition[], measured: Measured) {
  const place = closeInPlace(device);
  const main = mainInput(device);
  if (!place || !main) return [];
  return conditions.flatMap(({ id }) =>
    seenBy(studies.iec60909({ condition: id }), place, kindsFor(measured), [device]).flatMap((seen) => {
      const own = seen?.devices[0]?.[main.id];
      return seen && own ? [{ fault: seen.fault, currentA: currentOf(own, quantityOfMode[measured]) }] : [];
    }),
  );
}

const largestKappa = (studies: Studies, device: Device, conditions: readonly Condition[]): number =>
  studies.remembered(
    `kappa ${device.inputs[0]?.through} ${device.inputs[0]?.towards} ${JSON.stringify(conditions)}`,
    () => Math.max(1.02, ...closeFaults(studies, device, conditions, 'phase').map(({ fault }) => fault.kappa)),
  );

/**
 * Of the fault with the largest current: its first half-cycle as rms with the d.c. component, √(1 + 2·e^(−2π·R/X)) times; at contact parting (IEC 60909-0, 9); when it
 * has become steady (10). The device keeps its share of the place.
 */
function laterCurrents(
  studies: Studies,
  device: Device,
  conditions: readonly Condition[],
  { closeIn }: DeviceFigures,
  measured: Measured,
): LaterCurrents | undefined {
  if (closeIn.length === 0) return undefined;
  const faults = closeFaults(studies, device, conditions, measured);
  if (faults.length === 0) return undefined;
  const largest = (of: (fault: Fault) => number) =>
    Math.max(...faults.map(({ fault, currentA }) => currentA * of(fault)));
  return {
    firstCycle: largest(({ rOverX }) => Math.sqrt(1 + 2 * Math.exp(-2 * Math.PI * rOverX))),
    breaking: largest((fault) => Math.min(1, breakingCurrent(fault, flaggedPartingS).ibA / fault.ikA)),
    steady: largest((fault) => Math.min(1, steadyCurrent(fault).maxA / fault.ikA)),
  };
}
