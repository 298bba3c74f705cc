/** Grading charts as PDF: A4 across, a page each with vector curves, below them the devices with their settings, the margins and the notes; a title block on every page. */
import type { Content, TableCell } from 'pdfmake/interfaces';
import { chartBasis } from '@mesura/core/grading/chart/basis';
import {
  chartCurves,
  judgePairs,
  limitsOnChart,
  lookOf,
  shortName,
  worstPair,
  type ChartCurve,
} from '@mesura/core/grading/chart/curves';
import { marginWords } from '@mesura/core/grading/network';
import { formatCurrent, formatNumber, plainNumber } from '@mesura/core/fields/quantity';
import { modesOf, type GradingChart } from '@mesura/core/model/chart';
import type { ElementId } from '@mesura/core/model/fields';
import { settingsOf, type Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { deviceKindTitles, deviceOf } from '@mesura/core/protection/device';
import { familyOf } from '@mesura/core/protection/registry';
import { Studies } from '@mesura/core/studies/studies';
import { extentsOf, plotOf } from '../../plots/gradingChart';
import type { Paper } from '../../plots/scene';
import { svgOf } from '../../plots/svg';
import { timeCurrentScene } from '../../plots/timeCurrent';
import { partOfDrawing } from '../../diagram/picture/print';
import { deviceStyles, light } from '../../theme/tokens';
import { cell, head, list, number, pdfOf, runs, section, small, titleBlockOf } from './base';

interface Issue {
  readonly project: string;
  readonly revision: number;
  readonly date: string;
}

/** Points of print: the width of the text, and what is left of the page under the title. */
const paper: Paper = {
  width: 762,
  height: 418,
  margin: { top: 8, right: 12, bottom: 74, left: 58 },
  text: 9,
  letter: 0.56,
};

/** The covered part of the one-line stands beside the chart where it is wanted, and takes so much of the width. */
const besideWidth = 200;

export function chartsPdf(
  network: Network,
  charts: readonly GradingChart[],
  issue: Issue,
  withDrawing: boolean,
): Promise<Buffer> {
  const studies = new Studies(network);
  const { owner } = settingsOf(network);
  return pdfOf({
    pageSize: 'A4',
    pageOrientation: 'landscape',
    pageMargins: [40, 34, 40, 62],
    info: { title: `${charts.length === 1 ? charts[0].name : 'Grading charts'}, ${issue.project}` },
    defaultStyle: { font: 'Sans', fontSize: 8, color: light.ink },
    footer: (page, pages) =>
      titleBlockOf([
        small(
          [owner, issue.project].filter(Boolean).join(' · '),
          charts.length === 1 ? charts[0].name : 'Grading charts',
        ),
        small('Revision of the project', String(issue.revision)),
        small('Date', issue.date),
        small('Page', `${page} of ${pages}`),
      ]),
    content: charts.flatMap((chart, k) => pagesOf(studies, chart, k > 0, withDrawing)),
  });
}

function pagesOf(studies: Studies, chart: GradingChart, onNewPage: boolean, withDrawing: boolean): Content[] {
  const { network } = studies;
  const basis = chartBasis(studies, chart);
  const curves = chartCurves(network, chart, basis, new Map());
  const judged = judgePairs(network, chart, basis, new Map());
  const limits = limitsOnChart(chart, basis);
  const pair = worstPair(judged);
  const plot = plotOf(network, chart, {
    curves,
    limits,
    pair,
    extents: extentsOf(chart, curves, limits, basis),
    basis,
  });
  const colours = new Map(
    chart.relays.map((id, k) => [id, deviceStyles[lookOf(chart, id, k).colour % deviceStyles.length].light]),
  );
  const part = withDrawing ? partOfDrawing(network, colours) : null;
  const sheet = part ? { ...paper, width: paper.width - besideWidth - 12 } : paper;
  const { under, over } = timeCurrentScene(plot, sheet);
  const picture: Content = { svg: svgOf({ paper: sheet, marks: [...under.marks, ...over.marks] }), width: sheet.width };
  const faults = modesOf(chart).map((mode) => ({ phase: 'phase', earth: 'earth', negative: 'unbalanced' })[mode]);
  return [
    {
      text: runs(chart.name),
      fontSize: 14,
      bold: true,
      ...(onNewPage && { pageBreak: 'before' as const }),
    },
    {
      text: runs(`${faults.join(' and ')} faults · ${plot.caption}`),
      color: light.muted,
      margin: [0, 0, 0, 4],
    },
    part ? { columns: [picture, { svg: part.svg, fit: [besideWidth, sheet.height] }], columnGap: 12 } : picture,
    { ...(section('Devices') as object), pageBreak: 'before' } as Content,
    devicesOf(curves),
    ...marksOf(curves),
    ...(judged.length > 0 ? [section('Margins'), marginsOf(network, judged)] : []),
    ...notesOf(chart),
  ];
}

/** Each function of the chart with its settings in the device's own terms, and its pickup in primary amperes. */
function devicesOf(curves: readonly ChartCurve[]): Content {
  const rows = curves.flatMap(({ device, label, isGuest, functions }) =>
    [...new Map(functions.map(({ fn }) => [fn.fn.id, fn])).values()].map((curve): TableCell[] => {
      const family = familyOf(curve.fn);
      const settings = family
        .settings(curve.fn)
        .filter(({ more }) => !more)
        .map(({ title, value, unit }) => `${title.toLowerCase()} ${plainNumber(value)}${unit ? ` ${unit}` : ''}`);
      const choices = (family.choices?.(curve.fn) ?? [])
        .filter(({ more }) => !more)
        .map(({ value, options }) => options.find((option) => option.value === value)?.label ?? value);
      const input = device.inputs.find(({ id }) => id === curve.input) ?? device.inputs[0];
      const ratio = device.kind === 'relay' && input ? `${input.rating.primaryA} / ${input.rating.secondaryA} A` : '';
      return [
        cell(label, { bold: true }),
        cell(isGuest ? `${deviceKindTitles[device.kind]}, not in the network` : deviceKindTitles[device.kind]),
        cell(curve.code),
        cell([...choices, ...settings].join('; ')),
        cell(ratio),
        number(formatCurrent(curve.pickupA, 4)),
      ];
    }),
  );
  return list(
    ['auto', 'auto', 'auto', '*', 'auto', 'auto'],
    [
      head('Device'),
      head('Kind'),
      head('Function'),
      head('Settings'),
      head('CT'),
      head('Picks up at, primary', { alignment: 'right' }),
    ],
    rows,
  );
}

function marksOf(curves: readonly ChartCurve[]): Content[] {
  const marks = new Map<string, string[]>();
  for (const { label, remembered } of curves)
    for (const mark of remembered) marks.set(mark, [...(marks.get(mark) ?? []), label]);
  return [...marks].map(([mark, names]): Content => ({
    text: runs(`Not confirmed here: ${names.join(', ')}: ${mark}.`),
    color: light.warn,
    margin: [0, 4, 0, 0],
  }));
}

function marginsOf(network: Network, judged: ReturnType<typeof judgePairs>): Content {
  const nameAt = (id: ElementId) => {
    const device = deviceOf(network, id);
    return device ? shortName(device) : '?';
  };
  const rows = judged.map(({ margin, mode, guest }): TableCell[] => {
    const { pair, decisive, wantedS, verdict } = margin;
    const ok = verdict === 'holds';
    return [
      cell(`${nameAt(pair.downstream)} - ${nameAt(pair.upstream)}${guest === null ? '' : `, with ${guest}`}`),
      cell(mode),
      number(decisive ? formatCurrent(decisive.downstreamA, 4) : ''),
      number(decisive ? formatCurrent(decisive.upstreamA, 4) : ''),
      number(decisive ? `${decisive.marginS.toFixed(3)} s` : ''),
      number(`${wantedS} s`),
      cell(decisive ? (conditionOf(network, decisive.condition)?.name ?? '') : ''),
      cell(ok ? 'OK' : `not met: ${marginWords(margin)}`, { color: ok ? light.pass : light.fail }),
    ];
  });
  return list(
    ['auto', 'auto', 'auto', 'auto', 'auto', 'auto', 'auto', '*'],
    [
      head('Downstream - upstream'),
      head('Faults'),
      head('below', { alignment: 'right' }),
      head('above', { alignment: 'right' }),
      head('Margin', { alignment: 'right' }),
      head('Required', { alignment: 'right' }),
      head('Decided in'),
      head('Verdict'),
    ],
    rows,
  );
}

const notesOf = ({ notes }: GradingChart): Content[] =>
  notes.length === 0
    ? []
    : [
        section('Notes'),
        ...notes.map(({ text, currentA, timeS }): Content => ({
          text: runs(`${formatCurrent(currentA, 3)}, ${formatNumber(timeS, 3)} s: ${text}`),
        })),
      ];
