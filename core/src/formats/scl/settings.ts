/**
 * Settings of protection functions as logical nodes: PTOC and PIOC for overcurrent, a PDIS for each zone of distance protection, PDIF for differential. Names of data objects: IEC 61850-7-4, and of
 * characteristics 61850-7-3, as remembered. Amperes are secondary, as the relay takes them.
 */
import { elementId, type ElementId } from '../../model/fields';
import type { Relay } from '../../model/protection';
import type { CharacteristicName, FunctionCode, OvercurrentFunction } from '../../protection/overcurrent/schema';
import type { DistanceFunction, DistanceZone } from '../../protection/distance/schema';
import type { DifferentialFunction } from '../../protection/differential/schema';
import { familyNamed } from '../../protection/registry';
import type { DeviceFunction } from '../../protection/schemas';

/** How a value is told: an analogue or a whole number, a characteristic by its number, an enumerated value. */
export type ObjectForm = 'setMag' | 'setVal' | 'setCharact' | 'stVal';

export interface DataObject {
  readonly name: string;
  readonly form: ObjectForm;
  readonly value: string;
  readonly unit?: string;
}

export interface LogicalNode {
  readonly class: string;
  readonly prefix: string;
  readonly instance: number;
  /** "51N", where the file says. */
  readonly description: string;
  readonly objects: readonly DataObject[];
}

/** Numbers of characteristics in IEC 61850-7-3. */
const characteristics: Readonly<Partial<Record<CharacteristicName, number>>> = {
  ieeeF: 1,
  ieeeE: 2,
  ieeeD: 4,
  iecA: 9,
  iecB: 10,
  iecC: 12,
  longTime: 14,
  definite: 15,
};
const characteristicOf = (number: number): CharacteristicName | undefined =>
  (Object.keys(characteristics) as CharacteristicName[]).find((name) => characteristics[name] === number);

const directions = { both: '1', forward: '2', reverse: '3' } as const;
const directionOf = (text: string): keyof typeof directions | undefined =>
  (Object.keys(directions) as (keyof typeof directions)[]).find(
    (name) => directions[name] === text || name === text.toLowerCase(),
  );

/** Class of an overcurrent function by its number; null where it is none of these. */
export const overcurrentClass = (code: string): 'PTOC' | 'PIOC' | null =>
  /^50/.test(code) ? 'PIOC' : /^(51|67|46)/.test(code) ? 'PTOC' : null;

const figure = (value: number): string => String(Number(value.toPrecision(12)));
const magnitude = (name: string, value: number, unit?: string): DataObject => ({
  name,
  form: 'setMag',
  value: figure(value),
  ...(unit && { unit }),
});
const milliseconds = (name: string, seconds: number): DataObject => ({
  name,
  form: 'setVal',
  value: String(Math.round(seconds * 1000)),
  unit: 'ms',
});
const mode = (enabled: boolean): DataObject => ({ name: 'Mod', form: 'stVal', value: enabled ? 'on' : 'off' });

/** Rated secondary current at an input of a relay. */
export type SecondaryOf = (input: ElementId | null) => number;

/** Logical nodes of a relay's functions, and functions that have none. */
export function logicalNodes(
  relay: Pick<Relay, 'functions'>,
  secondaryOf: SecondaryOf,
): { nodes: LogicalNode[]; without: DeviceFunction[] } {
  const nodes: LogicalNode[] = [];
  const without: DeviceFunction[] = [];
  const counts = new Map<string, number>();
  const put = (of: string, description: string, objects: readonly DataObject[]) => {
    const instance = (counts.get(of) ?? 0) + 1;
    counts.set(of, instance);
    nodes.push({ class: of, prefix: '', instance, description, objects });
  };
  for (const fn of relay.functions) {
    const of = fn.family === 'overcurrent' ? overcurrentClass(fn.code) : null;
    if (fn.family === 'overcurrent' && of) put(of, fn.code, overcurrentObjects(fn, of, secondaryOf(fn.input)));
    else if (fn.family === 'distance')
      fn.zones.forEach((zone) => put('PDIS', `21 ${zone.name}`, zoneObjects(fn, zone)));
    else if (fn.family === 'differential' && fn.scheme === 'biased') put('PDIF', fn.code, differentialObjects(fn));
    else without.push(fn);
  }
  return { nodes, without };
}

function overcurrentObjects(fn: OvercurrentFunction, of: 'PTOC' | 'PIOC', secondaryA: number): DataObject[] {
  const common = [mode(fn.enabled), magnitude('StrVal', fn.pickup * secondaryA, 'A')];
  if (of === 'PIOC') return [...common, milliseconds('OpDlTmms', fn.delayS)];
  const number = characteristics[fn.characteristic];
  return [
    ...common,
    ...(number === undefined ? [] : [{ name: 'TmACrv', form: 'setCharact', value: String(number) } as const]),
    magnitude('TmMult', fn.timeMultiplier),
    milliseconds('OpDlTmms', fn.delayS),
    ...(fn.direction ? [{ name: 'DirMod', form: 'setVal', value: directions[fn.direction.looks] } as const] : []),
  ];
}

