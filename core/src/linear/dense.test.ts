import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { magnitude, subtract, type Complex } from './complex';
import {
  addTo,
  denseFrom,
  denseInverse,
  denseMatrix,
  denseMultiply,
  denseSolve,
  entry,
  identity,
  kronReduce,
} from './dense';

const value = fc.record({
  re: fc.double({ min: -10, max: 10, noNaN: true }),
  im: fc.double({ min: -10, max: 10, noNaN: true }),
});
/** Square matrices with a strong diagonal, so that they can be inverted. */
const regular = fc.integer({ min: 1, max: 7 }).chain((n) =>
  fc.array(fc.array(value, { minLength: n, maxLength: n }), { minLength: n, maxLength: n }).map((rows) => {
    const m = denseFrom(rows);
    for (let k = 0; k < n; k++) addTo(m, k, k, { re: 120, im: 30 });
    return m;
  }),
);
const near = (p: Complex, q: Complex, tolerance = 1e-9) => expect(magnitude(subtract(p, q))).toBeLessThan(tolerance);

describe('dense complex matrices', () => {
  it('a solution put back gives the right side', () => {
    fc.assert(
      fc.property(regular, fc.array(value, { minLength: 7, maxLength: 7 }), (a, b) => {
        const right = denseFrom(b.slice(0, a.rows).map((each) => [each]));
        const back = denseMultiply(a, denseSolve(a, right)!);
        for (let k = 0; k < a.rows; k++) near(entry(back, k, 0), b[k]);
      }),
    );
  });
  it('a matrix times its inverse is the identity, from both sides; neither is changed', () => {
    fc.assert(
      fc.property(regular, (a) => {
        const copy = { ...a, re: a.re.slice(), im: a.im.slice() };
        const inverse = denseInverse(a)!;
        for (const product of [denseMultiply(a, inverse), denseMultiply(inverse, a)])
          for (let i = 0; i < a.rows; i++)
            for (let j = 0; j < a.rows; j++) near(entry(product, i, j), entry(identity(a.rows), i, j));
        expect(a.re).toEqual(copy.re);
        expect(a.im).toEqual(copy.im);
      }),
    );
  });
  it("Kron's reduction is the inverse of the kept corner of the inverse", () => {
    fc.assert(
      fc.property(regular, fc.nat(6), (a, pick) => {
        const keep = 1 + (pick % a.rows);
        const inverse = denseInverse(a)!;
        const corner = denseMatrix(keep);
        for (let i = 0; i < keep; i++) for (let j = 0; j < keep; j++) addTo(corner, i, j, entry(inverse, i, j));
        const [reduced, wanted] = [kronReduce(a, keep)!, denseInverse(corner)!];
        for (let i = 0; i < keep; i++)
          for (let j = 0; j < keep; j++) near(entry(reduced, i, j), entry(wanted, i, j), 1e-7);
      }),
    );
  });
  it('what cannot be solved gives null: a row of noughts, doubled rows, what is no number', () => {
    const one = { re: 1, im: 0 };
    const none = { re: 0, im: 0 };
    expect(
      denseInverse(
        denseFrom([
          [one, one],
          [none, none],
        ]),
      ),
    ).toBeNull();
    expect(
      denseInverse(
        denseFrom([
          [one, one],
          [one, one],
        ]),
      ),
    ).toBeNull();
    expect(denseInverse(denseFrom([[{ re: Number.NaN, im: 0 }]]))).toBeNull();
    // A nought on the diagonal is no obstacle.
    expect(
      denseInverse(
        denseFrom([
          [none, one],
          [one, none],
        ]),
      ),
    ).not.toBeNull();
  });
});
