/** What fits where: a type's ratings against the voltage, the service current and the fault current of a place. */
import { faultsThrough, largestBreaking } from '../checks/equipment/breaking';
import { faultsAtBus, largestPeak, largestThermal, type BoardFault } from '../checks/equipment/withstand';
import { ratedCurrentOf, runOf } from '../checks/runs';
import { circuitsIn, type FoundCircuit } from '../circuits/find';
import { boardsOf, demandSum, heaviest } from '../lowVoltage/demand';
import type { Condition } from '../model/condition';
import { kinds, nameOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { nextBreakingKa, nextPeakKa, nextPrimaryA, nextRatedCurrentA } from '../model/standardSizes';
import { find, nameIn, settingsOf, type Network } from '../model/network';
import type { Relay } from '../model/protection';
import type { Studies } from '../studies/studies';
import type { LibraryEntry } from './entry';
import { relayMisfits } from './relayType';
import { secondaryIn } from './use';

/** What a place asks of equipment. */
export interface Demands {
  /** Nominal voltages at its terminals, in kV; null where nothing tells. */
  readonly nominalKv: readonly (number | null)[];
  /** Largest rated current of what hangs on the same run, and of what. */
  readonly service: { readonly ampere: number; readonly of: string } | null;
  /** Largest initial fault current over all conditions, in kA. */
  readonly fault: { readonly kA: number; readonly condition: ElementId } | null;
  /** In every condition: faults at a bus, or what flows through a switch or current transformer. */
  readonly withstands?: { readonly faults: readonly BoardFault[]; readonly frequencyHz: number };
  /** A relay with its functions, and the secondary current of each one's CT. */
  readonly relay?: { readonly element: Relay; readonly secondaryA: Readonly<Record<string, number>> };
}

export function demandsAt(studies: Studies, conditions: readonly Condition[], id: ElementId): Demands | null {
  const { network } = studies;
  const { topology } = studies.max.assembly;
  const element = network.elements.get(id);
  if (!element) return null;
  const nominalKv = Array.from({ length: kinds[element.kind].terminals }, (_, terminal) => {
    const node = topology.nodeAt(id, terminal);
    return node === undefined ? null : topology.nodes[node].nominalKv;
  });
  const onRun = element.kind === 'switch' || element.kind === 'currentTransformer' ? runOf(network, id).others : [];
  const currents = onRun.flatMap(({ element: other, terminal }) => {
    const ampere = ratedCurrentOf(other, terminal);
    return ampere === null ? [] : [{ ampere, of: nameOf(other) }];
  });
  const circuit = circuitsIn(network).find(({ switches }) => switches.includes(id));
  if (circuit) currents.push(designOf(network, circuit));
  const service = currents.sort((p, q) => q.ampere - p.ampere)[0] ?? null;
  const context = { network, studies, conditions, memory: new Map<string, unknown>() };
  const fault = element.kind === 'switch' ? largestBreaking(context, element) : null;
  const faults =
    element.kind === 'bus'
      ? faultsAtBus(context, id)
      : element.kind === 'switch' || element.kind === 'currentTransformer'
        ? faultsThrough(context, id).map(({ condition, kind, ikA, ipA, kappa, rOverX }) => ({
            ...{ ikA, ipA, kappa, rOverX },
            deciding: { condition, kind },
          }))
        : [];
  if (faults.length > 0)
    return { nominalKv, service, fault, withstands: { faults, frequencyHz: settingsOf(network).frequencyHz } };
  if (element.kind !== 'relay') return { nominalKv, service, fault };
  const secondaryOf = secondaryIn(network, element);
  const secondaryA = Object.fromEntries(element.functions.map((fn) => [fn.id, secondaryOf(fn)]));
  return { nominalKv, service, fault, relay: { element, secondaryA } };
}

/** Design current of a low-voltage circuit, in the phase that carries most. */
function designOf(network: Network, { board, ends }: FoundCircuit): { ampere: number; of: string } {
  const u0 = (1000 * find(network, 'bus', board)!.nominalKv) / Math.sqrt(3);
  const { ampere } = heaviest(demandSum(ends.map(boardsOf(network).demandBehind)), u0);
  return { ampere, of: ends.map((end) => nameIn(network, end)).join(', ') };
}

export interface Fit {
  readonly what: 'voltage' | 'service current' | 'fault current' | 'peak current' | 'short-time current' | 'functions';
  readonly fits: boolean;
  readonly message: string;
  /** The next standard size that would, as text. */
  readonly next: string | null;
}

/** Rated and nominal voltage of machines, transformers and instrument transformers may differ so far. */
const voltageTolerance = 0.13;
const digits = (value: number) => Number(value.toPrecision(4));

/** Each thing that is compared. A type without a rating for it says nothing about it. */
export function fitsOf(entry: LibraryEntry, { nominalKv, service, fault, withstands, relay }: Demands): Fit[] {
  const { data, for: kind } = entry;
  const fits: Fit[] = [];
  const number = (key: string) => (typeof data[key] === 'number' ? (data[key] as number) : null);
  const level = nominalKv[0] ?? null;
  const put = (what: Fit['what'], holds: boolean, message: string, next: string | null = null) =>
    fits.push({ what, fits: holds, message, next: holds ? null : next });
  if (relay) {
    const misfits = relayMisfits(relay.element, entry, ({ id }) => relay.secondaryA[id] ?? 1);
    if (misfits.length === 0) put('functions', true, 'has all functions in use and takes their settings');
    for (const misfit of misfits) put('functions', false, misfit);
  }
  if (kind === 'switch' || kind === 'bus') {
    const ratedKv = number('ratedKv');
    if (ratedKv !== null && level !== null)
      put('voltage', ratedKv >= level, `rated voltage ${ratedKv} kV, network ${level} kV`, nextVoltage(level));
    // Far above what is needed is no misfit, but not what stands here either.
    if (ratedKv !== null && level !== null && ratedKv > 4 * level)
      put('voltage', false, `made for ${ratedKv} kV, far above ${level} kV`, nextVoltage(level));
  } else {
    const own = [
      ['hvKv', 0],
      ['lvKv', 1],
      ['ratedKv', 0],
      ['primaryKv', 0],
    ] as const;
    for (const [key, terminal] of own) {
      const rated = number(key);
      const here = nominalKv[terminal] ?? null;
      if (rated !== null && here !== null)
        put(
          'voltage',
          Math.abs(rated - here) <= voltageTolerance * here,
          `rated voltage ${rated} kV, network ${here} kV`,
        );
    }
  }
  const rated = number(kind === 'currentTransformer' ? 'primaryA' : 'ratedA');
  if (rated !== null && service)
    put(
      'service current',
      rated >= service.ampere,
      `${rated} A, rated current of ${service.of} ${digits(service.ampere)} A`,
      `${kind === 'currentTransformer' ? nextPrimaryA(service.ampere) : nextRatedCurrentA(service.ampere, data.type === 'fuse' ? 'fuse' : 'other')} A`,
    );
  const breaking = number('breakingKa');
  if (breaking !== null && fault)
    put(
      'fault current',
      breaking >= fault.kA,
      `breaking capacity ${breaking} kA, Ik″ ${digits(fault.kA)} kA`,
      `${nextBreakingKa(fault.kA)} kA`,
    );
  const peaks = { bus: 'peakKa', switch: 'makingKa', currentTransformer: 'dynamicKa' } as const;
  const peak = number(peaks[kind as keyof typeof peaks] ?? '');
  const [shortTime, durationS] = [number('shortTimeKa'), number('shortTimeS')];
  if (withstands && peak !== null) {
    const { kA } = largestPeak(withstands.faults);
    const says = { bus: 'peak withstand', switch: 'making current', currentTransformer: 'dynamic current' }[
      kind as keyof typeof peaks
    ];
    put('peak current', peak >= kA, `${says} ${digits(peak)} kA, ip ${digits(kA)} kA`, `${nextPeakKa(kA)} kA`);
  }
  if (withstands && shortTime !== null && durationS !== null) {
    const { kA } = largestThermal(withstands.faults, withstands.frequencyHz, durationS);
    put(
      'short-time current',
      shortTime >= kA,
      `short-time withstand ${shortTime} kA for ${durationS} s, Ith ${digits(kA)} kA`,
      `${nextBreakingKa(kA)} kA`,
    );
  }
  return fits;
}

/** Rated voltages of switchgear (IEC 62271-1, 5.2, and low voltage). */
const ratedVoltages = [0.69, 3.6, 7.2, 12, 17.5, 24, 36, 52, 72.5, 100, 123, 145, 170, 245, 300, 362, 420, 550, 800];
const nextVoltage = (kv: number): string | null => {
  const next = ratedVoltages.find((each) => each >= kv);
  return next === undefined ? null : `${next} kV`;
};
