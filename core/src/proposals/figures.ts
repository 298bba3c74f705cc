/** The figures that rules name (`rules/names`), found for a device: loads, faults, what lies behind it. */
import type { FaultKind } from '../faults/kinds';
import { loadRatingOf, type LoadRating } from '../flow/rating';
import { deviceFigures, kindsFor, nothingA, type FaultFigure } from '../grading/figures';
import { limitsOf } from '../limits/limits';
import type { Measured } from '../model/chart';
import type { Condition } from '../model/condition';
import { nameOf, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import type { RuleBehind } from '../model/rulebook';
import { quantityOfMode } from '../protection/curve';
import { currentOf, mainInput, type Device } from '../protection/device';
import type { Quantity } from '../protection/family';
import { leadOf, wrapped } from '../protection/overcurrent/direction';
import type { Direction } from '../protection/overcurrent/schema';
import { quantityOf } from '../protection/overcurrent/timeCurrent';
import type { DeviceFunction } from '../protection/schemas';
import { farEnds } from '../protection/zone';
import { heaviestShare } from '../lowVoltage/demand';
import { loadRanges } from '../studies/loads';
import type { Studies } from '../studies/studies';
import { neighboursIn, splitKey } from '../studies/cut';

/** A figure with where it comes from. */
export interface Figure {
  readonly name: string;
  readonly value: number | null;
  readonly unit: 'A' | 's' | 'deg';
  readonly condition: ElementId | null;
  readonly kind: FaultKind | null;
  /** Where the fault is, or what lies there. */
  readonly place: string;
}

export type Figures = Readonly<Record<string, Figure>>;

export const valuesOf = (figures: Figures): Record<string, number | null> =>
  Object.fromEntries(Object.values(figures).map(({ name, value }) => [name, value]));

const behindOf: Partial<Record<Element['kind'], RuleBehind>> = {
  line: 'line',
  transformer: 'transformer',
  threeWindingTransformer: 'transformer',
  asynchronousMotor: 'motor',
  synchronousMachine: 'generator',
  powerStationUnit: 'generator',
  converterSource: 'generator',
  doublyFedMachine: 'generator',
  load: 'load',
  bus: 'busbar',
};

export interface Plant {
  readonly element: Element;
  /** The terminal on the side of the device. */
  readonly near: number;
}

/** What lies right behind a device: at its far ends, and at the far end of a line what hangs there without a busbar. */
export function plantBehind(studies: Studies, device: Device): readonly Plant[] {
  const { assembly } = studies.max;
  const { network, topology } = assembly;
  return farEnds(studies.max, device).flatMap(({ element, terminal }): Plant[] => {
    const of = network.elements.get(element);
    if (!of) return [];
    const ends = behindOf[of.kind];
    const through = of.kind === 'line' || of.kind === 'transformer' || of.kind === 'seriesReactor';
    const own: Plant = { element: of, near: through ? 1 - terminal : terminal };
    const node = ends === 'line' ? topology.nodeAt(element, terminal) : undefined;
    if (node === undefined || topology.nodes[node].buses.length > 0) return [own];
    const reached = [...neighboursIn(topology.nodes[node]).keys(), ...topology.nodes[node].terminals];
    const beyond = [...new Set(reached)].flatMap((key): Plant[] => {
      const [id, at] = splitKey(key);
      const hung = network.elements.get(id);
      const kind = hung && behindBy(hung);
      return hung && id !== element && kind && kind !== 'line' && kind !== 'busbar'
        ? [{ element: hung, near: at }]
        : [];
    });
    return [own, ...beyond];
  });
}

export const kindsBehind = (plant: readonly Plant[]): ReadonlySet<RuleBehind> =>
  new Set(plant.flatMap(({ element }) => behindBy(element) ?? []));

/** A reactor is no capacitor: no rule is about it. */
const behindBy = (element: Element): RuleBehind | undefined =>
  element.kind === 'shunt' && element.type === 'capacitor' ? 'capacitor' : behindOf[element.kind];

const leastOf = <T>(list: readonly T[], of: (each: T) => number): T | undefined =>
  list.length === 0 ? undefined : list.reduce((p, q) => (of(q) < of(p) ? q : p));

/** At its rated voltage. */
const capacitorRating = (element: Element): LoadRating | null =>
  element.kind === 'shunt'
    ? { ratedA: (element.ratedMvar * 1000) / (Math.sqrt(3) * element.ratedKv), emergencyA: null }
    : null;

/** Everything that rules about a function of a device may name. `hasBelow`: another device follows further on, or a transformer lies between. */
export function figuresFor(
  studies: Studies,
  conditions: readonly Condition[],
  device: Device,
  mode: Measured,
  hasBelow: boolean,
  plant: readonly Plant[] = plantBehind(studies, device),
): Figures {
  const { network } = studies;
  const quantity = quantityOfMode[mode];
  const main = mainInput(device)!;
  const figures: Record<string, Figure> = {};
  const put = (name: string, value: number | null, over: Partial<Figure> = {}) =>
    (figures[name] = { name, value, unit: 'A', condition: null, kind: null, place: '', ...over });

  const flow = loadRanges(studies, conditions).get(`${main.through}:through`)?.largest;
  const load = flow && { ...flow, ampere: flow.ampere * heaviestShare(network, main.through) };
  put('load', load && load.ampere > nothingA ? load.ampere : null, { condition: load?.condition ?? null });
  const ratings = plant.flatMap(({ element, near }) => {
    const rating = loadRatingOf(element, near) ?? capacitorRating(element);
    return rating && element.kind !== 'bus' ? [{ element, rating }] : [];
  });
  const rated = leastOf(ratings, ({ rating }) => rating.ratedA);
  put('rated', rated?.rating.ratedA ?? null, { place: rated ? nameOf(rated.element) : '' });
  const emergencies = ratings.filter(({ rating }) => rating.emergencyA !== null);
  const emergency = leastOf(emergencies, ({ rating }) => rating.emergencyA!);
  put('emergencyLoad', emergency?.rating.emergencyA ?? null, { place: emergency ? nameOf(emergency.element) : '' });

  const found = deviceFigures(studies, device, conditions);
  const sized = (list: readonly FaultFigure[]) =>
    list
      .filter(({ kind }) => kindsFor(mode).includes(kind))
      .map((figure) => ({ figure, ampere: currentOf(figure.seen, quantity) }))
      .filter(({ ampere }) => ampere > nothingA)
      .sort((p, q) => p.ampere - q.ampere);
  const fault = (name: string, list: readonly FaultFigure[], which: 0 | -1) => {
    const one = sized(list).at(which);
    put(name, one?.ampere ?? null, {
      condition: one?.figure.condition ?? null,
      kind: one?.figure.kind ?? null,
      place: one?.figure.placeName ?? '',
    });
  };
  fault('smallestFault', found.farEnd, 0);
  fault('throughFault', hasBelow ? found.through : [], -1);
  fault('largestFault', found.closeIn, -1);
  fault('backwardFault', found.behind, -1);

  const node = studies.max.assembly.topology.nodeAt(main.through, main.towards);
  const nominalKv = node === undefined ? null : studies.max.assembly.topology.nodes[node].nominalKv;
  const inrush = plant.flatMap(({ element, near }) =>
    element.kind === 'transformer' && near === 0
      ? limitsOf(network, element, nominalKv)
          .filter(({ line }) => line === 'inrush')
          .map(({ points }) => points.find(([, timeS]) => timeS === 0.1)?.[0] ?? 0)
      : [],
  );
  put('inrush', inrush.length > 0 ? inrush.reduce((p, q) => p + q, 0) : null, { place: namesOf(plant, 'transformer') });
  const starts = plant.flatMap(({ element }) =>
    element.kind === 'asynchronousMotor'
      ? limitsOf(network, element, nominalKv)
          .filter(({ line }) => line === 'start')
          .map(({ points }) => ({ ampere: points[points.length - 1][0], timeS: points[1][1], of: nameOf(element) }))
      : [],
  );
  const start = starts.sort((p, q) => q.ampere - p.ampere)[0];
  put('motorStart', start?.ampere ?? null, { place: start?.of ?? '' });
  put('startTime', start?.timeS ?? null, { unit: 's', place: start?.of ?? '' });
  for (const figure of leadsAhead(studies, conditions, device, mode)) figures[figure.name] = figure;
  put('ctPrimary', device.kind === 'relay' ? main.rating.primaryA : null);
  put('deviceRating', main.rating.primaryA);
  return figures;
}

/**
 * By how much faults ahead lead the voltage that polarises, for a device that heeds a direction: as it would see them connected as drawn, since an angle does
 * not make up for a reversed polarity.
 */
function leadsAhead(
  studies: Studies,
  conditions: readonly Condition[],
  device: Device,
  mode: Measured,
): readonly [Figure, Figure] | readonly [] {
  const quantity = quantityOfMode[mode];
  const direction = device.functions
    .map((fn) => directionOf(fn, quantity))
    .find((each) => each !== null && each.looks === 'forward');
  if (!direction || !device.voltageAt) return [];
  const asDrawn: Device = {
    ...device,
    inputs: device.inputs.map((input) => ({ ...input, reversed: false })),
    voltageAt: { ...device.voltageAt, reversed: false },
  };
  const { farEnd, closeIn } = deviceFigures(studies, asDrawn, conditions);
  const leads = [...farEnd, ...closeIn]
    .filter(({ kind, seen }) => kindsFor(mode).includes(kind) && currentOf(seen, quantity) > nothingA)
    .flatMap((figure) => {
      const deg = leadOf(direction, quantity, figure.seen);
      return deg === null ? [] : [{ figure, deg }];
    });
  if (leads.length === 0) return [];
  // Around the first of them, so that none is cut by the turn from 180 to −180.
  const [{ deg: about }] = leads;
  const around = leads.map(({ figure, deg }) => ({ figure, deg: about + wrapped(deg - about) }));
  const named = (name: string, { figure, deg }: (typeof around)[number]): Figure => ({
    name,
    value: deg,
    unit: 'deg',
    condition: figure.condition,
    kind: figure.kind,
    place: figure.placeName,
  });
  return [
    named(
      'leastLead',
      leastOf(around, ({ deg }) => deg)!,
    ),
    named(
      'mostLead',
      leastOf(around, ({ deg }) => -deg)!,
    ),
  ];
}

/** What an enabled function of a quantity heeds. */
const directionOf = (fn: DeviceFunction, quantity: Quantity): Direction | null =>
  fn.enabled && fn.family === 'overcurrent' && quantityOf(fn) === quantity ? fn.direction : null;

const namesOf = (plant: readonly Plant[], kind: RuleBehind): string =>
  plant
    .filter(({ element }) => behindBy(element) === kind)
    .map(({ element }) => nameOf(element))
    .join(', ');
