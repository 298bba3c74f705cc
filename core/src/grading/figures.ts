/** The fault figures that a device is set by: the largest current close in and the smallest and the largest one at the far end, over a list of conditions. */
import type { Fault } from '../faults/iec60909/study';
import { terminalPlace } from '../faults/iec60909/study';
import { faultKinds, needsZeroSequence, type FaultKind } from '../faults/kinds';
import type { Place } from '../faults/solution/solve';
import type { Condition } from '../model/condition';
import { nameOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { ofKind } from '../model/network';
import type { Measured } from '../model/chart';
import { mainInput, type Device } from '../protection/device';
import type { SeenCurrents } from '../protection/family';
import { asksForVectors, figuresOf, seenBy, type SeenFault } from '../protection/seen';
import { addComponents, scaleComponents } from '../sequence/components';
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
  /** Largest current the other way, for a fault just behind the device: what the protected side feeds back. */
  readonly behind: readonly FaultFigure[];
  /** Smallest current for a fault at each far end of what is protected, by kind. */
  readonly farEnd: readonly FaultFigure[];
  /** Largest current for a fault there. */
  readonly through: readonly FaultFigure[];
}

/** Below this no current counts, in amperes: what rounding leaves. */
export const nothingA = 1e-3;

/** What a figure is chosen by: the residual current of earth faults where it flows, the phase current of others. */
const sizeOf = ({ kind, seen }: FaultFigure): number =>
  needsZeroSequence(kind) && seen.residualA > nothingA ? seen.residualA : seen.phaseA;

/** Figures of one device, found once for a network, its inputs and the conditions. */
export const deviceFigures = (studies: Studies, device: Device, conditions: readonly Condition[]): DeviceFigures =>
  studies.remembered(`figures ${placeKey(device)} ${conditionsKey(conditions)}`, () => {
    const close = closeInPlace(device);
    const [closeIn, behind] = extremes(studies, device, conditions, () => (close ? [close] : []), [
      { choice: largest, of: ahead },
      { choice: largest, of: fromBehind },
    ]);
    const farPlaces = (condition: Condition) =>
      farEnds(studies.iec60909({ condition: condition.id }), device).map(({ element, terminal }) =>
        terminalPlace(element, terminal),
      );
    const [farEnd, through] = extremes(studies, device, conditions, farPlaces, [
      { choice: smallest, of: ahead },
      { choice: largest, of: ahead },
    ]);
    return { closeIn, behind, farEnd, through };
  });

/** What a device sees of one fault. */
type View = (seen: SeenFault, device: Device) => SeenCurrents | undefined;

const ahead: View = ({ devices: [own] }, device) => own?.[mainInput(device)!.id];

/** At the same node the fault may lie on the other side of the device: it then carries what it does not carry now. */
const fromBehind: View = ({ fault, main: [through] }, device) => {
  if (!through) return undefined;
  const sense = mainInput(device)!.towards === 1 ? -1 : 1;
  return figuresOf(addComponents(fault.components, scaleComponents(through, sense)));
};

/** Where a device measures, and how it is connected where it asks for directions or voltages, as text: what its figures depend on besides the network. */
export function placeKey(device: Device): string {
  const { inputs, voltageAt } = device;
  const places = inputs.map(({ id, through, towards }) => `${id}=${through}:${towards}`);
  if (!asksForVectors(device)) return places.join();
  const turned = inputs.map(({ reversed }) => reversed);
  return JSON.stringify([places, turned, voltageAt]);
}

export const conditionsKey = (conditions: readonly Condition[]): string => JSON.stringify(conditions);

type Choice = (p: FaultFigure, q: FaultFigure) => FaultFigure;
const largest: Choice = (p, q) => (sizeOf(q) > sizeOf(p) ? q : p);
/** Of two that flow the smaller; a condition in which nothing flows decides nothing. */
const smallest: Choice = (p, q) => {
  if (sizeOf(q) <= nothingA) return p;
  return sizeOf(p) <= nothingA || sizeOf(q) < sizeOf(p) ? q : p;
};

/** For each view a list of figures: of every kind and place the one that is chosen over the conditions. */
function extremes(
  studies: Studies,
  device: Device,
  conditions: readonly Condition[],
  placesIn: (condition: Condition) => readonly Place[],
  views: readonly { readonly choice: Choice; readonly of: View }[],
): FaultFigure[][] {
  const found = views.map(() => new Map<string, FaultFigure>());
  for (const condition of mainInput(device) ? conditions : []) {
    const study = studies.iec60909({ condition: condition.id });
    for (const place of placesIn(condition))
      seenBy(study, place, faultKinds, [device]).forEach((seenFault, k) => {
        if (!seenFault) return;
        views.forEach(({ choice, of }, v) => {
          const seen = of(seenFault, device);
          if (!seen) return;
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
          const before = found[v].get(key);
          found[v].set(key, before ? choice(before, figure) : figure);
        });
      });
  }
  return found.map((map) => [...map].sort(([p], [q]) => Number(p[0]) - Number(q[0])).map(([, figure]) => figure));
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