const zoneObjects = (fn: DistanceFunction, zone: DistanceZone): DataObject[] => [
  mode(zone.enabled),
  magnitude('PoRch', zone.reachOhm, 'ohm'),
  magnitude('RisPhRch', zone.resistanceOhm, 'ohm'),
  magnitude('RisGndRch', zone.resistanceEarthOhm, 'ohm'),
  milliseconds('PhDlTmms', zone.delayS),
  milliseconds('GndDlTmms', zone.delayEarthS),
  { name: 'DirMod', form: 'setVal', value: directions[zone.looks] },
  magnitude('LinAng', fn.lineAngleDeg, 'deg'),
  magnitude('K0Fact', zone.k0 ?? fn.k0),
  magnitude('K0FactAng', zone.k0 === null ? fn.k0AngleDeg : zone.k0AngleDeg, 'deg'),
];

const differentialObjects = (fn: DifferentialFunction): DataObject[] => [
  mode(fn.enabled),
  magnitude('LoSet', fn.pickup),
  ...(fn.unrestrained === null ? [] : [magnitude('HiSet', fn.unrestrained)]),
  milliseconds('MinOpTmms', fn.delayS),
];

/** What a reader of logical nodes tells about them. */
export interface Told {
  left(message: string): void;
  assumed(message: string): void;
  wrong(message: string): void;
}

/** A relay's functions with what the nodes say of them: the first PTOC for the first function of its class, and so on. Functions without a node stay, nodes without a function are told. */
export function laidOn(
  functions: readonly DeviceFunction[],
  nodes: readonly LogicalNode[],
  secondaryOf: SecondaryOf,
  told: Told,
): DeviceFunction[] {
  const left = new Map<string, LogicalNode[]>();
  for (const node of nodes) left.set(node.class, [...(left.get(node.class) ?? []), node]);
  const take = (of: string): LogicalNode | undefined => left.get(of)?.shift();
  const result = functions.map((fn): DeviceFunction => {
    if (fn.family === 'overcurrent') {
      const of = overcurrentClass(fn.code);
      const node = of && take(of);
      return node ? overcurrentWith(fn, node, secondaryOf(fn.input), told) : fn;
    }
    if (fn.family === 'distance') {
      const zones = fn.zones.map((zone) => {
        const node = take('PDIS');
        return node ? zoneWith(zone, node, told) : zone;
      });
      return { ...fn, zones };
    }
    if (fn.family === 'differential' && fn.scheme === 'biased') {
      const node = take('PDIF');
      return node ? differentialWith(fn, node, told) : fn;
    }
    return fn;
  });
  for (const [of, nodes] of left)
    if (nodes.length > 0 && known.has(of))
      told.left(`${of}${nodes[0].instance}: the relay has no further function of this kind here`);
  return result;
}

const known: ReadonlySet<string> = new Set(['PTOC', 'PIOC', 'PDIS', 'PDIF']);

/** Functions of a relay that is not here yet. */
export function freshFunctions(
  nodes: readonly LogicalNode[],
  input: ElementId | null,
  secondaryA: number,
  told: Told,
): DeviceFunction[] {
  const made: DeviceFunction[] = [];
  const id = () => elementId(`f${made.length + 1}`);
  const secondaryOf = () => secondaryA;
  for (const node of nodes)
    if (node.class === 'PTOC' || node.class === 'PIOC') {
      const fresh = familyNamed('overcurrent').fresh(id(), codeOf(node, told), input) as OvercurrentFunction;
      made.push(...laidOn([{ ...fresh, enabled: true }], [node], secondaryOf, told));
    } else if (node.class === 'PDIF') {
      const fresh = familyNamed('differential').fresh(id(), /^87[LTNBGM]/.exec(node.description)?.[0] ?? '87L', input);
      made.push(...laidOn([fresh], [node], secondaryOf, told));
    }
  const zones = nodes.filter((node) => node.class === 'PDIS').slice(0, 5);
  if (zones.length > 0) {
    const fresh = familyNamed('distance').fresh(id(), '21', input) as DistanceFunction;
    const [pattern] = fresh.zones;
    const all = {
      ...fresh,
      zones: zones.map((_, k) => fresh.zones[k] ?? { ...pattern, name: String(k + 1) as DistanceZone['name'] }),
    };
    made.push(...laidOn([all], zones, secondaryOf, told));
  }
  return made;
}

