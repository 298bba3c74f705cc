import { describe, expect, it } from 'vitest';
import { maximumSources } from '../model/condition';
import { elementId } from '../model/fields';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { usualSearch, search } from '../trials/search';
import { finished } from '../working/steps';
import { reportSheets } from './report';
import { searchReport } from './search';

describe('the report of a search', () => {
  it('says what was played, each cause with its worst fault, and all faults in the workbook', () => {
    const studies = new Studies(demoNetwork());
    const options = { ...usualSearch, alongLines: 1, only: [elementId('fer-bra-2'), elementId('cau-132')] };
    const found = finished(search(studies, [maximumSources], options));
    const report = finished(searchReport(studies, [maximumSources], options));
    const [basis, causes, all] = report.sections;
    expect(Object.fromEntries(basis.facts!).Result).toContain(`${found.played} faults`);
    expect(causes.table!.rows).toHaveLength(found.groups.length);
    expect(all.table!.rows).toHaveLength(found.groups.reduce((sum, { faults }) => sum + faults.length, 0));
    expect(causes.table!.rows.some(({ cells }) => cells[0] === 'wrong breaker' && cells[3] === 'BRA Q02')).toBe(true);
    const text = JSON.stringify(reportSheets(report));
    expect(text).not.toMatch(/undefined|NaN/);
    expect(text).toContain('FER-BRA 2 at 50 %');
  });
});
