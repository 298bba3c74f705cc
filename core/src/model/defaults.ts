/** New elements with careful values: what a drawing tool places, to be filled in by the engineer. */
import type { Element, ElementKind, ElementOf } from './element';
import { defaultSettings } from './element';
import type { ElementId, Neutral } from './fields';

const isolated: Neutral = { earthing: 'isolated', rOhm: 0, xOhm: 0 };

type Common = 'id' | 'name' | 'kind' | 'x' | 'y' | 'turn' | 'note';
type Data<K extends ElementKind> = Omit<ElementOf<K>, Common>;

const data: { [K in Exclude<ElementKind, 'connection' | 'projectSettings' | 'gradingChart'>]: Data<K> } = {
  bus: { nominalKv: 11, length: 200 },
  switch: { type: 'breaker', closed: true, ratedA: null, openingTimeS: 0.06 },
  currentTransformer: { primaryA: 400, secondaryA: 1, accuracy: '5P20' },
  networkFeeder: {
    earthed: true,
    max: { given: 'current', ikKa: 10, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 },
    min: { given: 'current', ikKa: 8, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 },
  },
  line: {
    type: 'cable',
    lengthKm: 1,
    circuits: 1,
    r1OhmPerKm: 0.1,
    x1OhmPerKm: 0.1,
    r0OhmPerKm: null,
    x0OhmPerKm: null,
    b1UsPerKm: 0,
    b0UsPerKm: 0,
    ratedA: null,
    endTemperatureC: 80,
  },
  transformer: {
    ratedMva: 1.6,
    hvKv: 11,
    lvKv: 0.42,
    ukPercent: 6,
    uRPercent: 1,
    vectorGroup: 'Dyn11',
    x0OverX1: null,
    r0OverR1: null,
    hvNeutral: isolated,
    lvNeutral: { earthing: 'solid', rOhm: 0, xOhm: 0 },
    tap: { side: 'none', position: 0, steps: 0, stepPercent: 0 },
  },
  synchronousMachine: {
    ratedMva: 6,
    ratedKv: 11,
    powerFactor: 0.8,
    xd2Percent: 18,
    x2Percent: null,
    x0Percent: null,
    rOhm: null,
    regulationPercent: 0,
    neutral: isolated,
    runsAtMinimum: true,
  },
  asynchronousMotor: {
    ratedMw: 1,
    ratedKv: 11,
    powerFactor: 0.88,
    efficiencyPercent: 96,
    startingRatio: 5.5,
    polePairs: 2,
    count: 1,
    rOverX: null,
  },
  load: { ratedMva: 1, powerFactor: 0.9 },
  shunt: { type: 'capacitor', ratedMvar: 1, ratedKv: 11 },
  earthingTransformer: { ratedKv: 11, r0Ohm: 1, x0Ohm: 20, neutral: { earthing: 'solid', rOhm: 0, xOhm: 0 } },
  relay: { device: 'Numerical feeder relay', ct: null, towards: 1, trips: [], functions: [] },
};

export type PlaceableKind = keyof typeof data;

/** A new element of a kind at a place; `over` replaces some of the values. */
export function newElement<K extends PlaceableKind>(
  kind: K,
  id: ElementId,
  name: string,
  over: Partial<ElementOf<K>> = {},
): ElementOf<K> {
  const common = { kind, id, name, note: '', x: 0, y: 0, turn: 0 };
  return { ...common, ...data[kind], ...over } as unknown as ElementOf<K>;
}

/** First free name of the kind "Q1", "Q2", … */
export function freeName(elements: Iterable<Element>, prefix: string): string {
  const taken = new Set<string>();
  for (const element of elements) if ('name' in element) taken.add(element.name.toLowerCase());
  for (let n = 1; ; n++) if (!taken.has(`${prefix}${n}`.toLowerCase())) return `${prefix}${n}`;
}

/** The elements of a blank project. */
export const blankElements = (): Element[] => [defaultSettings];
