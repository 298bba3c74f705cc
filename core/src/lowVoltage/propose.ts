/** Proposals for a circuit: the smallest section with the device that meet everything, with the reasons; the longest cable with what is there. */
import { circuitsIn } from '../circuits/find';
import { cableInsulations, cableMetals, sections } from '../circuits/ampacity';
import type { Line } from '../model/branches';
import type { Condition } from '../model/condition';
import { usualLaying } from '../model/circuit';
import type { Element } from '../model/element';
import { elementId, type ElementId } from '../model/fields';
import { find, settingsOf, type Network } from '../model/network';
import type { Switch } from '../model/switching';
import type { Studies } from '../studies/studies';
import { clearsAfter } from '../protection/device';
import { linkSizes } from '../protection/fuse/link';
import { miniatureSizes } from '../protection/miniature';
import { class3LimitA2s } from '../protection/miniature/limit';
import { familyNamed } from '../protection/registry';
import type { DeviceFunction, FunctionOf } from '../protection/schemas';
import { cableValues, withLength, withSectionOf } from './cable';
import { caseMaker, mainOf, type CircuitCase } from './case';
import { guardWith } from './guards';
import { judged, withCable, withGuard, type Criterion, type Judgement } from './judge';
import { keyOf } from './study';

/** What may be chosen anew. */
export interface Free {
  readonly section: boolean;
  readonly device: boolean;
}

export interface ProposedOption {
  /** Of the main cable; null: it stays. */
  readonly sectionMm2: number | null;
  /** Told as "C16"; null: it stays. */
  readonly device: string | null;
  /** Residual-current device that is added, A. */
  readonly residualA: number | null;
  /** What the next smaller section does not meet with this device; null where there is none. */
  readonly smallerMisses: { readonly sectionMm2: number; readonly criteria: readonly Criterion[] } | null;
  /** The same of the next smaller device with this section. */
  readonly deviceMisses: { readonly device: string; readonly criteria: readonly Criterion[] } | null;
  /** What stays unmet all the same. */
  readonly left: readonly Criterion[];
  /** Elements as they are then. */
  readonly elements: readonly Element[];
  readonly judgement: Pick<
    Judgement,
    'designA' | 'ownPercent' | 'endEarth' | 'endShort' | 'requiredS' | 'checks' | 'binding' | 'upstreamPercent'
  > & { readonly ampacityA: number | null; readonly timeS: number | null };
}

export interface CircuitProposal {
  readonly key: ElementId;
  /** What is not met now. */
  readonly short: readonly Criterion[];
  /** The first is proposed; more: another way to the same. Empty where none was found. */
  readonly options: readonly ProposedOption[];
  /** Metres that the main cable may be long with the section and device that it has; null: not even a short one holds; undefined: no cable. */
  readonly longestM: number | null | undefined;
}

/** Criteria that neither the section nor the rated current of the device changes. */
const fixed: ReadonlySet<Criterion> = new Set<Criterion>(['breaking']);

/** What is missed, or doubtful; what is not known cannot be met by trying. */
export const missed = ({ checks }: Pick<Judgement, 'checks'>): Criterion[] =>
  checks.flatMap(({ criterion, verdict }) => (verdict === 'short' || verdict === 'doubtful' ? [criterion] : []));

interface Candidate {
  readonly label: string;
  /** Null: the circuit has no switch. */
  readonly element: Switch | null;
  readonly given: CircuitCase;
  /** Of the residual-current device that it adds, A. */
  readonly residualA?: number;
}

/** So many sizes above the design current are tried: a motor's start may ask for two or three more. */
const sizesTried = 6;
/** Largest rated current of a miniature breaker that is proposed for a new circuit. */
const largestMiniatureA = 63;

/** Switch whose device is chosen: the first that has one, else the first that could have one. */
const switchOf = ({ switches, guards }: CircuitCase): Switch | null =>
  switches.find(({ id, functions }) => functions.length > 0 && guards.some(({ at }) => at === id)) ??
  switches.find(({ type, functions }) => functions.length === 0 && (type === 'breaker' || type === 'fuse')) ??
  null;

const withDevice = (given: CircuitCase, element: Switch, label: string): Candidate => ({
  label,
  element,
  given: withGuard(
    given,
    element,
    guardWith(element, element.functions, element.type === 'fuse' ? 0 : clearsAfter(element.openingTimeS)),
  ),
});

/** Short-circuit capacities as devices are commonly made, kA (IEC 60898-1, 5.3; IEC 60269-2). */
const miniatureCapacities = [6, 10, 15, 25];
const fuseCapacities = [50, 120];

