/** Charts in print: their pages, what stands on them, the part of the one-line beside. */
import { describe, expect, it } from 'vitest';
import { newChart } from '@mesura/core/model/chart';
import { elementId } from '@mesura/core/model/fields';
import { find, ofKind } from '@mesura/core/model/network';
import { demoNetwork } from '@mesura/core/test/demo';
import { partOfDrawing } from '../diagram/picture/print';
import { chartsPdf } from './pdf/charts';

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
