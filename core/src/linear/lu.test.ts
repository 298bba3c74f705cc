import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { graphOfMatrix } from './graph';
import { factor, solveInPlace } from './lu';
import { MatrixBuilder, multiplyAdd, type SparseMatrix } from './matrix';
import { minimumDegree } from './order';

/** Entries of a random sparse matrix with a heavy diagonal now and then left out, so that pivoting has work to do. */
const matrices = fc.integer({ min: 1, max: 30 }).chain((n) =>
  fc.record({
    n: fc.constant(n),
    entries: fc.array(
      fc.tuple(
        fc.nat(n - 1),
        fc.nat(n - 1),
        fc.double({ min: -5, max: 5, noNaN: true }),
        fc.double({ min: -5, max: 5, noNaN: true }),
      ),
      { maxLength: 4 * n },
    ),
    diagonal: fc.array(fc.double({ min: 0.5, max: 20, noNaN: true }), { minLength: n, maxLength: n }),
    shift: fc.boolean(),
  }),
);

function build({
  n,
  entries,
  diagonal,
  shift,
}: {
  n: number;
  entries: [number, number, number, number][];
  diagonal: number[];
  shift: boolean;
}): SparseMatrix {
  const builder = new MatrixBuilder(n);
  for (const [i, j, re, im] of entries) builder.add(i, j, re, im);
  diagonal.forEach((size, i) => builder.add(shift ? (i + 1) % n : i, i, 30 + size, -size));
  return builder.build();
}

/** Dense Gauss elimination with full row pivoting: the second method. */
function denseSolve(matrix: SparseMatrix, bRe: Float64Array, bIm: Float64Array): { re: number; im: number }[] | null {
  const { n } = matrix;
  const a = Array.from({ length: n }, (_, i) =>
    Array.from({ length: n + 1 }, (_, j) => (j === n ? { re: bRe[i], im: bIm[i] } : { re: 0, im: 0 })),
  );
  for (let j = 0; j < n; j++)
    for (let k = matrix.columnStart[j]; k < matrix.columnStart[j + 1]; k++)
      a[matrix.row[k]][j] = { re: matrix.re[k], im: matrix.im[k] };
  for (let k = 0; k < n; k++) {
    let best = k;
    for (let i = k; i < n; i++)
      if (Math.hypot(a[i][k].re, a[i][k].im) > Math.hypot(a[best][k].re, a[best][k].im)) best = i;
    [a[k], a[best]] = [a[best], a[k]];
    const { re, im } = a[k][k];
    const size = re * re + im * im;
    if (size < 1e-20) return null;
    for (let i = 0; i < n; i++) {
      if (i === k) continue;
      const f = { re: (a[i][k].re * re + a[i][k].im * im) / size, im: (a[i][k].im * re - a[i][k].re * im) / size };
      for (let j = k; j <= n; j++)
        a[i][j] = {
          re: a[i][j].re - f.re * a[k][j].re + f.im * a[k][j].im,
          im: a[i][j].im - f.re * a[k][j].im - f.im * a[k][j].re,
        };
    }
  }
  return a.map((row, k) => {
    const [p, q] = [row[n], row[k]];
    const size = q.re ** 2 + q.im ** 2;
    return { re: (p.re * q.re + p.im * q.im) / size, im: (p.im * q.re - p.re * q.im) / size };
  });
}

describe('sparse LU', () => {
  it('solves as dense elimination does, and its residual vanishes', () => {
    fc.assert(
      fc.property(matrices, (spec) => {
        const matrix = build(spec);
        const { n } = matrix;
        const b = {
          re: Float64Array.from({ length: n }, (_, i) => i - 2),
          im: Float64Array.from({ length: n }, (_, i) => 1 + (i % 3)),
        };
        const dense = denseSolve(matrix, b.re, b.im);
        const factored = factor(matrix);
        fc.pre(dense !== null);
        expect(factored.ok).toBe(true);
        if (!factored.ok) return;
        const [re, im] = [b.re.slice(), b.im.slice()];
        solveInPlace(factored.factors, re, im);
        const largest = Math.max(...dense!.map((x) => Math.hypot(x.re, x.im)));
        for (let i = 0; i < n; i++)
          expect(Math.hypot(re[i] - dense![i].re, im[i] - dense![i].im)).toBeLessThan(1e-8 * (1 + largest));
        const residual = { re: b.re.map((x) => -x), im: b.im.map((x) => -x) };
        multiplyAdd(matrix, re, im, residual.re, residual.im);
        for (let i = 0; i < n; i++)
          expect(Math.hypot(residual.re[i], residual.im[i])).toBeLessThan(1e-7 * (1 + largest));
      }),
      { numRuns: 200 },
    );
  });

  it('says which column is singular', () => {
    const builder = new MatrixBuilder(3);
    builder.add(0, 0, 1, 0);
    builder.add(2, 2, 1, 0);
    expect(factor(builder.build())).toEqual({ ok: false, singularColumn: 1 });
  });

  it('orders by a permutation and keeps a star free of fill', () => {
    const n = 200;
    const builder = new MatrixBuilder(n);
    for (let i = 0; i < n; i++) {
      builder.add(i, i, 10, -30);
      if (i > 0) {
        builder.add(0, i, -0.1, 0.1);
        builder.add(i, 0, -0.1, 0.1);
      }
    }
    const matrix = builder.build();
    const order = minimumDegree(graphOfMatrix(n, matrix.columnStart, matrix.row));
    expect([...order].sort((p, q) => p - q)).toEqual(Array.from({ length: n }, (_, k) => k));
    const factored = factor(matrix);
    if (!factored.ok) throw new Error('singular');
    // The hub goes last, or last but one when a single arm is left: no entry that the star did not have.
    expect(factored.factors.lower.start[n]).toBe(2 * n - 1);
  });

  it('adds up entries at the same place', () => {
    const builder = new MatrixBuilder(1);
    builder.add(0, 0, 1, 2);
    builder.add(0, 0, 3, 4);
    const matrix = builder.build();
    expect([matrix.row.length, matrix.re[0], matrix.im[0]]).toEqual([1, 4, 6]);
  });
});