/** Devices of the kind that is there, from the smallest that carries the design current. */
function candidates(given: CircuitCase, { designA, boardMax, boardEarth }: Judgement): Candidate[] {
  const own = switchOf(given);
  if (!own) return [];
  const others = (family: DeviceFunction['family']) => own.functions.filter((fn) => fn.family !== family);
  // Where nobody has said what it breaks, the next standard capacity above the current at the board.
  const largestKa = Math.max(boardMax?.ampere ?? 0, boardEarth?.ampere ?? 0) / 1000;
  const breaks = (capacities: readonly number[]): number | null =>
    own.breakingKa ?? (largestKa > 0 ? (capacities.find((each) => each >= largestKa) ?? capacities.at(-1)!) : null);
  const put = (fn: DeviceFunction, ratedA: number, breakingKa: number | null, label: string): Candidate =>
    withDevice(
      given,
      { ...own, ratedA, breakingKa, functions: [fn, ...others(fn.family)] } as Switch,
      breakingKa !== null && own.breakingKa === null ? `${label}, ${breakingKa} kA` : label,
    );
  /** A holder may be larger than its link. */
  const atLeast = (ratedA: number): number => Math.max(own.ratedA ?? 0, ratedA);
  const sizes = (list: readonly number[]) => list.filter((each) => each >= designA).slice(0, sizesTried);
  const id = (variant: string) => elementId(`${own.id}-${variant}`.slice(0, 64));

  const fuse = own.functions.find((fn): fn is FunctionOf<'fuse'> => fn.family === 'fuse');
  if (fuse || own.type === 'fuse') {
    const base = fuse ?? familyNamed('fuse').fresh(id('fuse'), 'gG', null);
    if (base.points) return [];
    return sizes(linkSizes[base.class]).map((linkA) =>
      put({ ...base, linkA, origins: undefined }, atLeast(linkA), breaks(fuseCapacities), `${base.class} ${linkA} A`),
    );
  }
  const release = own.functions.find((fn): fn is FunctionOf<'release'> => fn.family === 'release');
  if (release) {
    const least = Math.ceil((100 * designA) / release.ratedA - 1e-9) / 100;
    if (least > 1) return [];
    const ir = Math.max(0.4, least);
    const magnetic = [...new Set([release.ii, 10, 8, 6, 5, 4, 3])].filter((ii) => ii <= Math.max(release.ii, 10));
    return magnetic.map((ii) =>
      put(
        { ...release, ir, ii, origins: undefined },
        atLeast(release.ratedA),
        own.breakingKa,
        `Ir ${ir} × ${release.ratedA} A, Ii ${ii} × In`,
      ),
    );
  }
  // A motor's overload relay or what else protects it stays as it is.
  const miniature = own.functions.find((fn): fn is FunctionOf<'miniature'> => fn.family === 'miniature');
  if (!miniature && (own.functions.some(({ family }) => family !== 'residual') || designA > largestMiniatureA))
    return [];
  const base = miniature ?? familyNamed('miniature').fresh(id('miniature'), 'C', null);
  const capacityKa = breaks(miniatureCapacities);
  return sizes(miniatureSizes).flatMap((ratedA) =>
    (['C', 'B', 'D'] as const).map((type) =>
      put(
        {
          ...base,
          type,
          ratedA,
          limitA2s:
            base.type === type && base.ratedA === ratedA && base.limitA2s !== null
              ? base.limitA2s
              : class3LimitA2s(type, ratedA, capacityKa ?? 10),
          origins: undefined,
        },
        ratedA,
        capacityKa,
        `${type}${ratedA}`,
      ),
    ),
  );
}

/** The candidate with a residual-current device in its switch; null where it cannot have one. */
function guardedBy({ label, element, given }: Candidate): Candidate | null {
  if (element?.type !== 'breaker' || element.functions.some(({ family }) => family === 'residual')) return null;
  const { system, raOhm } = given.installation;
  // Sockets have 30 mA in any case (IEC 60364-4-41, 411.3.3); others the largest that the electrode allows.
  const residualA = given.hasSockets
    ? 0.03
    : ([0.3, 0.1, 0.03].find((each) => system !== 'TT' || each * raOhm <= 50) ?? null);
  if (residualA === null) return null;
  const fn = {
    ...familyNamed('residual').fresh(elementId(`${element.id}-rcd`.slice(0, 64)), 'general', null),
    ratedResidualA: residualA,
  };
  return { ...withDevice(given, { ...element, functions: [...element.functions, fn] } as Switch, label), residualA };
}

