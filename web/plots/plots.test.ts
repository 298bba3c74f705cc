import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deviceStyles, light } from '../theme/tokens';
import { profileScene } from './profile';
import { acrossOf, frameOf, linearAxis, logAxis, upOf, widthOf, type Mark, type Paper } from './scene';
import { pathOf, svgOf } from './svg';
import { currentLabel, extentFromNought, linearTicks, logExtent, logTicks, timeLabel } from './ticks';
import { timeCurrentScene, type TimeCurrentPlot } from './timeCurrent';

const paper: Paper = {
  width: 600,
  height: 400,
  margin: { top: 10, right: 10, bottom: 80, left: 50 },
  text: 10,
};
const texts = (marks: readonly Mark[]) => marks.filter((mark) => mark.kind === 'text');
const lines = (marks: readonly Mark[]) => marks.filter((mark) => mark.kind === 'line');

describe('extents and ticks', () => {
  it('of a logarithmic axis hold all values, and at least a decade', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 1e-3, max: 1e6, noNaN: true }), { minLength: 1 }), (values) => {
        const { from, to } = logExtent(values, { from: 1, to: 10 });
        expect(Math.min(...values)).toBeGreaterThanOrEqual(from);
        expect(Math.max(...values)).toBeLessThanOrEqual(to);
        expect(to / from).toBeGreaterThanOrEqual(10 * (1 - 1e-9));
      }),
    );
    expect(logExtent([NaN, 0, -1, Infinity], { from: 1, to: 10 })).toEqual({ from: 1, to: 10 });
  });
  it('from nought hold all values and end at a tick', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.01, max: 1e6, noNaN: true }), { minLength: 1 }), (values) => {
        const extent = extentFromNought(values, { from: 0, to: 1 });
        expect(extent.from).toBe(0);
        expect(extent.to).toBeGreaterThanOrEqual(Math.max(...values) * 1.05 * (1 - 1e-9));
        expect(extent.to).toBeLessThanOrEqual(Math.max(...values) * 2.2);
        const last = linearTicks(extent).at(-1)!;
        expect(last.value / extent.to).toBeGreaterThan(0.66);
      }),
    );
    expect(extentFromNought([NaN, -2], { from: 0, to: 7 })).toEqual({ from: 0, to: 7 });
  });
  it('rule 1 to 9 in each decade, and round values on a linear axis', () => {
    const ticks = logTicks({ from: 0.01, to: 1 });
    expect(ticks).toHaveLength(19);
    expect(ticks.filter((tick) => tick.strong).map((tick) => tick.value)).toEqual([0.01, 0.1, 1]);
    expect(linearTicks({ from: 0, to: 10 }).map(({ value }) => value)).toEqual([0, 2, 4, 6, 8, 10]);
    expect(linearTicks({ from: -1, to: 1 }).find(({ strong }) => strong)!.value).toBe(0);
    expect([currentLabel(1500), currentLabel(999), timeLabel(0.01)]).toEqual(['1.5 kA', '999 A', '0.01 s']);
  });
});

describe('axes', () => {
  const label = String;
  it('lead to a place and back again', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.02, max: 90, noNaN: true }), (value) => {
        const extent = { from: 0.01, to: 100 };
        for (const axis of [logAxis({ extent, label }, upOf(paper)), linearAxis({ extent, label }, acrossOf(paper))])
          expect(axis.valueAt(axis.at(value)) / value).toBeCloseTo(1, 8);
      }),
    );
  });
  it('a decade has the same width everywhere, a unit on a linear one', () => {
    const x = logAxis({ extent: { from: 10, to: 1000 }, label }, [0, 200]);
    expect(x.at(100)).toBeCloseTo(100, 9);
    const y = linearAxis({ extent: { from: 0, to: 50 }, label }, upOf(paper));
    expect(y.at(0)).toBe(frameOf(paper).bottom);
    expect(y.at(10) - y.at(20)).toBeCloseTo(y.at(40) - y.at(50), 9);
  });
});

const inverse = (pickupA: number, factor: number) =>
  Array.from({ length: 60 }, (_, k) => {
    const m = 1.05 * 1.06 ** k;
    return { currentA: pickupA * m, timeS: (factor * 0.14) / (m ** 0.02 - 1) };
  });
const plot: TimeCurrentPlot = {
  curves: ['lower', 'upper', 'highest'].map((label, k) => ({
    of: label,
    label,
    style: k,
    dash: k,
    points: inverse(100, 0.1 + 0.02 * k),
    strong: k === 1,
    before: k === 1 ? inverse(100, 0.3) : [],
  })),
  flags: [
    { label: 'max', currentA: 2000, style: 0 },
    { label: 'min', currentA: 1990, style: 1 },
    { label: 'beyond', currentA: 1e6, style: 2 },
  ],
  margin: { downA: 800, upA: 400, downstreamS: 0.2, upstreamS: 0.55, holds: false },
  extents: { currents: { from: 50, to: 5000 }, times: { from: 0.01, to: 100 } },
  caption: 'at 11 kV',
};

