/** `mesura sheet`: drafts of setting sheets. What a running server has issued: see `remote`. */
import type { Studies } from '@mesura/core/studies/studies';
import { alternating } from '@mesura/core/model/directPart';
import type { Network } from '@mesura/core/model/network';
import { devicesOf } from '@mesura/core/protection/device';
import { bytesOf } from '@mesura/core/formats/open';
import type { IssuableContent, Subject } from '@mesura/core/sheets/content';
import { arcContent, packageContent } from '@mesura/core/sheets/documents';
import { sheetContent } from '@mesura/core/sheets/sheet';
import { sheetChecks } from '@mesura/core/sheets/statements';
import { subjectsOf } from '@mesura/core/sheets/subjects';
import { sheetWorkbook } from '@mesura/core/sheets/workbook';
import { finished } from '@mesura/core/working/steps';
import { onePath, projectFrom, type Call, type Command, type Outcome, studiesOf } from '../command';
import { elementNamed, oneOf, Refusal, type Values } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

const formats = ['table', 'csv', 'json', 'pdf', 'xlsx'] as const;

/** Exit code 3 where a statement of a sheet does not hold. */
export const sheetCommand: Command = {
  name: 'sheet',
  takes: 'FILE',
  summary: studySummaries.sheet,
  run: draftSheet,
};

/** At once, but for documents. */
function draftSheet(call: Call): Outcome | Promise<Outcome> {
  const { values } = call;
  const format = oneOf('--format', values.format, formats);
  const { network: whole, name } = projectFrom(onePath(call, 'sheet'), call.read);
  const studies = studiesOf(whole);
  const subject = subjectAsked(whole, values);
  if (!subject) {
    if (format === 'pdf' || format === 'xlsx')
      throw new Refusal(2, `--format ${format} is of one sheet: add --device NAME`);
    return listed(studies, format);
  }
  const content = contentOf(studies, subject);
  if (!content)
    throw new Refusal(1, 'there is nothing to say about it: it is no device, or nothing feeds an arc there');
  const code = content.subject === 'device' && content.statements.some(({ verdict }) => verdict === 'short') ? 3 : 0;
  const plain = { code, output: '', errors: '' } as const;
  if (format === 'json') return { ...plain, output: `${JSON.stringify(content, null, 2)}\n` };
  if (format === 'xlsx') {
    const head = { project: name, revision: 'Draft', reason: '', digest: '', signatures: [] };
    return bytesOf(sheetWorkbook(content, head), 'xlsx').then((bytes) => ({ ...plain, bytes }));
  }
  if (format === 'pdf') {
    if (!call.documents) throw new Refusal(2, 'sheets as PDF are written by the terminal or the server');
    const written = call.documents.sheetPdf({ network: whole, name, notes: '' }, subject);
    return written.then((bytes) => ({ ...plain, bytes: bytes! }));
  }
  if (content.subject !== 'device') throw new Refusal(2, `a ${content.subject} has --format json, pdf or xlsx`);
  const columns: Column<(typeof content.values)[number]>[] = [
    { head: 'function', name: 'function', value: ({ code: of }) => of },
    { head: 'setting', name: 'setting', value: ({ setting }) => setting },
    { head: 'value', name: 'value', value: ({ value, shown }) => shown ?? value },
    { head: 'unit', name: 'unit', value: ({ unit }) => unit },
    { head: 'primary', name: 'primary', value: ({ primary }) => primary?.value ?? null },
    { head: '', name: 'primary_unit', value: ({ primary }) => primary?.unit ?? null },
    { head: 'secondary', name: 'secondary', value: ({ secondary }) => secondary?.value ?? null },
    { head: '', name: 'secondary_unit', value: ({ secondary }) => secondary?.unit ?? null },
    { head: 'origin', name: 'origin', value: ({ state }) => state },
  ];
  return { ...plain, output: tableOf(columns, content.values, format) };
}

function subjectAsked(network: Network, { device, package: pack, at }: Values): Subject | null {
  const asked = [device, pack, at?.[0]].filter((each) => each !== undefined);
  if (asked.length > 1) throw new Refusal(2, 'sheet takes one of --device, --package and --at');
  if (device !== undefined)
    return { kind: 'device', id: elementNamed(network, device, ['relay', 'switch'], 'device').id };
  if (pack !== undefined)
    return { kind: 'linePackage', id: elementNamed(network, pack, ['linePackage'], 'line package').id };
  if (at !== undefined) return { kind: 'arcLabel', id: elementNamed(network, at[0], ['bus'], 'busbar').id };
  return null;
}

function contentOf(studies: Studies, { kind, id }: Subject): IssuableContent | null {
  if (kind === 'linePackage') return finished(packageContent(studies, id));
  if (kind === 'arcLabel') return finished(arcContent(studies, id));
  return sheetContent(studies, id as never);
}

/** All that there are sheets of, with how many of their statements do not hold. */
function listed(studies: Studies, format: 'table' | 'csv' | 'json'): Outcome {
  const network = alternating(studies.whole);
  const run = finished(sheetChecks(studies, devicesOf(network)));
  const rows = subjectsOf(studies.whole).map((subject) => {
    const content = subject.kind === 'device' ? sheetContent(studies, subject.id as never, run) : null;
    return {
      ...subject,
      functions: content ? [...new Set(content.values.map(({ code }) => code))].join(' ') : '',
      statements: content?.statements.length ?? 0,
      short: content?.statements.filter(({ verdict }) => verdict === 'short').length ?? 0,
    };
  });
  const columns: Column<(typeof rows)[number]>[] = [
    { head: 'sheet of', name: 'name', value: ({ name }) => name },
    { head: 'type', name: 'type', value: ({ type }) => type },
    { head: 'station', name: 'station', value: ({ station }) => station },
    { head: 'functions', name: 'functions', value: ({ functions }) => functions },
    { head: 'statements', name: 'statements', value: ({ statements }) => statements },
    { head: 'not met', name: 'short', value: ({ short }) => short },
  ];
  const output =
    format === 'json'
      ? `${JSON.stringify({ command: 'sheet', sheets: rows }, null, 2)}\n`
      : tableOf(columns, rows, format);
  return { code: rows.some(({ short }) => short > 0) ? 3 : 0, output, errors: '' };
}
