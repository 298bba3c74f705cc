/**
 * What made a figure differ between two states: the changes applied one at a time, and their effects averaged over the orders in which they can come (the
 * Shapley value of cooperative games). The shares of all changes add up to the whole difference, whatever the changes do to each other.
 */
import { seededNumbers } from '../working/random';
import { applyChanges, type Change } from '../model/changes';
import { alterationFields, type Alterations, type Condition } from '../model/condition';
import { changesBetween, differences } from '../model/difference';
import { nameOf } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import { differsElectrically } from './electrical';

/** One change, which can be made or not. */
export interface Factor {
  readonly key: string;
  readonly text: string;
  readonly element: ElementId | null;
}

export interface Cause extends Factor {
  /** What it adds to the figure, averaged over the orders. */
  readonly share: number;
  /** Standard error of the share where orders were sampled; 0 where all of them were gone through. */
  readonly uncertainty: number;
}

export interface Causes {
  readonly before: number;
  readonly after: number;
  readonly causes: readonly Cause[];
  /** Orders gone through: all of them, or so many drawn. */
  readonly orders: number;
  readonly sampled: boolean;
}

/** Up to so many changes all subsets are computed, which covers every order. */
const mostExact = 8;
const sampledOrders = 60;

/**
 * `value` gives the figure with some of the factors made, as a bit for each in their order; it is asked for every set once. Yields the share that is done.
 * Null where the figure does not exist at both ends. Sampled orders are drawn from `seed`.
 */
export function* causesOf(
  factors: readonly Factor[],
  value: (made: ReadonlySet<number>) => number | null,
  seed = 1,
): Generator<number, Causes | null> {
  const n = factors.length;
  const known = new Map<string, number | null>();
  const valueOf = (made: ReadonlySet<number>): number | null => {
    const key = [...made].sort((p, q) => p - q).join();
    let result = known.get(key);
    if (result === undefined) known.set(key, (result = value(made)));
    return result;
  };
  const [before, after] = [valueOf(new Set()), valueOf(new Set(factors.keys()))];
  if (before === null || after === null) return null;
  // A set in which the figure does not exist (no supply in between) counts as nought.
  const at = (made: ReadonlySet<number>) => valueOf(made) ?? 0;
  const sums = new Float64Array(n);
  const squares = new Float64Array(n);
  const exact = n <= mostExact;
  let orders = 0;
  if (exact) {
    orders = factorial(n);
    const weight = Array.from({ length: n }, (_, size) => (factorial(size) * factorial(n - size - 1)) / factorial(n));
    for (let set = 0; set < 1 << n; set++) {
      const made = new Set([...factors.keys()].filter((k) => (set >> k) & 1));
      for (let k = 0; k < n; k++)
        if (!made.has(k)) sums[k] += weight[made.size] * (at(new Set([...made, k])) - at(made));
      yield (set + 1) / (1 << n);
    }
  } else {
    const random = seededNumbers(seed);
    for (let run = 0; run < sampledOrders; run++) {
      // An order and the same backwards: what changes do to each other cancels sooner.
      const order = shuffled(n, random);
      for (const way of [order, [...order].reverse()]) {
        const made = new Set<number>();
        let last = before;
        for (const k of way) {
          made.add(k);
          const here = at(made);
          sums[k] += here - last;
          squares[k] += (here - last) ** 2;
          last = here;
        }
        orders++;
      }
      yield (run + 1) / sampledOrders;
    }
  }
  const causes = factors.map((factor, k): Cause => {
    const share = exact ? sums[k] : sums[k] / orders;
    const variance = exact ? 0 : Math.max(0, squares[k] / orders - share ** 2);
    return { ...factor, share, uncertainty: Math.sqrt(variance / Math.max(orders - 1, 1)) };
  });
  causes.sort((p, q) => Math.abs(q.share) - Math.abs(p.share));
  return { before, after, causes, orders, sampled: !exact };
}

const factorial = (n: number): number => (n <= 1 ? 1 : n * factorial(n - 1));

function shuffled(n: number, random: () => number): number[] {
  const order = Array.from({ length: n }, (_, k) => k);
  for (let k = n - 1; k > 0; k--) {
    const other = Math.floor(random() * (k + 1));
    [order[k], order[other]] = [order[other], order[k]];
  }
  return order;
}

