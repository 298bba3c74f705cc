/** Sparse complex matrices as Matrix Market text (coordinate, complex, general), for comparison with other numerical programs. */
import type { SparseMatrix } from '../../linear/matrix';

/** Rows and columns count from 1, as the format has it; `comments` stand above the figures. */
export function matrixMarket(matrix: SparseMatrix, comments: readonly string[] = []): string {
  const lines = ['%%MatrixMarket matrix coordinate complex general'];
  for (const comment of comments) lines.push(`% ${comment.replace(/[\r\n]+/g, ' ')}`);
  lines.push(`${matrix.n} ${matrix.n} ${matrix.row.length}`);
  for (let j = 0; j < matrix.n; j++)
    for (let k = matrix.columnStart[j]; k < matrix.columnStart[j + 1]; k++)
      lines.push(`${matrix.row[k] + 1} ${j + 1} ${matrix.re[k]} ${matrix.im[k]}`);
  return `${lines.join('\n')}\n`;
}

export interface MatrixEntry {
  /** From 1. */
  readonly row: number;
  readonly column: number;
  readonly re: number;
  readonly im: number;
}

/** The entries of a matrix, column by column. */
export const entriesOf = (matrix: SparseMatrix): MatrixEntry[] =>
  Array.from({ length: matrix.n }, (_, j) => j).flatMap((j) =>
    Array.from({ length: matrix.columnStart[j + 1] - matrix.columnStart[j] }, (_, i) => {
      const k = matrix.columnStart[j] + i;
      return { row: matrix.row[k] + 1, column: j + 1, re: matrix.re[k], im: matrix.im[k] };
    }),
  );
