/** The chart of a setting sheet as SVG text, for the PDF (vectors) and the preview. */
import { line } from 'd3';
import type { SheetContent } from '@mesura/core/sheets/sheet';
import { deviceStyles, light } from '../theme/tokens';
import { currentLabel, logExtent, logScale, logTicks, timeLabel } from './scales';

const size = { width: 515, height: 300 };
const margin = { top: 12, right: 10, bottom: 34, left: 44 };

const escapeXml = (text: string) =>
  text.replace(/[<>&"]/g, (c) => ({ '<': '&lt;', '>': '&gt;', '&': '&amp;', '"': '&quot;' })[c]!);

export function sheetChartSvg(chart: SheetContent['chart'][number]): string {
  const points = chart.curves.flatMap((curve) => curve.points);
  const currents = logExtent(
    points.map((p) => p.currentA),
    { from: 10, to: 10000 },
  );
  const times = { from: 0.01, to: 100 };
  const x = logScale(currents, [margin.left, size.width - margin.right]);
  const y = logScale(times, [size.height - margin.bottom, margin.top]);
  const [left, right, top, bottom] = [margin.left, size.width - margin.right, margin.top, size.height - margin.bottom];
  const text = (tx: number, ty: number, anchor: string, value: string, extra = '') =>
    `<text x="${tx.toFixed(1)}" y="${ty.toFixed(1)}" text-anchor="${anchor}" font-family="Sans" font-size="7.5" fill="${light.ink}" ${extra}>${escapeXml(value)}</text>`;

  const grid = [
    ...logTicks(currents).map(({ value, major, decade }) => {
      const at = x(value).toFixed(1);
      const rule = `<line x1="${at}" x2="${at}" y1="${top}" y2="${bottom}" stroke="${decade ? light.gridStrong : light.grid}" stroke-width="0.6"/>`;
      return (
        rule + (major ? text(x(value), bottom + 11, x(value) > right - 14 ? 'end' : 'middle', currentLabel(value)) : '')
      );
    }),
    ...logTicks(times, [1]).map(({ value, decade }) => {
      const at = y(value).toFixed(1);
      const rule = `<line x1="${left}" x2="${right}" y1="${at}" y2="${at}" stroke="${decade ? light.gridStrong : light.grid}" stroke-width="0.6"/>`;
      return rule + (decade ? text(left - 5, y(value) + 2.5, 'end', `${timeLabel(value)} s`) : '');
    }),
  ];
  const path = line<{ currentA: number; timeS: number }>(
    (p) => x(p.currentA),
    (p) => y(p.timeS),
  );
  const taken: number[] = [];
  const curves = chart.curves.map((curve, k) => {
    const shown = curve.points.filter((p) => p.timeS <= times.to && p.timeS >= times.from && p.currentA <= currents.to);
    if (shown.length === 0) return '';
    const { light: stroke, dash } = deviceStyles[k % deviceStyles.length];
    const start = shown[0];
    // Labels stand at the upper end of their curve, each on a line of its own.
    let ty = Math.max(y(start.timeS) + 8, top + 8);
    while (taken.some((other) => Math.abs(other - ty) < 9)) ty += 9;
    taken.push(ty);
    const label = text(
      x(start.currentA) + 8,
      ty,
      'start',
      curve.label,
      `font-weight="${curve.own ? 600 : 400}"`,
    ).replace(`fill="${light.ink}"`, `fill="${stroke}"`);
    return `<path d="${path(shown)}" fill="none" stroke="${stroke}" stroke-width="${curve.own ? 1.6 : 1}" ${dash ? `stroke-dasharray="${dash}"` : ''}/>${label}`;
  });
  const axisTitle = text(right, bottom + 26, 'end', `primary current referred to ${chart.referenceKv} kV`);
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${size.width}" height="${size.height}" viewBox="0 0 ${size.width} ${size.height}">${grid.join('')}<rect x="${left}" y="${top}" width="${right - left}" height="${bottom - top}" fill="none" stroke="${light.muted}" stroke-width="0.8"/>${curves.join('')}${axisTitle}</svg>`;
}