/** What is measured stands in no data object: the file's own word, else phases. */
function codeOf(node: LogicalNode, told: Told): FunctionCode {
  const said = /^(51LR|51V|5[01][NG]?|67N?|46)$/.exec(node.description.trim())?.[0];
  if (said) return said as FunctionCode;
  const isEarth = /n$|^(n|g|e)|earth|ground|gnd|res/i.test(`${node.prefix} ${node.description}`.trim());
  told.assumed(`${node.class}: measures ${isEarth ? 'earth' : 'phase'} currents, by its name`);
  return node.class === 'PIOC' ? (isEarth ? '50N' : '50') : isEarth ? '51N' : '51';
}

function textOf({ objects }: LogicalNode, name: string): string | undefined {
  return objects.find((each) => each.name === name)?.value;
}

function numberOf(node: LogicalNode, name: string, told: Told): number | undefined {
  const text = textOf(node, name);
  if (text === undefined || text === '') return undefined;
  const value = Number(text);
  if (Number.isFinite(value)) return value;
  told.wrong(`${node.class}${node.instance} ${name}: "${text.slice(0, 40)}" is no number`);
  return undefined;
}

const secondsOf = (node: LogicalNode, name: string, told: Told): number | undefined => {
  const ms = numberOf(node, name, told);
  return ms === undefined ? undefined : ms / 1000;
};

const enabledBy = (node: LogicalNode): boolean | undefined => {
  const text = textOf(node, 'Mod')?.toLowerCase();
  return text === 'on' || text === '1' ? true : text === 'off' || text === '5' ? false : undefined;
};

/** Above so many times the rated secondary current it is no secondary current. */
const mostSecondary = 40;

function overcurrentWith(
  fn: OvercurrentFunction,
  node: LogicalNode,
  secondaryA: number,
  told: Told,
): OvercurrentFunction {
  const ampere = numberOf(node, 'StrVal', told);
  const unit = node.objects.find(({ name }) => name === 'StrVal')?.unit;
  let pickup: number | undefined;
  if (ampere !== undefined) {
    pickup = unit === 'A' ? ampere / secondaryA : ampere;
    if (pickup > mostSecondary) {
      told.left(`${node.class}${node.instance}: ${ampere} is no secondary current, and is not taken`);
      pickup = undefined;
    } else if (unit !== 'A') told.assumed('pickups without a unit are multiples of the rated current');
  }
  const number = numberOf(node, 'TmACrv', told);
  const characteristic = number === undefined ? undefined : characteristicOf(number);
  if (number !== undefined && !characteristic)
    told.left(`characteristic ${number} of IEC 61850-7-3 has no counterpart`);
  const [tm, delayS, enabled] = [numberOf(node, 'TmMult', told), secondsOf(node, 'OpDlTmms', told), enabledBy(node)];
  const looks = directionOf(textOf(node, 'DirMod') ?? '');
  return {
    ...fn,
    ...(enabled !== undefined && { enabled }),
    ...(pickup !== undefined && { pickup: Number(pickup.toPrecision(10)) }),
    ...(characteristic && { characteristic }),
    ...(tm !== undefined && tm > 0 && { timeMultiplier: tm }),
    ...(delayS !== undefined && { delayS }),
    ...(fn.direction && looks && looks !== 'both' && { direction: { ...fn.direction, looks } }),
  };
}

function zoneWith(zone: DistanceZone, node: LogicalNode, told: Told): DistanceZone {
  const of = (name: string) => numberOf(node, name, told);
  const [reach, phase, earth] = [of('PoRch'), of('RisPhRch'), of('RisGndRch')];
  const [delayS, delayEarthS] = [
    secondsOf(node, 'PhDlTmms', told) ?? secondsOf(node, 'OpDlTmms', told),
    secondsOf(node, 'GndDlTmms', told),
  ];
  const [enabled, looks] = [enabledBy(node), directionOf(textOf(node, 'DirMod') ?? '')];
  return {
    ...zone,
    ...(enabled !== undefined && { enabled }),
    // One reach is told for both kinds of loops: they stay apart where they are apart here.
    ...(reach !== undefined &&
      reach >= 0 && { reachOhm: reach, ...(zone.reachEarthOhm === zone.reachOhm && { reachEarthOhm: reach }) }),
    ...(phase !== undefined && phase >= 0 && { resistanceOhm: phase }),
    ...(earth !== undefined && earth >= 0 && { resistanceEarthOhm: earth }),
    ...(delayS !== undefined && { delayS }),
    ...(delayEarthS !== undefined && { delayEarthS }),
    ...(looks && { looks }),
  };
}

function differentialWith(fn: DifferentialFunction, node: LogicalNode, told: Told): DifferentialFunction {
  const [low, high, delayS, enabled] = [
    numberOf(node, 'LoSet', told),
    numberOf(node, 'HiSet', told),
    secondsOf(node, 'MinOpTmms', told),
    enabledBy(node),
  ];
  return {
    ...fn,
    ...(enabled !== undefined && { enabled }),
    ...(low !== undefined && { pickup: low }),
    ...(high !== undefined && { unrestrained: high }),
    ...(delayS !== undefined && { delayS }),
  };
}