interface Tried {
  readonly sectionMm2: number | null;
  readonly given: CircuitCase;
  readonly judgement: Judgement;
  readonly left: Criterion[];
  readonly below: { readonly sectionMm2: number; readonly criteria: readonly Criterion[] } | null;
  readonly isStrict: boolean;
}

/** What is doubtful for want of data of the device does not ask for more copper; it is told. A device that may trip while the motor starts is no choice as long as there is another. */
const leftOf = ({ checks }: Judgement, isStrict: boolean): Criterion[] =>
  checks.flatMap(({ criterion, verdict }) =>
    (verdict === 'short' || (isStrict && criterion === 'start' && verdict === 'doubtful')) && !fixed.has(criterion)
      ? [criterion]
      : [],
  );

/** The smallest section that leaves nothing unmet that a section can meet; null where none does. */
function smallest(given: CircuitCase, isFree: boolean, isStrict: boolean): Tried | null {
  const k = mainOf(given);
  const as = (of: CircuitCase, sectionMm2: number | null, below: Tried['below']): Tried => {
    const judgement = judged(of);
    return { sectionMm2, given: of, judgement, left: leftOf(judgement, isStrict), below, isStrict };
  };
  if (k < 0 || !isFree) {
    const tried = as(given, null, null);
    return tried.left.length === 0 ? tried : null;
  }
  let below: Tried['below'] = null;
  for (const sectionMm2 of sections) {
    const cable = withSectionOf(given.cables[k].cable, sectionMm2);
    if (!cable) continue;
    const tried = as(withCable(given, k, cable), sectionMm2, below);
    const unknown = tried.judgement.checks.some(
      ({ criterion, verdict }) => verdict === 'unknown' && (criterion === 'overload' || criterion === 'heat'),
    );
    if (unknown) continue;
    if (tried.left.length === 0) return tried;
    below = { sectionMm2, criteria: tried.left };
  }
  return null;
}

/** The case with what a proposal needs to know of its main cable: where nothing is said, it lies as cables usually do. */
function ready(given: CircuitCase): CircuitCase {
  const k = mainOf(given);
  if (k < 0) return given;
  const { cable } = given.cables[k];
  if (cable.laying && cable.metal && cable.insulation) return given;
  return withCable(given, k, {
    ...cable,
    laying: cable.laying ?? usualLaying,
    metal: cable.metal ?? cableMetals[0],
    insulation: cable.insulation ?? cableInsulations[1],
  });
}

export function proposedFor(network: Network, stored: CircuitCase, free: Free): CircuitProposal {
  const now = judged(stored);
  const given = ready(stored);
  const device = switchOf(given);
  const isLocked = device !== null && settingsOf(network).lockedDevices.includes(device.id);
  const stays: Candidate[] = [{ label: '', element: device, given }];
  const list = free.device && !isLocked ? candidates(given, now) : [];
  const all = list.length > 0 ? list : stays;
  // No class limits what type D lets through: it is for what B and C do not let start.
  const usual = all.filter(({ label }) => !/^D\d/.test(label));
  const options: ProposedOption[] = [];

  const option = ({ candidate, tried, rank, pool }: Best, residualA: number | null): ProposedOption => {
    const other = rank > 0 ? pool[rank - 1] : null;
    const k = mainOf(given);
    const otherCase =
      other && (tried.sectionMm2 === null || k < 0 ? other.given : sectionIn(other.given, k, tried.sectionMm2));
    return {
      sectionMm2: tried.sectionMm2,
      device: candidate.label || null,
      residualA,
      smallerMisses: tried.below,
      deviceMisses:
        other && otherCase ? { device: other.label, criteria: leftOf(judged(otherCase), tried.isStrict) } : null,
      left: missed(tried.judgement),
      elements: elementsOf(network, given, candidate.element, tried.sectionMm2),
      judgement: told(tried.judgement, k),
    };
  };
  const plain = best(usual, free.section, true) ?? best(all, free.section, true) ?? best(all, free.section, false);
  if (plain) options.push(option(plain, null));
  // Where the loop alone asks for more copper, or nothing else helps.
  const asks = !plain || plain.tried.below?.criteria.every((each) => each === 'disconnection');
  if (free.device && !isLocked && asks) {
    const guarded = all.flatMap((each) => guardedBy(each) ?? []);
    const other = best(guarded, free.section, true) ?? best(guarded, free.section, false);
    if (other && (!plain || (other.tried.sectionMm2 ?? 0) < (plain.tried.sectionMm2 ?? 0)))
      options.push(option(other, other.candidate.residualA ?? null));
  }
  return { key: keyOf(stored.circuit), short: missed(now), options, longestM: longest(given) };
}

