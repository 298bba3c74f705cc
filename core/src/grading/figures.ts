/** The fault figures that a device is set by: the largest current close in and the smallest one at the far end, over a list of conditions. */
import type { Fault } from '../faults/iec60909/study';
import { terminalPlace } from '../faults/iec60909/study';
import { faultKinds, needsZeroSequence, type FaultKind } from '../faults/kinds';
import type { Place } from '../faults/solution/solve';
import type { Condition } from '../model/condition';
import { nameOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { ofKind } from '../model/network';
import type { Measured } from '../model/protection';
import { mainInput, type Device } from '../protection/device';
import type { SeenCurrents } from '../protection/family';
import { seenBy } from '../protection/seen';
import { closeInPlace, farEnds } from '../protection/zone';
import type { Studies } from '../studies/studies';

/** Kinds of fault that a chart of this mode is about. */
export const kindsFor = (measured: Measured): readonly FaultKind[] =>
  measured === 'phase' ? ['3ph', '2ph'] : measured === 'earth' ? ['1ph', '2phE'] : ['2ph', '2phE', '1ph'];

export interface FaultFigure {
  readonly kind: FaultKind;
  /** The condition that decided. */
  readonly condition: ElementId;
  readonly place: ElementId;
  /** Name of the bus there, or of the element at whose end it is. */
  readonly placeName: string;
  /** Nominal voltage at the fault in kV. */
  readonly nominalKv: number;
  /** At the device's first input. */
  readonly seen: SeenCurrents;
}

export interface DeviceFigures {
  /** Largest current for a close-in fault, by kind; primary amperes. */
  readonly closeIn: readonly FaultFigure[];
  /** Smallest current for a fault at each far end of what is protected, by kind. */
  readonly farEnd: readonly FaultFigure[];
}

/** Below this no current counts, in amperes: what rounding leaves. */
export const nothingA = 1e-3;

/** What a figure is chosen by: the residual current of earth faults where it flows, the phase current of others. */
const sizeOf = ({ kind, seen }: FaultFigure): number =>
  needsZeroSequence(kind) && seen.residualA > nothingA ? seen.residualA : seen.phaseA;

/** Figures of one device, found once for a network, its inputs and the conditions. */
export const deviceFigures = (studies: Studies, device: Device, conditions: readonly Condition[]): DeviceFigures =>
  studies.remembered(`figures ${placeKey(device)} ${conditionsKey(conditions)}`, () => ({
    closeIn: extremes(
      studies,
      device,
      conditions,
      () => [closeInPlace(device)].filter((place) => place !== null),
      largest,
    ),
    farEnd: extremes(
      studies,
      device,
      conditions,
      (condition) =>
        farEnds(studies.iec60909({ condition: condition.id }), device).map(({ element, terminal }) =>
          terminalPlace(element, terminal),
        ),
      smallest,
    ),
  }));

/** Where a device measures, as text: what its figures depend on besides the network. */
export const placeKey = ({ inputs }: Device): string =>
  inputs.map(({ id, through, towards }) => `${id}=${through}:${towards}`).join(',');

export const conditionsKey = (conditions: readonly Condition[]): string => JSON.stringify(conditions);

type Choice = (p: FaultFigure, q: FaultFigure) => FaultFigure;
const largest: Choice = (p, q) => (sizeOf(q) > sizeOf(p) ? q : p);
/** Of two that flow the smaller; a condition in which nothing flows decides nothing. */
const smallest: Choice = (p, q) => {
  if (sizeOf(q) <= nothingA) return p;
  return sizeOf(p) <= nothingA || sizeOf(q) < sizeOf(p) ? q : p;
};

function extremes(
  studies: Studies,
  device: Device,
  conditions: readonly Condition[],
  placesIn: (condition: Condition) => readonly Place[],
  choice: Choice,
): FaultFigure[] {
  const main = mainInput(device);
  const found = new Map<string, FaultFigure>();
  for (const condition of main ? conditions : []) {
    const study = studies.iec60909({ condition: condition.id });
    for (const place of placesIn(condition))
      seenBy(study, place, faultKinds, [device]).forEach((seenFault, k) => {
        const seen = seenFault?.devices[0]?.[main!.id];
        if (!seenFault || !seen) return;
        const kind = faultKinds[k];
        const figure: FaultFigure = {
          kind,
          condition: condition.id,
          place: place.element,
          placeName: placeName(seenFault.fault),
          nominalKv: seenFault.fault.nominalKv,
          seen,
        };
        const key = `${k} ${JSON.stringify(place)}`;
        const before = found.get(key);
        found.set(key, before ? choice(before, figure) : figure);
      });
  }
  return [...found].sort(([p], [q]) => Number(p[0]) - Number(q[0])).map(([, figure]) => figure);
}

export function placeName({ study, node, place }: Fault): string {
  const { topology, network } = study.assembly;
  const bus = topology.nodes[node].buses[0];
  return bus ? bus.name : `end of ${nameOf(network.elements.get(place.element)!)}`;
}

/** Voltage ratio for referring a device's currents to a level, by rated transformer ratios; by nominal voltages where no bus of that level is in reach. */
export function referenceFactor(studies: Studies, device: Device, referenceKv: number): number | null {
  const main = mainInput(device);
  return main ? referenceFactorAt(studies, main.through, referenceKv) : null;
}

/** The same for currents at the first terminal of an element. */
export function referenceFactorAt(studies: Studies, element: ElementId, referenceKv: number): number | null {
  const { topology, level, part, network } = studies.max.assembly;
  const at = topology.nodeAt(element, 0);
  if (at === undefined) return null;
  const own = topology.nodes[at].nominalKv;
  if (own === referenceKv) return 1;
  // A bus of the wanted level in the same part of the network tells the exact ratio.
  for (const bus of ofKind(network, 'bus')) {
    if (bus.nominalKv !== referenceKv) continue;
    const node = topology.nodeAt(bus.id, 0)!;
    if (part[node] === part[at]) return level[at] / level[node];
  }
  return own === null ? null : own / referenceKv;
}
