/** The workbook of a line package: opened by a second library, its formulas give the same figures; typed, simulated and calculated cells are told apart. */
import ExcelJs from 'exceljs';
import { HyperFormula, type RawCellContent } from 'hyperformula';
import { describe, expect, it } from 'vitest';
import { writeXlsx } from '../formats/tables/xlsx';
import { elementId as id } from '../model/fields';
import { newLinePackage } from '../model/linePackage';
import { find, withElements, type Network } from '../model/network';
import { sheetDifferences } from '../sheets/difference';
import { packageContent } from '../sheets/documents';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { finished } from '../working/steps';
import { withOverride } from '../linePackage/package';
import { packageReport } from './linePackage';
import { reportSheets } from './report';

const studies = new Studies(demoNetwork());
const pack = withOverride(
  { ...newLinePackage(id('pack'), 'FER-MAR', id('fer-mar')), scheme: 'permissiveOverreach' as const },
  { line: id('fer-mar'), terminal: 0 },
  'earth',
  120,
  'as the neighbours',
);
const report = finished(packageReport(studies, pack, '2026-11-30'));

async function opened() {
  const book = new ExcelJs.Workbook();
  await book.xlsx.load((await writeXlsx(reportSheets(report))).slice().buffer as ArrayBuffer);
  return book;
}

type Formula = { formula: string; result?: number };
const isFormula = (value: unknown): value is Formula =>
  typeof value === 'object' && value !== null && 'formula' in value;

describe('the sheet of a line package', () => {
  it('is the same whenever it is made, and tells what differs when the line does', () => {
    const at = (network: Network) => finished(packageContent(new Studies(withElements(network, [pack])), 'pack'))!;
    const content = at(demoNetwork());
    expect(content).toMatchObject({ subject: 'linePackage', name: 'FER-MAR', station: 'FER-MAR' });
    expect(JSON.stringify(content)).not.toMatch(/20\d\d-\d\d-\d\d/);
    expect(sheetDifferences(content, at(demoNetwork()))).toEqual([]);
    const line = find(demoNetwork(), 'line', id('fer-mar'))!;
    const longer = at(withElements(demoNetwork(), [{ ...line, lengthKm: line.lengthKm * 1.1 }]));
    expect(sheetDifferences(content, longer).some(({ part }) => part === 'row')).toBe(true);
    expect(finished(packageContent(studies, 'nowhere'))).toBeNull();
  });
});

describe('the workbook of a line package', () => {
  it('calculates by itself: every formula gives the figure that was written beside it', async () => {
    const book = await opened();
    const sheets: Record<string, RawCellContent[][]> = {};
    const written: { sheet: string; row: number; col: number; result: number }[] = [];
    book.eachSheet((sheet) => {
      const rows: RawCellContent[][] = [];
      sheet.eachRow({ includeEmpty: true }, (row, r) => {
        const line: RawCellContent[] = [];
        for (let k = 1; k <= row.cellCount; k++) {
          const { value } = row.getCell(k);
          if (isFormula(value)) {
            written.push({
              sheet: sheet.name,
              row: r - 1,
              col: k - 1,
              // The library leaves a nought out.
              result: value.result ?? 0,
            });
            line.push(`=${value.formula}`);
          } else line.push(typeof value === 'number' ? value : typeof value === 'string' ? `'${value}` : null);
        }
        rows[r - 1] = line;
      });
      sheets[sheet.name] = Array.from(rows, (row) => row ?? []);
    });
    expect(written.length).toBeGreaterThan(200);
    const engine = HyperFormula.buildFromSheets(sheets, { licenseKey: 'gpl-v3' });
    for (const { sheet, row, col, result } of written) {
      const value = engine.getCellValue({ sheet: engine.getSheetId(sheet)!, row, col });
      expect(typeof value, `${sheet} ${row + 1} ${col + 1}: ${JSON.stringify(value)}`).toBe('number');
      // As far as a reader can see: nine figures.
      expect(Math.abs((value as number) - result)).toBeLessThanOrEqual(1e-9 * Math.max(1, Math.abs(result)));
    }
    engine.destroy();
  });
  it('goes on calculating: another current transformer moves the secondary values', async () => {
    const book = await opened();
    const data = book.worksheets.find(({ name }) => name.startsWith('Data of the line'))!;
    const elements = book.worksheets.find(({ name }) => name === 'FER  elements')!;
    const names = elements.getRow(1).values as string[];
    const secondary = names.indexOf('Secondary');
    let formula = '';
    elements.eachRow((row) => {
      const value = row.getCell(secondary).value;
      if (row.getCell(2).value === 'Zone 2, reach' && isFormula(value)) formula = value.formula;
    });
    expect(formula).toMatch(/^'FER {2}elements'!\$D\$\d+\*'Data of the line and of its'?/);
    expect(data.getRow(2).getCell(8).fill).toMatchObject({ fgColor: { argb: 'FFFFF1C9' } });
  });
  it('tells typed, simulated and calculated figures apart, and what a person has set', () => {
    const origins = new Set(
      report.sections.flatMap(({ table }) =>
        (table?.rows ?? []).flatMap(({ cells }) =>
          cells.flatMap((cell) => (typeof cell === 'object' && cell ? [cell.origin] : [])),
        ),
      ),
    );
    expect(origins).toEqual(new Set(['input', 'simulated', 'calculated']));
    const elements = report.sections.find(({ title }) => title === 'FER: elements')!.table!;
    const own = elements.rows.find(({ cells }) => cells[1] === 'Earth backup ahead, pickup')!;
    expect(own.cells[2]).toMatchObject({ value: 94, origin: 'calculated' });
    expect(own.cells[3]).toMatchObject({ value: 120, origin: 'input' });
    expect(own.cells.at(-1)).toBe('set by hand: as the neighbours');
    expect(report.title).toBe('Line package FER-MAR, 132 kV, 2026-11-30');
    const proof = report.sections.find(({ title }) => title === 'Loadability')!;
    expect(proof.table!.rows.every(({ cells }) => cells.at(-1) === 'yes')).toBe(true);
  });
});