describe('the time–current plot', () => {
  const { x, y, under, over } = timeCurrentScene(plot, paper);

  it('draws each curve where its times and currents lie, in its style', () => {
    for (const [k, curve] of plot.curves.entries()) {
      const drawn = lines(under.marks).find((mark) => mark.of === curve.label)!;
      expect(drawn.ink).toBe(k);
      expect(drawn.dash).toBe(deviceStyles[k].dash);
      expect(drawn.clipped).toBe(true);
      const [place, point] = [drawn.points[30], curve.points[30]];
      expect([x.valueAt(place.x) / point.currentA, y.valueAt(place.y) / point.timeS]).toEqual([
        expect.closeTo(1, 8),
        expect.closeTo(1, 8),
      ]);
    }
    // The one that stands out is the widest; what it was before is drawn as well, thinner than all.
    const widths = lines(under.marks)
      .filter((mark) => typeof mark.ink === 'number' && mark.clipped)
      .map((mark) => mark.width);
    expect(widths).toHaveLength(4);
    expect(Math.max(...widths)).toBe(lines(under.marks).find((mark) => mark.of === 'upper')!.width);
    expect(Math.min(...widths)).toBe(lines(under.marks).find((mark) => mark.opacity === 0.8 && mark.clipped)!.width);
  });

  it('names every curve beside itself, no two names over each other', () => {
    const names = texts(over.marks).filter((mark) => mark.names);
    expect(new Set(names.map((mark) => mark.names))).toEqual(new Set(plot.curves.map(({ of }) => of)));
    const boxes = names.map(({ at, text, size }) => ({
      left: at.x,
      right: at.x + widthOf(paper, text, size),
      y: at.y,
    }));
    boxes.forEach((p, i) =>
      boxes.slice(i + 1).forEach((q) => {
        expect(Math.abs(p.y - q.y) >= 11 || p.right <= q.left || q.right <= p.left).toBe(true);
      }),
    );
  });

  it('flags what lies inside, close ones in rows of their own', () => {
    const flags = texts(under.marks).filter(({ ink }) => ink === 'panel');
    expect(flags.map(({ text }) => text)).toEqual(['min 1.99 kA', 'max 2 kA']);
    expect(flags[1].at.y).toBeGreaterThan(flags[0].at.y + 10);
  });

  it('measures the margin from curve to curve, in the colour of the verdict', () => {
    const label = texts(over.marks).find(({ text }) => text.startsWith('Δt'))!;
    expect([label.text, label.ink]).toEqual(['Δt 0.350 s', 'fail']);
    const dots = over.marks.filter((mark) => mark.kind === 'dot');
    expect(dots.map(({ at }) => [x.valueAt(at.x), y.valueAt(at.y)])).toEqual([
      [expect.closeTo(800, 6), expect.closeTo(0.2, 8)],
      [expect.closeTo(400, 6), expect.closeTo(0.55, 8)],
    ]);
    const held = timeCurrentScene({ ...plot, margin: { ...plot.margin!, holds: true } }, paper).over;
    expect(texts(held.marks).find(({ text }) => text.startsWith('Δt'))!.ink).toBe('pass');
    expect(timeCurrentScene({ ...plot, margin: null }, paper).over.marks).toHaveLength(plot.curves.length);
  });
});

describe('a profile', () => {
  const of = (label: string, from: number, to: number) => ({
    label,
    points: [
      { x: 0, y: from },
      { x: 10, y: to },
    ],
  });
  const { x, y, scene } = profileScene(
    {
      lines: [of('low', 1, 2), of('high', 5, 2.01)],
      x: { extent: { from: 0, to: 10 }, label: String },
      y: { extent: { from: 0, to: 6 }, label: String },
      caption: 'km',
      at: 4,
    },
    paper,
  );
  it('draws lines to scale and marks the place that is looked at', () => {
    const high = lines(scene.marks).find((mark) => mark.of === 'high')!;
    expect(high.points).toEqual([
      { x: x.at(0), y: y.at(5) },
      { x: x.at(10), y: y.at(2.01) },
    ]);
    expect(lines(scene.marks).find((mark) => mark.ink === 'accent')!.points[0].x).toBe(x.at(4));
  });
  it('names the lines at their ends, those that end close together below each other', () => {
    const names = texts(scene.marks).filter(({ bold }) => bold);
    expect(names.map(({ text }) => text)).toEqual(['high', 'low']);
    expect(names[1].at.y - names[0].at.y).toBeGreaterThan(12);
  });
});

describe('a scene as text', () => {
  it('is what the screen draws, in the colours of print', () => {
    const { under, over } = timeCurrentScene(plot, paper);
    const svg = svgOf({ paper, marks: [...under.marks, ...over.marks] });
    expect(svg).not.toMatch(/NaN|Infinity|undefined|var\(/);
    expect(svg).toContain(`stroke="${deviceStyles[2].light}"`);
    expect(svg).toContain(`fill="${light.failSoft}"`);
    for (const mark of lines(under.marks)) expect(svg).toContain(`d="${pathOf(mark.points)}"`);
    // Greek letters stand in a font of their own.
    const plain = svg.replace(/<\/?tspan[^>]*>/g, '');
    expect(svg).toMatch(/<tspan font-family="Greek, Sans">Δ<\/tspan>/);
    for (const { text } of texts(over.marks)) expect(plain).toContain(`>${text}</text>`);
  });
});
