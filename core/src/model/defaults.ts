/** New elements with careful values: what a drawing tool places, to be filled in by the engineer. */
import type { Element, ElementKind, ElementOf } from './element';
import { defaultSettings } from './element';
import { isolatedNeutral, type ElementId, type Neutral, neutralOf } from './fields';
import { currentInput, tripCircuit } from './protection';
import { idle } from './sources';

const isolated = isolatedNeutral;
const solid: Neutral = neutralOf('solid');
const machine = {
  xd1Percent: null,
  xdPercent: null,
  td2S: null,
  td1S: null,
  taS: null,
  rotor: 'turbo',
  excitation: 'series1',
} as const;
const fixedTap = {
  side: 'none',
  position: 0,
  steps: 0,
  stepPercent: 0,
  holds: 'nothing',
  targetPercent: 100,
} as const;
const windings = (ratedMva: number, ukPercent: number) => ({
  ratedMva,
  ukPercent,
  uRPercent: 0.4,
  x0OverX1: null,
  r0OverR1: null,
});

type Common =
  | 'id'
  | 'name'
  | 'kind'
  | 'x'
  | 'y'
  | 'turn'
  | 'note'
  | 'mirrored'
  | 'page'
  | 'pinned'
  | 'assumed'
  | 'foreign'
  | 'entry';
type Data<K extends ElementKind> = Omit<ElementOf<K>, Common>;
type Undrawn =
  | 'connection'
  | 'projectSettings'
  | 'gradingChart'
  | 'linePackage'
  | 'trial'
  | 'batch'
  | 'script'
  | 'earthStudy'
  | 'condition'
  | 'libraryEntry'
  | 'tower'
  | 'lineCoupling'
  | 'textNote'
  | 'panel'
  | 'chartPicture'
  | 'rulebook'
  | 'page';

const unknownShortTime = { shortTimeKa: null, shortTimeS: 1 };
const transformerLimits = { emergencyPercent: null, withstandS: 2 };

