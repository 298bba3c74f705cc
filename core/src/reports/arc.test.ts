/** The report on arc energy says what the study found, marks what is only remembered, and keeps every condition in the workbook. */
import { describe, expect, it } from 'vitest';
import { caloriesOf } from '../arc/clothing';
import { arcStudy, decidingCase, spotName } from '../arc/study';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { expectFollowed } from '../test/followed';
import { finished } from '../working/steps';
import { arcReport } from './arc';
import { reportSheets } from './report';

describe('the report on arc energy', () => {
  const studies = new Studies(demoNetwork());
  const conditions = studies.conditions.slice(0, 2);
  const report = finished(arcReport(studies, conditions));
  const section = (title: string) => report.sections.find((each) => each.title === title)!;
  const rows = finished(arcStudy(studies, conditions, { compare: false, only: null }));
  it('has every place, the worst first, with its energy', () => {
    const { table } = section('Places, the worst first');
    expect(table!.rows).toHaveLength(rows.length);
    const energies = table!.rows.map(({ cells }) => cells.at(-1) as number);
    expect(energies).toEqual([...energies].sort((p, q) => q - p));
    for (const row of rows) {
      const told = table!.rows.find(({ cells }) => cells[0] === spotName(studies.network, row.spot))!;
      expect(told.cells.at(-1)).toBeCloseTo(caloriesOf(decidingCase(row.worst!).energy), 9);
      expect(told.tone === 'fail').toBe((told.cells.at(-1) as number) > 40);
    }
    expect(section('Basis').text!.join()).toMatch(/nobody has confirmed its coefficients/);
  });
  it('has workings that can be followed, and every condition in the workbook', () => {
    for (const { title, sections } of section('Workings of the worst places').workings!)
      expectFollowed(sections, title);
    const sheet = reportSheets(report).find(({ name }) => name === 'Every condition')!;
    expect(sheet.rows).toHaveLength(1 + rows.reduce((sum, { results }) => sum + results.length, 0));
  });
});
