/** The report on arc energy says what the study found, marks what is only remembered, and keeps every condition in the workbook. */
import { describe, expect, it } from 'vitest';
import { arcLines, arcTable } from '../arc/table';
import { Studies } from '../studies/studies';
import { wholeDemo } from '../test/demo';
import { expectFollowed } from '../test/followed';
import { finished } from '../working/steps';
import { arcReport } from './arc';
import { reportSheets } from './report';

describe('the report on arc energy', () => {
  const studies = new Studies(wholeDemo());
  const conditions = studies.conditions.slice(0, 2);
  const report = finished(arcReport(studies, conditions));
  const section = (title: string) => report.sections.find((each) => each.title === title)!;
  const lines = arcLines(studies.whole, finished(arcTable(studies, conditions, { compare: false, only: null })));
  it('has every place, the worst first, with its energy', () => {
    const { table } = section('Places, the worst first');
    expect(table!.rows).toHaveLength(lines.length);
    const energies = table!.rows.map(({ cells }) => cells.at(-1) as number);
    expect(energies).toEqual([...energies].sort((p, q) => q - p));
    for (const { name, worst } of lines) {
      const told = table!.rows.find(({ cells }) => cells[0] === name)!;
      expect(told.cells.at(-1)).toBeCloseTo(worst!.cal, 9);
      expect(told.tone === 'fail').toBe((told.cells.at(-1) as number) > 40);
    }
    expect(lines.some(({ system }) => system === 'dc')).toBe(true);
    expect(section('Basis').text!.join()).toMatch(/nobody has confirmed its coefficients/);
  });
  it('has workings that can be followed, and every condition in the workbook', () => {
    for (const { title, sections } of section('Workings of the worst places').workings!)
      expectFollowed(sections, title);
    const sheet = reportSheets(report).find(({ name }) => name === 'Every condition')!;
    expect(sheet.rows).toHaveLength(1 + lines.reduce((sum, { all }) => sum + all.length, 0));
  });
});
