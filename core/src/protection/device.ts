/**
 * Protective devices, whatever stands behind them: a relay that measures at current transformers and trips breakers; a fuse, a breaker with a release, a
 * recloser or a motor starter that measures the current through itself and opens itself.
 */
import { nameOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { find, ofKind, withElements, type Network } from '../model/network';
import type { Relay } from '../model/protection';
import type { Switch } from '../model/switching';
import { ownInput, type InputRating, type Quantity, type SeenCurrents, type TimeCurrent } from './family';
import { familyOf } from './registry';
import type { DeviceFunction } from './schemas';

export type DeviceElement = Relay | Switch;

/** A current input of a device. */
export interface DeviceInput {
  readonly id: string;
  /** The current transformer, or the switch itself, through which the current flows. */
  readonly through: ElementId;
  /** Its terminal on the protected side. */
  readonly towards: 0 | 1;
  readonly reversed: boolean;
  readonly rating: InputRating;
  /** At a star point rather than at a current transformer that is drawn: what enters there from earth, or through the windings. */
  readonly star?: { readonly terminal: number; readonly of: 'neutral' | 'winding' };
  /** Of another relay, which sends what it measures. */
  readonly from?: ElementId;
}

export type DeviceKind = 'relay' | 'fuse' | 'release' | 'recloser' | 'motorProtection';

export const deviceKindTitles: Readonly<Record<DeviceKind, string>> = {
  relay: 'Relay',
  fuse: 'Fuse',
  release: 'Breaker with release',
  recloser: 'Recloser',
  motorProtection: 'Motor protection',
};

export interface Device {
  readonly id: ElementId;
  readonly name: string;
  readonly kind: DeviceKind;
  readonly element: DeviceElement;
  /** Current inputs that lead to something. */
  readonly inputs: readonly DeviceInput[];
  readonly functions: readonly DeviceFunction[];
  /** Switches that it opens. */
  readonly opens: readonly ElementId[];
  /** Of the slowest of them, from the trip to the end of the current; what is usual where it is not given. */
  readonly openingS: number;
  /** Voltage transformer that it measures at. */
  readonly voltageAt: {
    readonly element: ElementId;
    readonly reversed: boolean;
    readonly ratedKv: number;
    readonly secondaryV: number;
  } | null;
}

/** Not typed: the time from the trip until contacts part, in seconds. */
export const usualOpeningS = 0.06;
/** From the parting of contacts to the end of the arc, in seconds; typical. */
export const arcingS = 0.015;
/** From the trip command to the end of the current of a breaker, in seconds. */
export const clearsAfter = (openingTimeS: number | null) => (openingTimeS ?? usualOpeningS) + arcingS;

const kindOfSwitch = (device: Switch): DeviceKind =>
  device.type === 'fuse'
    ? 'fuse'
    : device.type === 'recloser'
      ? 'recloser'
      : device.functions.some(({ family }) => family === 'overload') || device.type === 'contactor'
        ? 'motorProtection'
        : 'release';

/** What is there for maintenance alone is out of use. */
const inUse = (functions: readonly DeviceFunction[]): readonly DeviceFunction[] =>
  functions.some(({ maintenance }) => maintenance)
    ? functions.map((fn) => (fn.maintenance ? { ...fn, enabled: false } : fn))
    : functions;

/** The network with the maintenance settings of all devices on; itself where there are none. */
export function inMaintenance(network: Network): Network {
  const changed = [...ofKind(network, 'relay'), ...ofKind(network, 'switch')].flatMap((element): DeviceElement[] =>
    element.functions.some(({ maintenance }) => maintenance)
      ? [
          {
            ...element,
            functions: element.functions.map((fn) => (fn.maintenance ? { ...fn, maintenance: false } : fn)),
          },
        ]
      : [],
  );
  return changed.length === 0 ? network : withElements(network, changed);
}

/** Of a switch alone; networks share what has not changed. */
const ofSwitch = new WeakMap<Switch, Device | null>();

/** An element as a device; null when it is none: a switch without functions of its own. */
export function deviceFrom(network: Network, element: DeviceElement): Device | null {
  if (element.kind !== 'switch') return madeFrom(network, element);
  let device = ofSwitch.get(element);
  if (device === undefined) ofSwitch.set(element, (device = madeFrom(network, element)));
  return device;
}

function madeFrom(network: Network, element: DeviceElement): Device | null {
  const { id } = element;
  const functions = inUse(element.functions);
  const common = { id, name: nameOf(element), element, functions };
  if (element.kind === 'switch') {
    if (functions.length === 0) return null;
    // Multiples of the rated current are those of the switch's own.
    const rating = { primaryA: element.ratedA ?? 1, secondaryA: element.ratedA ?? 1 };
    return {
      ...common,
      kind: kindOfSwitch(element),
      // The lower side of an unturned drawing is the protected one, as with current transformers.
      inputs: [{ id: ownInput, through: id, towards: 1, reversed: false, rating }],
      opens: [id],
      openingS: element.type === 'fuse' ? 0 : clearsAfter(element.openingTimeS),
      voltageAt: null,
    };
  }
  const own = inputsOf(network, element);
  const inputs = [...own, ...functions.flatMap((fn) => inputsHeard(network, fn))];
  const opens = [...new Set(element.circuits.flatMap(({ breakers }) => breakers))];
  const opening = opens.map((breaker) => clearsAfter(find(network, 'switch', breaker)?.openingTimeS ?? null));
  const vt = element.inputs.find(({ type }) => type === 'voltage');
  const measuring = vt && find(network, 'voltageTransformer', vt.element);
  return {
    ...common,
    kind: 'relay',
    inputs,
    opens,
    openingS: opening.length > 0 ? Math.max(...opening) : clearsAfter(null),
    voltageAt: measuring
      ? { element: measuring.id, reversed: vt.reversed, ratedKv: measuring.primaryKv, secondaryV: measuring.secondaryV }
      : null,
  };
}

/** Those at current transformers first: the first of all stands for the device. */
function inputsOf(network: Network, { inputs }: Relay): DeviceInput[] {
  const found = inputs.flatMap(({ id, type, element: at, towards, reversed, star }): DeviceInput[] => {
    if (type === 'voltage' || at === null) return [];
    if (type === 'current') {
      const ct = find(network, 'currentTransformer', at);
      return ct ? [{ id, through: ct.id, towards, reversed, rating: ct }] : [];
    }
    const terminal = star?.side ?? 0;
    const rating = { primaryA: star?.primaryA ?? 1, secondaryA: star?.secondaryA ?? 1 };
    return network.elements.has(at)
      ? [{ id, through: at, towards, reversed, rating, star: { terminal, of: type } }]
      : [];
  });
  return [...found.filter(({ star }) => !star), ...found.filter(({ star }) => star)];
}

/** How the input of another relay is called here. */
export const heardInput = (from: ElementId): string => `from-${from}`;

/** What the relays at the other ends measure with the function that hears of this one. */
function inputsHeard(network: Network, fn: DeviceFunction): DeviceInput[] {
  return (familyOf(fn).hears?.(fn) ?? []).flatMap((id): DeviceInput[] => {
    const relay = find(network, 'relay', id);
    const there = relay?.functions.find((other) => familyOf(other).hears && (other as typeof fn).family === fn.family);
    const at = relay && inputsOf(network, relay).find((input) => input.id === there?.input);
    return at ? [{ ...at, id: heardInput(id), from: id }] : [];
  });
}

/** Networks never change: what has been made of one stands. */
const made = new WeakMap<Network, ReadonlyMap<ElementId, Device>>();

function madeOf(network: Network): ReadonlyMap<ElementId, Device> {
  let devices = made.get(network);
  if (!devices) {
    const all = [
      ...ofKind(network, 'relay').map((relay) => deviceFrom(network, relay)!),
      ...ofKind(network, 'switch').flatMap((element) => deviceFrom(network, element) ?? []),
    ];
    made.set(network, (devices = new Map(all.map((device) => [device.id, device]))));
  }
  return devices;
}

/** The device under this identifier; undefined when there is none. */
export const deviceOf = (network: Network, id: ElementId): Device | undefined => madeOf(network).get(id);

/** All devices: relays, then switches with functions of their own. */
export const devicesOf = (network: Network): Device[] => [...madeOf(network).values()];

/** The input whose current stands for the device: the first one. */
/** The input that a function measures at; its first one where it names none that is there. */
export const inputOf = (device: Device, input: string | null): DeviceInput =>
  device.inputs.find(({ id }) => id === input) ?? device.inputs[0];

export const mainInput = (device: Device): DeviceInput | undefined => device.inputs[0];

/** Functions in use that operate by time over current, in primary amperes of their inputs. */
export const timeCurrents = (device: Device): TimeCurrent[] =>
  device.functions.flatMap((fn) => {
    const input = device.inputs.find(({ id }) => id === (fn.input ?? ownInput));
    return fn.enabled && input ? (familyOf(fn).timeCurrents?.(fn, input.rating) ?? []) : [];
  });

export const currentOf = (seen: SeenCurrents, quantity: Quantity): number =>
  quantity === 'phase' ? seen.phaseA : quantity === 'residual' ? seen.residualA : seen.negativeA;

/** The device with one of its functions replaced; functions that somebody has set are no longer assumed. */
export const withFunction = <E extends DeviceElement>(element: E, fn: DeviceFunction): E =>
  withFunctions(
    element,
    element.functions.map((other) => (other.id === fn.id ? fn : other)),
  );

/** The device with other functions, of which none is assumed. */
export function withFunctions<E extends DeviceElement>(element: E, functions: readonly DeviceFunction[]): E {
  const { assumed, ...rest } = element;
  const left = assumed?.filter((path) => path !== 'functions') ?? [];
  return { ...rest, ...(left.length > 0 && { assumed: left }), functions: [...functions] } as unknown as E;
}
