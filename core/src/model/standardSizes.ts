/** Preferred values of ratings: the R10 series (ISO 3), as IEC 60059 takes it for currents and IEC 62271-100 for breaking currents. */

const r10 = [1, 1.25, 1.6, 2, 2.5, 3.15, 4, 5, 6.3, 8] as const;
/** Rated currents of fuse links and low-voltage breakers commonly made, in amperes (IEC 60269-1 and practice). */
const small = [2, 4, 6, 10, 16, 20, 25, 32, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400];

/** Rated primary currents of current transformers, and their decimal multiples (IEC 61869-2, 5.201). */
const primary = [1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 7.5] as const;

/** The smallest preferred value that is not below a value above zero. */
export const nextPreferred = (value: number): number => nextIn(r10, value);

/** The next rated primary current of a current transformer, in amperes. */
export const nextPrimaryA = (value: number): number => nextIn(primary, value);

/** All rated primary currents from one to another, in amperes. */
export function primaryCurrents(fromA: number, toA: number): readonly number[] {
  const found = [nextPrimaryA(fromA)];
  for (;;) {
    const next = nextPrimaryA(found[found.length - 1] * 1.01);
    if (next > toA) return found;
    found.push(next);
  }
}

/** The smallest of a series and its decimal multiples that is not below a value above zero. */
function nextIn(series: readonly number[], value: number): number {
  let decade = 10 ** Math.floor(Math.log10(value) + 1e-9);
  for (;;) {
    for (const step of series) {
      const size = Number((step * decade).toPrecision(4));
      if (size >= value * (1 - 1e-9)) return size;
    }
    decade *= 10;
  }
}

/** The next rated current in amperes: fuse links and small breakers by the sizes they are made in, above that the R10 series from 400 A. */
export const nextRatedCurrentA = (value: number, type: 'fuse' | 'other'): number =>
  value <= 400
    ? type === 'fuse' || value <= 63
      ? small.find((size) => size >= value * (1 - 1e-9))!
      : nextPreferred(Math.max(value, 63))
    : nextPreferred(value);

/** The next rated breaking current in kilo-amperes; nothing below 6.3 kA is made for switchgear. */
export const nextBreakingKa = (value: number): number => nextPreferred(Math.max(value, 6.3));

/** The next rated peak withstand current in kilo-amperes: 2.5 times the short-time withstand current (IEC 62271-1, 5.7; 50 Hz). */
export const nextPeakKa = (value: number): number =>
  Number((2.5 * nextBreakingKa((value / 2.5) * (1 - 1e-9))).toPrecision(4));
