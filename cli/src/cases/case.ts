/** A reference case, and how its figures are compared. */

export type Figure = number | string | boolean | null;
export type Inputs = Readonly<Record<string, unknown>>;

export interface Tolerance {
  readonly abs?: number;
  readonly rel?: number;
  /** Of angles in degrees. */
  readonly absDeg?: number;
  /** Of times, in seconds. */
  readonly marginS?: number;
  /** Of currents. */
  readonly currentRel?: number;
}

export interface ReferenceCase {
  readonly id: string;
  readonly calc?: string;
  readonly kind?: string;
  readonly inputs?: Inputs;
  readonly project?: string;
  readonly options?: readonly string[];
  readonly expected?: unknown;
  readonly tolerance?: Tolerance | string;
  readonly status?: string;
}

/** One figure of a case: its name, what is expected, what was computed; undefined where the program has no such figure. */
export interface Pair {
  readonly figure: string;
  readonly expected: Figure;
  readonly computed: Figure | undefined;
  /** How far it may be off, where the case says that figure by figure. */
  readonly allowed?: number;
}

export interface Compared {
  readonly id: string;
  readonly figure: string;
  readonly expected: Figure;
  readonly computed: Figure;
  /** Computed less expected. */
  readonly deviation: number | null;
  readonly verdict: 'agrees' | 'differs' | 'not yet computed';
  /** What the case says of its figures: verified, recalled. */
  readonly mark: string;
}

/** Where a case says nothing: its printed digits. */
const usualTolerance: Tolerance = { rel: 1e-4 };

/** In words, as some cases give it: "1e-5 relative", "0.01 % of the line"; null where figures have their own. */
function numeric(tolerance: ReferenceCase['tolerance']): Tolerance {
  if (typeof tolerance !== 'string') return tolerance ?? usualTolerance;
  const [, size, unit] = /^([\d.e-]+)\s*(.*)$/.exec(tolerance) ?? [];
  if (!size) return usualTolerance;
  return unit.startsWith('relative') ? { rel: Number(size) } : { abs: Number(size) };
}

export function compared({ id, status = '', tolerance: given }: ReferenceCase, pair: Pair): Compared {
  const tolerance = numeric(given);
  const { figure, expected } = pair;
  const computed = pair.computed ?? null;
  const numbers = typeof expected === 'number' && typeof computed === 'number';
  return {
    id,
    figure,
    expected,
    computed,
    deviation: numbers ? computed - expected : null,
    verdict:
      pair.computed === undefined ? 'not yet computed' : agrees(pair, computed, tolerance) ? 'agrees' : 'differs',
    mark: status,
  };
}

function agrees({ figure, expected, allowed: own }: Pair, computed: Figure, tolerance: Tolerance): boolean {
  const { abs = 0, rel = 0, absDeg, marginS = 0, currentRel = 0 } = tolerance;
  if (typeof expected !== 'number' || typeof computed !== 'number') return expected === computed;
  const ofAngle = absDeg !== undefined && /deg$/i.test(figure) ? absDeg : 0;
  const ofTime = /S$/.test(figure) ? marginS : 0;
  const ofCurrent = /A$/.test(figure) ? currentRel * Math.abs(expected) : 0;
  if (own !== undefined) return Math.abs(computed - expected) <= own;
  // Small figures are given by few digits.
  const decimals = String(expected).split('.')[1]?.length ?? 0;
  const printed = decimals >= 6 ? 0.5 * 10 ** -decimals : 0;
  const allowed = Math.max(abs, ofAngle, ofTime, ofCurrent, printed, rel * Math.abs(expected), 1e-12);
  return Math.abs(computed - expected) <= allowed;
}

/** Words about a case rather than figures of it. */
const words = ['note', 'unit', 'title'];

/** The figures of an expectation beside those that were computed, leaf by leaf: "branches.2.fromMw". */
export function pairsOf(expected: unknown, computed: unknown, path = ''): Pair[] {
  if (expected === null || typeof expected !== 'object') {
    const value = computed === null || typeof computed !== 'object' ? (computed as Figure | undefined) : undefined;
    return [{ figure: path, expected: expected as Figure, computed: value }];
  }
  return Object.entries(expected).flatMap(([key, value]) =>
    words.includes(key)
      ? []
      : pairsOf(value, (computed as Record<string, unknown> | null | undefined)?.[key], path ? `${path}.${key}` : key),
  );
}