/** Of some circuits, by their keys; those that are not there are left out. */
export function* circuitProposals(
  studies: Studies,
  conditions: readonly Condition[],
  keys: readonly ElementId[],
  free: Free,
): Generator<number, CircuitProposal[]> {
  const wanted = new Set(keys);
  const caseOf = caseMaker(studies, conditions);
  const list = circuitsIn(studies.network).filter((each) => wanted.has(keyOf(each)));
  const proposals: CircuitProposal[] = [];
  for (const circuit of list) {
    proposals.push(proposedFor(studies.network, caseOf(circuit), free));
    yield proposals.length / list.length;
  }
  return proposals;
}

interface Best {
  readonly candidate: Candidate;
  readonly tried: Tried;
  /** Its place among those that it was chosen from. */
  readonly rank: number;
  readonly pool: readonly Candidate[];
}

/** The candidate with the smallest section; of like ones the first. */
function best(pool: readonly Candidate[], isFree: boolean, isStrict: boolean): Best | null {
  let found: Best | null = null;
  for (const [rank, candidate] of pool.entries()) {
    const tried = smallest(candidate.given, isFree, isStrict);
    if (tried && (!found || (tried.sectionMm2 ?? 0) < (found.tried.sectionMm2 ?? 0)))
      found = { candidate, tried, rank, pool };
  }
  return found;
}

const sectionIn = (given: CircuitCase, k: number, sectionMm2: number): CircuitCase | null => {
  const cable = withSectionOf(given.cables[k].cable, sectionMm2);
  return cable && withCable(given, k, cable);
};

const told = (judgement: Judgement, k: number): ProposedOption['judgement'] => {
  const { designA, ownPercent, endEarth, endShort, requiredS, checks, binding, upstreamPercent } = judgement;
  const timeS = judgement.cleared && judgement.cleared.timeS < Infinity ? judgement.cleared.timeS : null;
  return {
    ...{ designA, ownPercent, endEarth, endShort, requiredS, checks, binding, upstreamPercent },
    ampacityA: k < 0 ? null : judgement.capacities[k].ampere,
    timeS,
  };
};

/** Alike in all fields, whatever their order. */
function isSame(p: unknown, q: unknown): boolean {
  if (typeof p !== 'object' || typeof q !== 'object' || p === null || q === null) return p === q;
  const [a, b] = [p as Record<string, unknown>, q as Record<string, unknown>];
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].every((key) => isSame(a[key], b[key]));
}

/** Switch and line as they are with the choice. */
function elementsOf(
  network: Network,
  given: CircuitCase,
  element: Switch | null,
  sectionMm2: number | null,
): Element[] {
  const changed: Element[] = [];
  const stored = element && find(network, 'switch', element.id);
  if (stored && !isSame(stored, element)) changed.push(element);
  const k = mainOf(given);
  if (sectionMm2 !== null && k >= 0) {
    const { cable } = given.cables[k];
    const line = find(network, 'line', cable.element)!;
    const values = cableValues(cable.metal!, cable.insulation!, sectionMm2)!;
    const next = { ...line, ...values, ratedA: null, laying: { ...cable.laying!, peMm2: null } } satisfies Line;
    if (!isSame(line, next)) changed.push(next);
  }
  return changed;
}

/** Lengths that are looked through, m. */
const [shortestM, longestLookedM] = [0.5, 20_000];

/** Of the main cable with its section and its device, to a tenth of a metre downward; by all that a length changes. */
export function longest(given: CircuitCase): number | null | undefined {
  const k = mainOf(given);
  if (k < 0) return undefined;
  const byLength: ReadonlySet<Criterion> = new Set<Criterion>(['drop', 'startDrop', 'disconnection', 'heat', 'heatPe']);
  const { cable } = given.cables[k];
  const holds = (metres: number): boolean =>
    judged(withCable(given, k, withLength(cable, metres))).checks.every(
      ({ criterion, verdict }) => !byLength.has(criterion) || verdict !== 'short',
    );
  if (!holds(shortestM)) return null;
  let [low, high] = [shortestM, longestLookedM];
  if (holds(high)) return high;
  while (high - low > 0.01) {
    const middle = (low + high) / 2;
    if (holds(middle)) low = middle;
    else high = middle;
  }
  return Math.floor(low * 10 + 1e-6) / 10;
}