/** What one condition has that another has not, field by field and element by element; and how to make a condition with some of it. */
export function conditionFactors(network: Network, before: Condition, after: Condition) {
  const factors: Factor[] = [];
  const makes: ((condition: Condition) => Condition)[] = [];
  if (before.sources !== after.sources) {
    factors.push({ key: 'sources', text: `${after.sources} sources`, element: null });
    makes.push((condition) => ({ ...condition, sources: after.sources }));
  }
  type Entry = ElementId | { readonly element: ElementId };
  const idOf = (entry: Entry) => (typeof entry === 'string' ? entry : entry.element);
  const touched = new Map<ElementId, (keyof Alterations)[]>();
  for (const field of alterationFields) {
    const [p, q] = [before[field] as readonly Entry[], after[field] as readonly Entry[]];
    const same = (x: Entry, y: Entry) => JSON.stringify(x) === JSON.stringify(y);
    const ids = [...p.filter((x) => !q.some((y) => same(x, y))), ...q.filter((x) => !p.some((y) => same(x, y)))].map(
      idOf,
    );
    for (const id of new Set(ids)) touched.set(id, [...(touched.get(id) ?? []), field]);
  }
  for (const [id, fields] of touched) {
    const element = network.elements.get(id);
    const says = (condition: Condition) =>
      fields
        .flatMap((field) =>
          (condition[field] as readonly Entry[]).filter((each) => idOf(each) === id).map(() => wordOf[field]),
        )
        .join(', ');
    factors.push({
      key: id,
      text: `${element ? nameOf(element) : id} ${says(after) || `no longer ${says(before)}`}`,
      element: id,
    });
    makes.push((condition) => ({
      ...condition,
      ...Object.fromEntries(
        fields.map((field) => [
          field,
          [
            ...(condition[field] as readonly Entry[]).filter((each) => idOf(each) !== id),
            ...(after[field] as readonly Entry[]).filter((each) => idOf(each) === id),
          ],
        ]),
      ),
    }));
  }
  return {
    factors,
    /** The condition before with some of the changes made. */
    with: (made: ReadonlySet<number>): Condition =>
      [...made].reduce((condition, k) => makes[k](condition), { ...before } as Condition),
  };
}

const wordOf: Readonly<Record<keyof Alterations, string>> = {
  open: 'open',
  closed: 'closed',
  out: 'out of service',
  earthed: 'earthed for work',
  stopped: 'not running',
  running: 'running',
  taps: 'tap moved',
  voltages: 'voltage set',
};

/**
 * What one state of a network has that another has not, element by element, as far as currents go. What is added or removed goes together with the
 * connections that it takes along.
 */
export function networkFactors(before: Network, after: Network) {
  const changes = changesBetween(before, after);
  const owners = new Map<string, Change[]>();
  for (const change of changes) {
    const id = change.op === 'remove' ? change.id : change.element.id;
    if (!differsElectrically(before.elements.get(id), after.elements.get(id))) continue;
    owners.set(ownerOf(id, before, after), [...(owners.get(ownerOf(id, before, after)) ?? []), change]);
  }
  const told = new Map(differences(before, after).map((each) => [each.id as string, each]));
  const factors = [...owners.keys()].map((key): Factor => {
    const each = told.get(key);
    const element = after.elements.get(key as ElementId) ?? before.elements.get(key as ElementId);
    return {
      key,
      text: `${element ? nameOf(element) : 'connections'} ${each?.what ?? 'changed'}`,
      element: element ? element.id : null,
    };
  });
  const groups = [...owners.values()];
  return {
    factors,
    /** The network before with some of the changes made; null where they do not go together. */
    with(made: ReadonlySet<number>): Network | null {
      const batch = [...made].sort((p, q) => p - q).flatMap((k) => groups[k]);
      const order = { remove: 0, update: 1, add: 2 };
      const applied = applyChanges(
        before,
        batch.sort((p, q) => order[p.op] - order[q.op]),
      );
      return applied.ok ? applied.network : null;
    },
  };
}

/** A connection belongs to what was added or removed at one of its ends; else to nothing but connections. */
function ownerOf(id: ElementId, before: Network, after: Network): string {
  const element = after.elements.get(id) ?? before.elements.get(id);
  if (element?.kind !== 'connection') return id;
  for (const end of [element.from, element.to])
    if (before.elements.has(end.element) !== after.elements.has(end.element)) return end.element;
  return 'connections';
}
