/** Arc energy of all places as a report: what was found, every condition in the workbook, the working of what is above the limit. */
import { caloriesOf, clothingFor, shockBoundaries, shockSource } from '../arc/clothing';
import { methodTitles } from '../arc/judge';
import { arcStudy, decidingCase, governingDevice, spotName, type ArcResult, type ArcRow } from '../arc/study';
import { arcWorking } from '../arc/working';
import type { Condition } from '../model/condition';
import { settingsOf } from '../model/network';
import { conditionOf } from '../model/state';
import type { Studies } from '../studies/studies';
import type { Report, ReportColumn } from './report';

/** Workings of more places fill pages that nobody reads. */
const mostWorkings = 12;

/** Yields the share that is done. */
export function* arcReport(studies: Studies, conditions: readonly Condition[]): Generator<number, Report> {
  const { network } = studies;
  const { arc, owner } = settingsOf(network);
  const rows = yield* arcStudy(studies, conditions, { compare: true, only: null });
  const conditionName = ({ condition }: ArcResult) => conditionOf(network, condition)?.name ?? '';
  const cleared = (row: ArcRow, result: ArcResult) => {
    const by = governingDevice(network, result);
    return by ? `${by.name}, ${by.code}` : `nothing within ${row.longestS} s`;
  };
  const over = ({ worst }: ArcRow) => worst !== null && caloriesOf(decidingCase(worst).energy) > arc.limitCal;
  const worstRows = rows
    .filter(({ worst }) => worst !== null)
    .sort((p, q) => decidingCase(q.worst!).energy - decidingCase(p.worst!).energy);
  const columns: ReportColumn[] = [
    { head: 'Place', wide: 3 },
    { head: 'kV', figure: true },
    { head: 'Ibf kA', figure: true },
    { head: 'Iarc kA', figure: true },
    { head: 'Decides', wide: 1 },
    { head: 't s', figure: true },
    { head: 'Cleared by', wide: 2.4 },
    { head: 'Condition', wide: 2 },
    { head: 'Distance mm', figure: true },
    { head: 'AFB mm', figure: true },
    { head: 'Method', wide: 2.4 },
    { head: 'Other edition cal/cm²', figure: true },
    { head: 'cal/cm²', figure: true },
  ];
  const told = (row: ArcRow, result: ArcResult, other: ArcResult | null) => {
    const own = decidingCase(result);
    return [
      spotName(network, row.spot),
      row.at.voltageKv,
      result.boltedKa,
      own.arcingKa,
      result.decides,
      own.burnsS,
      cleared(row, result),
      conditionName(result),
      row.at.distanceMm,
      own.boundaryMm,
      `${methodTitles[result.method]}${result.confirmed ? '' : ' (as remembered)'}`,
      other ? caloriesOf(decidingCase(other).energy) : '',
      caloriesOf(own.energy),
    ];
  };
  return {
    title: 'Arc energy',
    owner,
    sections: [
      {
        title: 'Basis',
        facts: [
          ['Conditions', conditions.map(({ name }) => name).join(', ')],
          ['Method', methodTitles[arc.edition]],
          ['Longest time', `${arc.longestS} s, unless a place has its own`],
          ['Motors', arc.motorsFeedS === null ? 'as long as they are connected' : `for ${arc.motorsFeedS} s`],
          ['Limit', `${arc.limitCal} cal/cm²`],
          [
            'Result',
            `${rows.length} places, ${rows.filter(over).length} above the limit, ${rows.filter(({ worst }) => worst && decidingCase(worst).limited).length} not cleared in time`,
          ],
        ],
        text: [
          ...new Set(rows.flatMap(({ problems }) => problems)),
          ...(rows.some(({ worst }) => worst && !worst.confirmed)
            ? [
                'Where the method is marked "as remembered", nobody has confirmed its coefficients against the standard.',
              ]
            : []),
        ],
      },
      {
        title: 'Places, the worst first',
        table: {
          columns,
          rows: worstRows.map((row) => ({
            cells: told(row, row.worst!, row.other),
            ...(over(row) ? { tone: 'fail' as const } : {}),
          })),
        },
      },
      {
        title: 'Clothing and approach',
        text: [shockSource],
        table: {
          columns: [
            { head: 'Place', wide: 3 },
            { head: 'Clothing', wide: 4 },
            { head: 'Limited m', figure: true },
            { head: 'Restricted m', figure: true },
          ],
          rows: worstRows.map((row) => {
            const shock = shockBoundaries(row.at.voltageKv, 'ac');
            const wear = clothingFor(arc.clothing, decidingCase(row.worst!).energy)?.wear ?? 'no work on it energised';
            return { cells: [spotName(network, row.spot), wear, shock?.limitedM ?? '', shock?.restrictedM ?? ''] };
          }),
        },
      },
      {
        title: 'Every condition',
        workbookOnly: true,
        table: {
          columns,
          rows: rows.flatMap((row) => row.results.map((result) => ({ cells: told(row, result, null) }))),
        },
      },
      {
        title: 'Workings of the worst places',
        workings: worstRows.slice(0, mostWorkings).map((row) => ({
          title: spotName(network, row.spot),
          sections: arcWorking(network, row, row.worst!, row.worst!.decides === 'reduced'),
        })),
      },
    ],
  };
}
