/** Small dense complex matrices, row by row in typed arrays: fault conditions, coupled circuits, line constants. */
import type { Complex } from './complex';

export interface DenseMatrix {
  readonly rows: number;
  readonly columns: number;
  readonly re: Float64Array;
  readonly im: Float64Array;
}

export const denseMatrix = (rows: number, columns = rows): DenseMatrix => ({
  rows,
  columns,
  re: new Float64Array(rows * columns),
  im: new Float64Array(rows * columns),
});

export const entry = (m: DenseMatrix, i: number, j: number): Complex => ({
  re: m.re[i * m.columns + j],
  im: m.im[i * m.columns + j],
});

export function addTo(m: DenseMatrix, i: number, j: number, value: Complex): void {
  m.re[i * m.columns + j] += value.re;
  m.im[i * m.columns + j] += value.im;
}

export function denseFrom(rows: readonly (readonly Complex[])[]): DenseMatrix {
  const m = denseMatrix(rows.length, rows[0]?.length ?? 0);
  rows.forEach((row, i) => row.forEach((value, j) => addTo(m, i, j, value)));
  return m;
}

export function denseMultiply(a: DenseMatrix, b: DenseMatrix): DenseMatrix {
  const m = denseMatrix(a.rows, b.columns);
  for (let i = 0; i < a.rows; i++)
    for (let k = 0; k < a.columns; k++) {
      const [re, im] = [a.re[i * a.columns + k], a.im[i * a.columns + k]];
      if (re === 0 && im === 0) continue;
      for (let j = 0; j < b.columns; j++) {
        const at = k * b.columns + j;
        m.re[i * b.columns + j] += re * b.re[at] - im * b.im[at];
        m.im[i * b.columns + j] += re * b.im[at] + im * b.re[at];
      }
    }
  return m;
}

/** X of A·X = B by elimination with column pivoting; null when a pivot falls below `tolerance` of the largest entry. A and B are not changed. */
export function denseSolve(a: DenseMatrix, b: DenseMatrix, tolerance = 1e-15): DenseMatrix | null {
  const n = a.rows;
  const m = b.columns;
  const [aRe, aIm] = [a.re.slice(), a.im.slice()];
  const x = { rows: n, columns: m, re: b.re.slice(), im: b.im.slice() };
  let largest = 0;
  for (let k = 0; k < aRe.length; k++) largest = Math.max(largest, Math.abs(aRe[k]) + Math.abs(aIm[k]));
  const swap = (array: Float64Array, width: number, p: number, q: number) => {
    for (let j = 0; j < width; j++) {
      const keep = array[p * width + j];
      array[p * width + j] = array[q * width + j];
      array[q * width + j] = keep;
    }
  };
  for (let k = 0; k < n; k++) {
    let pivot = k;
    let size = -1;
    for (let i = k; i < n; i++) {
      const here = Math.hypot(aRe[i * n + k], aIm[i * n + k]);
      if (here > size) [size, pivot] = [here, i];
    }
    if (!(size > largest * tolerance) || !Number.isFinite(size)) return null;
    if (pivot !== k) {
      swap(aRe, n, k, pivot);
      swap(aIm, n, k, pivot);
      swap(x.re, m, k, pivot);
      swap(x.im, m, k, pivot);
    }
    const scale = 1 / (size * size);
    const [pRe, pIm] = [aRe[k * n + k] * scale, -aIm[k * n + k] * scale];
    for (let i = k + 1; i < n; i++) {
      const [re, im] = [aRe[i * n + k], aIm[i * n + k]];
      if (re === 0 && im === 0) continue;
      const [fRe, fIm] = [re * pRe - im * pIm, re * pIm + im * pRe];
      for (let j = k + 1; j < n; j++) {
        aRe[i * n + j] -= fRe * aRe[k * n + j] - fIm * aIm[k * n + j];
        aIm[i * n + j] -= fRe * aIm[k * n + j] + fIm * aRe[k * n + j];
      }
      for (let j = 0; j < m; j++) {
        x.re[i * m + j] -= fRe * x.re[k * m + j] - fIm * x.im[k * m + j];
        x.im[i * m + j] -= fRe * x.im[k * m + j] + fIm * x.re[k * m + j];
      }
    }
  }
  for (let k = n - 1; k >= 0; k--) {
    const [dRe, dIm] = [aRe[k * n + k], aIm[k * n + k]];
    const scale = 1 / (dRe * dRe + dIm * dIm);
    for (let j = 0; j < m; j++) {
      let [re, im] = [x.re[k * m + j], x.im[k * m + j]];
      for (let i = k + 1; i < n; i++) {
        const [uRe, uIm] = [aRe[k * n + i], aIm[k * n + i]];
        re -= uRe * x.re[i * m + j] - uIm * x.im[i * m + j];
        im -= uRe * x.im[i * m + j] + uIm * x.re[i * m + j];
      }
      x.re[k * m + j] = (re * dRe + im * dIm) * scale;
      x.im[k * m + j] = (im * dRe - re * dIm) * scale;
    }
  }
  return x;
}

export function identity(n: number): DenseMatrix {
  const m = denseMatrix(n);
  for (let k = 0; k < n; k++) m.re[k * n + k] = 1;
  return m;
}

export const denseInverse = (a: DenseMatrix): DenseMatrix | null => denseSolve(a, identity(a.rows));

/** Removes the rows and columns from `keep` on, which carry no voltage (Kron's reduction): A − B·D⁻¹·C. */
export function kronReduce(a: DenseMatrix, keep: number): DenseMatrix | null {
  if (keep === a.rows) return a;
  const part = (i0: number, i1: number, j0: number, j1: number) => {
    const m = denseMatrix(i1 - i0, j1 - j0);
    for (let i = i0; i < i1; i++) for (let j = j0; j < j1; j++) addTo(m, i - i0, j - j0, entry(a, i, j));
    return m;
  };
  const n = a.rows;
  const solved = denseSolve(part(keep, n, keep, n), part(keep, n, 0, keep));
  if (!solved) return null;
  const product = denseMultiply(part(0, keep, keep, n), solved);
  const m = part(0, keep, 0, keep);
  for (let k = 0; k < m.re.length; k++) {
    m.re[k] -= product.re[k];
    m.im[k] -= product.im[k];
  }
  return m;
}
