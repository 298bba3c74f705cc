/** Charts in print: their pages, what stands on them, the part of the one-line beside. */
import { spawnSync } from 'node:child_process';
import { describe, expect, it } from 'vitest';
import { newChart } from '@mesura/core/model/chart';
import { elementId } from '@mesura/core/model/fields';
import { find, ofKind } from '@mesura/core/model/network';
import { demoNetwork } from '@mesura/core/test/demo';
import { partOfDrawing } from '../diagram/picture/print';
import { linesScene } from '../plots/lines';
import type { Paper } from '../plots/scene';
import { sceneSchema } from '../plots/sceneSchema';
import { svgOf } from '../plots/svg';
import { chartsPdf } from './pdf/charts';
import { plotPdf } from './pdf/plot';

const network = demoNetwork();
const issue = { project: 'Sorrel Island', revision: 3, date: '2026-11-29' };
const pagesOf = (pdf: Buffer) => pdf.toString('latin1').match(/\/Type \/Page\b/g)!.length;

describe('printed charts', () => {
  const spurs = find(network, 'gradingChart', elementId('chart-spurs'))!;
  it('take two pages each: the chart, then devices, margins and notes', async () => {
    const one = await chartsPdf(network, [spurs], issue, false);
    expect(one.subarray(0, 5).toString()).toBe('%PDF-');
    expect(pagesOf(one)).toBe(2);
    const all = ofKind(network, 'gradingChart');
    expect(pagesOf(await chartsPdf(network, all, issue, true))).toBe(2 * all.length);
  }, 60_000);
  it('stand an empty chart, and one of a device that is not on the drawing', async () => {
    const empty = newChart(elementId('e'), 'Nothing yet <&>', { referenceKv: 11 });
    expect(pagesOf(await chartsPdf(network, [empty], issue, true))).toBe(2);
  }, 60_000);
});

describe('the part of the one-line', () => {
  it('shows the devices in the colours of their curves, with what stands around them, and nothing far off', () => {
    const part = partOfDrawing(network, new Map([[elementId('pen-f2'), '#123456']]))!;
    expect(part.svg).toContain('#123456');
    expect(part.svg).toContain('>PEN F2</text>');
    expect(part.svg).toContain('>Rural 2</text>');
    expect(part.svg).not.toContain('Mainland');
    expect(part.svg).not.toMatch(/NaN|undefined/);
    expect(partOfDrawing(network, new Map())).toBeNull();
  });
});

describe('a plot of the screen in print', () => {
  const paper: Paper = { width: 600, height: 300, margin: { top: 20, right: 10, bottom: 40, left: 60 }, text: 11 };
  const scene = linesScene(
    {
      title: 'T',
      x: 'across',
      y: 'up',
      logX: false,
      logY: true,
      series: [
        {
          name: 'one',
          points: [
            [0, 1],
            [2, 30],
          ],
        },
      ],
    },
    paper,
  );
  it('comes through the wire as it was, and fills one page with its title and title block', async () => {
    const sent = sceneSchema.parse(JSON.parse(JSON.stringify(scene)));
    // Names of curves serve the screen only.
    expect(svgOf(sent)).toBe(svgOf(scene));
    const pdf = await plotPdf('Speed <&> "x"', sent, { ...issue, owner: 'Sorrel Power' });
    expect(pagesOf(pdf)).toBe(1);
    const told = spawnSync('pdftotext', ['-', '-'], { input: pdf, encoding: 'utf8' }).stdout;
    for (const text of ['Speed <&> "x"', 'Sorrel Power', 'Sorrel Island', 'across']) expect(told).toContain(text);
  }, 60_000);
  it('is refused where it is no plain scene: nothing of it may become markup or take the server long', () => {
    const line = { kind: 'line', points: [{ x: 0, y: 0 }], ink: 'ink', width: 1 };
    const withMarks = (...marks: object[]) => sceneSchema.safeParse({ paper, marks }).success;
    expect(withMarks(line)).toBe(true);
    for (const wrong of [
      { ...line, dash: '1"/><image href="file:///etc/passwd"/>' },
      { ...line, ink: 'url(#x)' },
      { ...line, points: [{ x: Infinity, y: 0 }] },
      { ...line, points: Array.from({ length: 20_001 }, () => ({ x: 0, y: 0 })) },
      { ...line, kind: 'image', href: 'file:///etc/passwd' },
      { kind: 'text', at: { x: 0, y: 0 }, text: 'x'.repeat(401), size: 10, ink: 'ink' },
    ])
      expect(withMarks(wrong)).toBe(false);
    expect(sceneSchema.safeParse({ paper: { ...paper, width: 1e6 }, marks: [] }).success).toBe(false);
    const text = { kind: 'text', at: { x: 0, y: 0 }, text: '</text><script>', size: 10, ink: 'ink' } as const;
    expect(svgOf(sceneSchema.parse({ paper, marks: [text] }))).not.toContain('<script>');
  });
});
