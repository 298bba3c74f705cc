/** Let-through energy of miniature circuit breakers of energy-limiting class 3 (EN 60898-1, annex ZA, as remembered): by type, rated current and rated capacity. */
import type { MiniatureFunction } from './schema';

/** A²s up to 16 A and up to 32 A. */
const class3: Partial<
  Readonly<Record<MiniatureFunction['type'], Readonly<Record<6 | 10, readonly [number, number]>>>>
> = {
  B: { 6: [35_000, 45_000], 10: [70_000, 90_000] },
  C: { 6: [42_000, 55_000], 10: [84_000, 110_000] },
};

/** Null where no class is listed: above 32 A, of type D, above 10 kA. */
export function class3LimitA2s(type: MiniatureFunction['type'], ratedA: number, capacityKa: number): number | null {
  if (ratedA > 32 || capacityKa > 10) return null;
  return class3[type]?.[capacityKa <= 6 ? 6 : 10][ratedA <= 16 ? 0 : 1] ?? null;
}
