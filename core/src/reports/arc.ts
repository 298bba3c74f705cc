/** Arc energy of all places as a report: what was found, every condition in the workbook, the working of what is above the limit. */
import { clothingFor, shockBoundaries, shockSource } from '../arc/clothing';
import { methodTitles } from '../arc/judge';
import { arcLines, arcTable, clearedBy, isOver, lineWorking, type ArcFigures, type ArcLine } from '../arc/table';
import type { Condition } from '../model/condition';
import { settingsOf } from '../model/network';
import type { Studies } from '../studies/studies';
import type { Report, ReportColumn } from './report';

/** Workings of more places fill pages that nobody reads. */
const mostWorkings = 12;

/** Yields the share that is done. */
export function* arcReport(studies: Studies, conditions: readonly Condition[]): Generator<number, Report> {
  const { whole: network } = studies;
  const { arc, owner } = settingsOf(network);
  const lines = arcLines(network, yield* arcTable(studies, conditions, { compare: true, only: null }));
  const over = (line: ArcLine) => isOver(network, line);
  const worstLines = lines.filter(({ worst }) => worst !== null).sort((p, q) => q.worst!.energy - p.worst!.energy);
  const columns: ReportColumn[] = [
    { head: 'Place', wide: 3 },
    { head: 'kV', figure: true },
    { head: '', wide: 0.6 },
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
  const told = (line: ArcLine, of: ArcFigures, other: number | null) => [
    line.name,
    line.voltageKv,
    line.system,
    of.boltedKa,
    of.arcingKa,
    of.decides,
    of.burnsS,
    clearedBy(line, of),
    of.conditionName,
    line.distanceMm,
    of.boundaryMm,
    `${of.method}${of.confirmed ? '' : ' (as remembered)'}`,
    other ?? '',
    of.cal,
  ];
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
            `${lines.length} places, ${lines.filter(over).length} above the limit, ${lines.filter(({ worst }) => worst?.limited).length} not cleared in time`,
          ],
        ],
        text: [
          ...new Set(lines.flatMap(({ problems }) => problems)),
          ...(lines.some(({ worst }) => worst && !worst.confirmed)
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
          rows: worstLines.map((line) => ({
            cells: told(line, line.worst!, line.otherCal),
            ...(over(line) ? { tone: 'fail' as const } : {}),
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
          rows: worstLines.map(({ name, voltageKv, system, worst }) => {
            const shock = shockBoundaries(voltageKv, system);
            const wear = clothingFor(arc.clothing, worst!.energy)?.wear ?? 'no work on it energised';
            return { cells: [name, wear, shock?.limitedM ?? '', shock?.restrictedM ?? ''] };
          }),
        },
      },
      {
        title: 'Every condition',
        workbookOnly: true,
        table: {
          columns,
          rows: lines.flatMap((line) => line.all.map((of) => ({ cells: told(line, of, null) }))),
        },
      },
      {
        title: 'Workings of the worst places',
        workings: worstLines.slice(0, mostWorkings).map((line) => ({
          title: line.name,
          sections: lineWorking(network, line),
        })),
      },
    ],
  };
}
