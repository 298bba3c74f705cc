/** The board schedule: on paper and as a workbook whose formulas give the figures that stand beside them, calculated by a second library. */
import ExcelJS from 'exceljs';
import { HyperFormula, type RawCellContent } from 'hyperformula';
import { describe, expect, it } from 'vitest';
import { writeXlsx } from '../formats/tables/xlsx';
import { caseOfKey, circuitTable } from '../lowVoltage/study';
import { elementId as id } from '../model/fields';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { finished } from '../working/steps';
import { boardsReport } from './boards';
import { circuitLabels, circuitReport } from './circuits';
import { reportSheets } from './report';

const studies = new Studies(demoNetwork());
const board = id('bra-db1');

type Formula = { formula: string; result?: number };
const isFormula = (value: unknown): value is Formula =>
  typeof value === 'object' && value !== null && 'formula' in value;

describe('the board schedule', () => {
  it('has a row for each circuit; what is short stands below with its clause', () => {
    const report = finished(circuitReport(studies, studies.conditions, board));
    const [, schedule, short] = report.sections;
    expect(schedule).toMatchObject({ title: 'BRA DB1' });
    expect(schedule.table!.rows).toHaveLength(12);
    expect(schedule.table!.rows[0]).toMatchObject({ tone: 'fail' });
    expect(schedule.table!.columns).toHaveLength(schedule.table!.onPaper!.length);
    expect(short.table!.rows.map(({ cells }) => cells.slice(0, 2))).toEqual([
      ['Flocculation pump', 'Disconnection in time'],
    ]);
    expect(JSON.stringify(short)).toContain('411.3.2');
  });
  it('calculates by itself', async () => {
    const report = finished(circuitReport(studies, studies.conditions, board));
    const book = new ExcelJS.Workbook();
    await book.xlsx.load((await writeXlsx(reportSheets(report))).buffer as ArrayBuffer);
    const sheets: Record<string, RawCellContent[][]> = {};
    const expected: { sheet: string; row: number; column: number; value: number }[] = [];
    book.eachSheet((sheet) => {
      const rows: RawCellContent[][] = [];
      sheet.eachRow({ includeEmpty: true }, (row, r) => {
        const line: RawCellContent[] = [];
        row.eachCell({ includeEmpty: true }, ({ value }, c) => {
          if (isFormula(value)) {
            line[c - 1] = `=${value.formula}`;
            expected.push({ sheet: sheet.name, row: r - 1, column: c - 1, value: value.result! });
          } else line[c - 1] = typeof value === 'number' || typeof value === 'string' ? value : null;
        });
        rows[r - 1] = line;
      });
      sheets[sheet.name] = rows.map((line) => line ?? []);
    });
    const engine = HyperFormula.buildFromSheets(sheets, { licenseKey: 'gpl-v3' });
    // Five formulas a circuit: Ib/In, Iz, In/Iz, ΔU, Ia/Ik1.
    expect(expected.length).toBe(12 * 5);
    for (const { sheet, row, column, value } of expected) {
      const own = engine.getCellValue({ sheet: engine.getSheetId(sheet)!, row, col: column });
      expect((own as number) / value, `${sheet} ${row} ${column}`).toBeCloseTo(1, 9);
    }
    engine.destroy();
  });
  it('of one circuit has everything that it has to meet, and the working', () => {
    const key = id('bra-f81');
    const report = finished(circuitReport(studies, studies.conditions, null, [key]));
    expect(report.title).toBe('Circuit Flocculation pump');
    expect(report.sections.map(({ title }) => title)).toEqual([
      'Basis',
      'BRA DB1',
      'What the circuit has to meet',
      'Working',
    ]);
    expect(report.sections[3].workings![0].sections.length).toBeGreaterThan(3);
    expect(caseOfKey(studies, studies.conditions, key)).not.toBeNull();
  });
  it('labels say device, cable, phases and current', () => {
    const { rows } = finished(circuitTable(studies, studies.conditions, board));
    const labels = circuitLabels(studies.network, rows);
    expect(labels).toHaveLength(12);
    expect(labels.find(({ title }) => title === 'Sockets east')).toMatchObject({
      board: 'BRA DB1',
      device: 'BRA F90 B16 + RCD 30 mA',
      lines: ['BRA W90: 4 mm², 24 m', expect.stringMatching(/^L2, 10\.\d A$/)],
    });
  });
});

describe('the report of boards', () => {
  it('has links, ratings and the bill', () => {
    const { sections } = finished(boardsReport(studies, studies.conditions));
    expect(sections.map(({ title }) => title)).toEqual([
      'Basis',
      'How they feed each other',
      'Ratings of the busbars',
      'Bill of material',
    ]);
    const [, links, ratings] = sections;
    expect(links.table!.rows.find(({ cells }) => cells[0] === 'BRA DB1')!.cells).toContain('BRA 0.4-2 (BRA WDB1)');
    expect(ratings.table!.rows.length % 3).toBe(0);
  });
});
