/** Current returning through earth as a report: every station over the conditions, profiles of the worst one of each, workings. */
import { profileRows } from '../earthReturn/profiles';
import { caseOf, earthDetail, earthStudy, verdictTitles, type EarthQuery, type EarthRow } from '../earthReturn/study';
import { earthWorking } from '../earthReturn/working';
import type { EarthFaultKind } from '../earthReturn/fromNetwork';
import type { Condition } from '../model/condition';
import { nameIn, ofKind, settingsOf } from '../model/network';
import { conditionOf } from '../model/state';
import type { Studies } from '../studies/studies';
import { within } from '../working/steps';
import type { Report, ReportColumn, ReportSection } from './report';

const methodNames = {
  series: 'J. R. Carson 1926, whole series',
  twoTerm: 'J. R. Carson 1926, limit for low heights',
  complexDepth: 'complex depth of A. Deri et al. 1981',
} as const;

const figure = (head: string): ReportColumn => ({ head, figure: true });

/** Yields the share that is done. */
export function* earthReport(
  studies: Studies,
  conditions: readonly Condition[],
  kind: EarthFaultKind,
): Generator<number, Report> {
  const { network } = studies;
  const { owner, earthReturn } = settingsOf(network);
  const { rows, without, remarks } = yield* within(earthStudy(studies, conditions, kind), 0, 0.7);
  const told = rows.flatMap((row) => (row.figures ? [{ ...row, figures: row.figures }] : []));
  const conditionName = ({ condition }: Pick<EarthRow, 'condition'>) => conditionOf(network, condition)?.name ?? '';
  const worst = new Map<string, (typeof told)[number]>();
  for (const row of told) {
    const before = worst.get(row.bus);
    if (!before || row.figures.riseV / row.figures.touch.metV > before.figures.riseV / before.figures.touch.metV)
      worst.set(row.bus, row);
  }
  const details: ReportSection[] = [];
  const workings: { title: string; sections: ReturnType<typeof earthWorking> }[] = [];
  const asked: { readonly title: string; readonly query: EarthQuery }[] = [
    ...[...worst.values()].map((row) => ({
      title: `${nameIn(network, row.bus)}, ${conditionName(row)}`,
      query: { of: 'network', condition: row.condition, place: { at: 'bus', bus: row.bus }, kind } as const,
    })),
    ...ofKind(network, 'earthStudy').map(({ id, name }) => ({
      title: name,
      query: { of: 'study', study: id, fault: null } as const,
    })),
  ];
  for (const [k, { title, query }] of asked.entries()) {
    yield 0.7 + (0.3 * k) / asked.length;
    const made = caseOf(studies, query);
    const found = earthDetail(network, made);
    if (!found.ok || !made.found.ok) {
      details.push({ title, text: [found.ok ? '' : found.problem] });
      continue;
    }
    const { figures } = found.detail;
    details.push({
      title: `${title}: stations`,
      facts: [
        ['Split factor', figures.split.toPrecision(4)],
        ['Into the grid', `${figures.gridA.toPrecision(4)} A`],
        ['Earth potential rise', `${figures.riseV.toPrecision(4)} V`],
        ['Fault lasts', `${figures.touch.seconds.toPrecision(3)} s`],
        ['Met without proof up to', `${figures.touch.metV.toPrecision(4)} V`],
        ['Touch voltage', verdictTitles[figures.verdict]],
      ],
      table: {
        columns: [{ head: 'Station', wide: 3 }, figure('Potential V'), figure('From earth A'), figure('By wires A')],
        rows: figures.stations.map(({ name, riseV, fromEarthA, byWiresA }) => ({
          cells: [name, riseV, fromEarthA, byWiresA],
        })),
      },
    });
    const profile = profileRows(found.detail);
    details.push({
      title: `${title}: along the lines`,
      workbookOnly: true,
      table: {
        columns: profile.columns.map(({ head }) => (/^(line|place)$/.test(head) ? { head, wide: 2 } : figure(head))),
        rows: profile.rows.map((row) => ({ cells: profile.columns.map(({ key }) => row[key] ?? '') })),
      },
    });
    workings.push({ title, sections: earthWorking(network, made.found.case, made.time) });
  }
  return {
    title: 'Current returning through earth',
    owner,
    sections: [
      {
        title: 'Basis',
        facts: [
          ['Conditions', conditions.map(({ name }) => name).join(', ')],
          ['Fault', kind === '1ph' ? 'single-phase, IEC 60909-0' : 'two-phase to earth, IEC 60909-0'],
          ['Impedances with earth as the return', methodNames[earthReturn.method]],
          [
            'Lines beyond those of the faulted station',
            earthReturn.farther === 1 ? 'one step' : `${earthReturn.farther} steps`,
          ],
          ['Limits', told[0]?.figures.touch.source ?? ''],
          [
            'Result',
            `${worst.size} places, ${[...worst.values()].filter(({ figures }) => figures.verdict === 'prove').length} where touch voltages are to be shown`,
          ],
        ],
        text: [
          ...(without.length > 0
            ? [`The earthing is not given of: ${without.map(({ name }) => name).join(', ')}.`]
            : []),
          ...remarks.map((text) => `${text[0].toUpperCase()}${text.slice(1)}.`),
        ],
      },
      {
        title: 'Stations',
        table: {
          columns: [
            { head: 'Busbar', wide: 2 },
            { head: 'Condition', wide: 2 },
            figure('Over lines A'),
            figure('Into grid A'),
            figure('Split factor'),
            figure('Df'),
            figure('Rise V'),
            figure('t s'),
            figure('Met up to V'),
            { head: 'Touch voltage', wide: 2.4 },
            figure('Highest at a tower V'),
            figure('Hottest wire %'),
          ],
          rows: told.map((row) => {
            const { figures } = row;
            const { hottest } = figures;
            const isOver = hottest !== null && hottest.ampere > hottest.borneA;
            return {
              cells: [
                nameIn(network, row.bus),
                conditionName(row),
                figures.linesA,
                figures.gridA,
                figures.split,
                figures.decrement ?? '',
                figures.riseV,
                row.time.timeS,
                figures.touch.metV,
                verdictTitles[figures.verdict],
                figures.worstTower?.volts ?? '',
                hottest ? (100 * hottest.ampere) / hottest.borneA : '',
              ],
              ...(figures.verdict === 'prove' || isOver ? { tone: 'fail' as const } : {}),
            };
          }),
        },
      },
      ...details,
      { title: 'Workings', workings },
    ],
  };
}
