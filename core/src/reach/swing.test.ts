/** Paths of swings against closed forms, and ends of the demo's lines. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { add, magnitude, scale, subtract, type Complex } from '../linear/complex';
import { maximumSources } from '../model/condition';
import { elementId as id } from '../model/fields';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { runs } from '../test/runs';
import { swingOf, swingPath, type Swing } from './swing';

const ohm = fc.record({
  re: fc.double({ min: 0.1, max: 5, noNaN: true }),
  im: fc.double({ min: 1, max: 20, noNaN: true }),
});
const swings: fc.Arbitrary<Swing> = fc.record({ behind: ohm, line: ohm, far: ohm });
const ends = ({ behind, line, far }: Swing): [Complex, Complex] => [scale(behind, -1), add(line, far)];

describe('a swing', () => {
  it('between equal voltages keeps as far from one as from the other, and passes their middle at 180°', () => {
    fc.assert(
      fc.property(swings, (swing) => {
        const [own, other] = ends(swing);
        for (const { ohm: z } of swingPath(swing))
          expect(magnitude(subtract(z, own)) / magnitude(subtract(z, other))).toBeCloseTo(1, 9);
        const half = swingPath(swing, 1, 180, 180)[0].ohm;
        expect(half.re).toBeCloseTo((own.re + other.re) / 2, 9);
        expect(half.im).toBeCloseTo((own.im + other.im) / 2, 9);
      }),
      { seed: 3, numRuns: runs(100) },
    );
  });
  it('between unequal ones keeps the ratio of the distances', () => {
    fc.assert(
      fc.property(swings, fc.double({ min: 0.7, max: 1.4, noNaN: true }), (swing, ratio) => {
        const [own, other] = ends(swing);
        for (const { ohm: z } of swingPath(swing, ratio))
          expect(magnitude(subtract(z, own)) / magnitude(subtract(z, other))).toBeCloseTo(ratio, 6);
      }),
      { seed: 4, numRuns: runs(60) },
    );
  });
  it('at the end of a line has the network on both sides, the line itself apart', () => {
    const studies = new Studies(demoNetwork());
    const near = swingOf(studies, { line: id('fer-mar'), terminal: 0 }, maximumSources.id)!;
    const far = swingOf(studies, { line: id('fer-mar'), terminal: 1 }, maximumSources.id)!;
    expect(magnitude(subtract(near.behind, far.far))).toBeLessThan(1e-9);
    expect(near.line.im).toBeCloseTo(0.402 * 31.6, 9);
    // Fernhill is nearer to the mainland than Marrow Head is around the ring.
    expect(magnitude(near.behind)).toBeLessThan(magnitude(far.behind));
    // Behind the end of a radial line stands nothing when it is out.
    expect(swingOf(studies, { line: id('pen-ske'), terminal: 1 }, maximumSources.id)).toBeNull();
  });
});