const data: { [K in Exclude<ElementKind, Undrawn>]: Data<K> } = {
  bus: {
    system: 'ac',
    nominalKv: 11,
    ratedKv: null,
    ratedA: null,
    peakKa: null,
    shortTimeKa: null,
    shortTimeS: 1,
    length: 200,
  },
  switch: {
    type: 'breaker',
    closed: true,
    ratedKv: null,
    ratedA: null,
    ratedBy: 'byVoltage',
    breakingKa: null,
    serviceBreakingKa: null,
    makingKa: null,
    ...unknownShortTime,
    timeConstantMs: 45,
    ratedCycles: 5,
    minimumBreakingA: null,
    openingTimeS: 0.06,
    functions: [],
  },
  voltageTransformer: { primaryKv: 11, secondaryV: 110, accuracy: '0.5/3P' },
  currentTransformer: {
    primaryA: 400,
    secondaryA: 1,
    ...unknownShortTime,
    dynamicKa: null,
    accuracy: '5P20',
    ratedVa: null,
    windingOhm: null,
    kneeV: null,
    kneeA: null,
    remanencePercent: 0,
    burdenOhm: null,
  },
  networkFeeder: {
    earthed: true,
    voltagePercent: 100,
    max: { given: 'current', ikKa: 10, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 },
    min: { given: 'current', ikKa: 8, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 },
  },
  line: {
    type: 'cable',
    lengthKm: 1,
    circuits: 1,
    data: 'perLength',
    tower: null,
    towerCircuit: 1,
    r1OhmPerKm: 0.1,
    x1OhmPerKm: 0.1,
    r0OhmPerKm: null,
    x0OhmPerKm: null,
    b1UsPerKm: 0,
    b0UsPerKm: 0,
    ratedA: null,
    emergencyA: null,
    endTemperatureC: 80,
    sectionMm2: null,
    metal: 'aluminium',
    insulation: 'xlpe',
    serviceTemperatureC: null,
  },
  transformer: {
    ratedMva: 1.6,
    ...transformerLimits,
    hvKv: 11,
    lvKv: 0.42,
    ukPercent: 6,
    uRPercent: 1,
    vectorGroup: 'Dyn11',
    shiftDegrees: 0,
    x0OverX1: null,
    r0OverR1: null,
    core: 'unspecified',
    x0mPercent: null,
    hvNeutral: isolated,
    lvNeutral: solid,
    tap: fixedTap,
  },
  threeWindingTransformer: {
    ...transformerLimits,
    hvKv: 132,
    mvKv: 33,
    lvKv: 11,
    vectorGroup: 'YNyn0d1',
    hvMv: windings(40, 12),
    hvLv: windings(15, 8),
    mvLv: windings(15, 5),
    core: 'unspecified',
    x0mPercent: null,
    hvNeutral: solid,
    mvNeutral: isolated,
    lvNeutral: isolated,
    tap: fixedTap,
  },
  seriesReactor: {
    ratedKv: 11,
    ratedA: 1000,
    ukPercent: 6,
    rOverX: 0.03,
    x0OverX1: 1,
    ...unknownShortTime,
    shortTimeS: 2,
    peakKa: null,
  },
  synchronousMachine: {
    ratedMva: 6,
    ratedKv: 11,
    powerFactor: 0.8,
    xd2Percent: 18,
    ...machine,
    x2Percent: null,
    x0Percent: null,
    rOhm: null,
    regulationPercent: 0,
    neutral: isolated,
    runsAtMinimum: true,
    operation: idle,
  },
  powerStationUnit: {
    generator: {
      ratedMva: 100,
      ratedKv: 10.5,
      powerFactor: 0.85,
      xd2Percent: 16,
      ...machine,
      x2Percent: null,
      rOhm: null,
      regulationPercent: 5,
    },
    transformer: {
      ratedMva: 100,
      hvKv: 115,
      lvKv: 10.5,
      ukPercent: 12,
      uRPercent: 0.5,
      vectorGroup: 'YNd5',
      onLoadTapChanger: false,
      pTPercent: 0,
      x0OverX1: null,
      r0OverR1: null,
    },
    hvNeutral: isolated,
    runsAtMinimum: true,
    operation: idle,
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
    loadingPercent: 100,
    startPowerFactor: null,
    startTorque: null,
    pullOutTorque: null,
    inertiaKgM2: null,
    loadTorque: 'quadratic',
  },
  staticDrive: { ratedMva: 1, ratedKv: 11, powerFactor: 0.9, feedsBack: false, loadingPercent: 100 },
  converterSource: { ratedMva: 5, ratedKv: 33, faultRatio: 1.15, operation: idle },
  doublyFedMachine: { ratedMva: 3, ratedKv: 33, peakKa: 0.3, kappa: 1.7, rOverX: 0.1, operation: idle },
  load: { ratedMva: 1, powerFactor: 0.9, reactive: 'lagging', behaves: 'constantPower' },
  shunt: { type: 'capacitor', ratedMvar: 1, ratedKv: 11, neutral: isolated },
  earthingTransformer: { ratedKv: 11, r0Ohm: 1, x0Ohm: 20, shortTimeA: null, shortTimeS: 10, neutral: solid },
  earthingSwitch: { closed: false, makingKa: null, ...unknownShortTime },
  battery: {
    cells: 54,
    strings: 1,
    capacityAh: 100,
    cellV: 2.05,
    cellMohm: 0.8,
    dischargedV: 1.9,
    dischargedMohm: null,
    connectorMohm: 0.05,
    inductanceUh: null,
  },
  rectifier: {
    type: 'limited',
    ratedA: 50,
    floatV: 120,
    limitPercent: 110,
    acV: 95,
    transformerKva: 10,
    ukPercent: 4,
    uRPercent: 2,
    skMva: null,
    smoothingMohm: 10,
    smoothingMh: 1,
    efficiencyPercent: 88,
    powerFactor: 0.85,
  },
  directMotor: { ratedV: 110, ratedA: 50, armatureMohm: 100, armatureMh: 1, fieldShare: 0.1, fieldS: 0.8 },
  directCapacitor: { capacitanceMf: 10, seriesMohm: 10, seriesUh: 5 },
  directLoad: { powerW: 1000, behaves: 'constantPower', lowestPercent: 85 },
  directCable: {
    lengthM: 20,
    sectionMm2: 16,
    metal: 'copper',
    parallel: 1,
    inductanceUhPerM: 0.6,
    serviceTemperatureC: 70,
    ratedA: null,
  },
  relay: {
    device: 'Numerical feeder relay',
    inputs: [currentInput(null)],
    circuits: [tripCircuit([])],
    functions: [],
  },
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
