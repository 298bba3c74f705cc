import { describe, expect, it } from 'vitest';
import { MatrixBuilder } from '../../linear/matrix';
import { matrixMarket } from './matrixMarket';

describe('Matrix Market', () => {
  it('is written so that it can be read back', () => {
    const builder = new MatrixBuilder(3);
    builder.add(0, 0, 1.5, -2);
    builder.add(2, 1, -0.25, 1e-9);
    builder.add(2, 1, -0.25, 0);
    const text = matrixMarket(builder.build(), ['node 1: "A\nB"']);
    const lines = text.trimEnd().split('\n');
    expect(lines[0]).toBe('%%MatrixMarket matrix coordinate complex general');
    expect(lines[1]).toBe('% node 1: "A B"');
    expect(lines[2]).toBe('3 3 2');
    expect(lines.slice(3).map((line) => line.split(' ').map(Number))).toEqual([
      [1, 1, 1.5, -2],
      [3, 2, -0.5, 1e-9],
    ]);
  });
});
