/** Sparse complex matrices as Matrix Market text (coordinate, complex, general), for comparison with other numerical programs. */
import type { SparseMatrix } from '../linear/matrix';

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
