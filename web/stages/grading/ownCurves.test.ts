import { describe, expect, it } from 'vitest';
import { readPoints } from './OwnCurves';

describe('points typed in', () => {
  it('are amperes and seconds a line, in what people write', () => {
    expect(readPoints('600 10\n\n1.2kA; 0.5\n')).toEqual({
      points: [
        [600, 10],
        [1200, 0.5],
      ],
    });
  });
  it('are refused with the line that cannot be read, or the point that does not fit', () => {
    expect(readPoints('600 ten')).toEqual({ problem: expect.stringMatching(/^Line 1: /) });
    expect(readPoints('600 10\n700')).toEqual({ problem: expect.stringMatching(/^Line 2: /) });
    expect(readPoints('600 10 3')).toEqual({ problem: expect.stringMatching(/^Line 1: /) });
    expect(readPoints('600 10\n500 1')).toEqual({ problem: expect.stringMatching(/^Point 2: the current/) });
    expect(readPoints('')).toEqual({ problem: expect.stringMatching(/two points/) });
  });
});
