/** Sparse complex matrices in compressed columns. */

export interface SparseMatrix {
  readonly n: number;
  /** Column j holds the entries columnStart[j] … columnStart[j + 1] − 1. */
  readonly columnStart: Int32Array;
  readonly row: Int32Array;
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** Collects entries in any order; equal places add up, as admittances do. */
export class MatrixBuilder {
  private readonly rows: number[] = [];
  private readonly columns: number[] = [];
  private readonly re: number[] = [];
  private readonly im: number[] = [];

  constructor(readonly n: number) {}

  add(row: number, column: number, re: number, im: number): void {
    this.rows.push(row);
    this.columns.push(column);
    this.re.push(re);
    this.im.push(im);
  }

  build(): SparseMatrix {
    const { n } = this;
    const start = new Int32Array(n + 1);
    for (const column of this.columns) start[column + 1]++;
    for (let j = 0; j < n; j++) start[j + 1] += start[j];
    const next = start.slice(0, n);
    const row = new Int32Array(this.rows.length);
    const re = new Float64Array(this.rows.length);
    const im = new Float64Array(this.rows.length);
    for (let k = 0; k < this.rows.length; k++) {
      const at = next[this.columns[k]]++;
      row[at] = this.rows[k];
      re[at] = this.re[k];
      im[at] = this.im[k];
    }
    return sumDuplicates({ n, columnStart: start, row, re, im });
  }
}

function sumDuplicates(matrix: SparseMatrix): SparseMatrix {
  const { n, columnStart, row, re, im } = matrix;
  const start = new Int32Array(n + 1);
  const placeOf = new Int32Array(n).fill(-1);
  let used = 0;
  for (let j = 0; j < n; j++) {
    const first = used;
    for (let k = columnStart[j]; k < columnStart[j + 1]; k++) {
      const i = row[k];
      if (placeOf[i] >= first) {
        re[placeOf[i]] += re[k];
        im[placeOf[i]] += im[k];
      } else {
        placeOf[i] = used;
        row[used] = i;
        re[used] = re[k];
        im[used] = im[k];
        used++;
      }
    }
    start[j + 1] = used;
  }
  return { n, columnStart: start, row: row.slice(0, used), re: re.slice(0, used), im: im.slice(0, used) };
}

/** y = A·x, added to y. */
export function multiplyAdd(
  matrix: SparseMatrix,
  xRe: Float64Array,
  xIm: Float64Array,
  yRe: Float64Array,
  yIm: Float64Array,
): void {
  for (let j = 0; j < matrix.n; j++)
    for (let k = matrix.columnStart[j]; k < matrix.columnStart[j + 1]; k++) {
      const i = matrix.row[k];
      yRe[i] += matrix.re[k] * xRe[j] - matrix.im[k] * xIm[j];
      yIm[i] += matrix.re[k] * xIm[j] + matrix.im[k] * xRe[j];
    }
}
