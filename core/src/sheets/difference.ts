/** What differs between two states of a sheet: what has changed since the last revision, and what of an issued one no longer holds. */
import type { ReportCell } from '../reports/report';
import { verdictTitles as trialTitles } from '../trials/words';
import type { DeviceFigures, DocumentContent, SheetContent, SheetStatement, SheetValue } from './content';
import { valueKey } from './content';
import type { StoredContent } from './digestible';

/** `statement`: a check that no longer comes out as it was signed; `worse`: it held then. */
export type DifferencePart = 'value' | 'function' | 'device' | 'statement' | 'margin' | 'figure' | 'trial' | 'row';

export interface SheetDifference {
  readonly part: DifferencePart;
  readonly what: string;
  /** Empty where it was not there, or is gone. */
  readonly before: string;
  readonly after: string;
  /** It held, and does not hold any more. */
  readonly worse?: true;
}

/** Closer than this is the same: results of different ways through the same network. */
const tolerance = 1e-6;
export const isSame = (p: number, q: number): boolean =>
  p === q || Math.abs(p - q) <= tolerance * Math.max(Math.abs(p), Math.abs(q), 1e-9);

const figure = (value: number | string | null, unit = ''): string =>
  value === null ? '–' : typeof value === 'string' ? value : `${Number(value.toPrecision(4))}${unit && ` ${unit}`}`;

const alike = (p: number | string | null, q: number | string | null): boolean =>
  typeof p === 'number' && typeof q === 'number' ? isSame(p, q) : p === q;

/** Pairs of two lists by a key, those of the second list in its order, and what is gone at the end. */
function paired<T>(
  before: readonly T[],
  after: readonly T[],
  keyOf: (each: T) => string,
): (readonly [T | null, T | null])[] {
  const known = new Map(before.map((each) => [keyOf(each), each]));
  const now = after.map((each): readonly [T | null, T] => {
    const key = keyOf(each);
    const was = known.get(key) ?? null;
    known.delete(key);
    return [was, each];
  });
  return [...now, ...[...known.values()].map((gone): readonly [T, null] => [gone, null])];
}

/** Empty where both say the same. */
export function sheetDifferences(before: StoredContent, after: StoredContent): SheetDifference[] {
  const [was, is] = [documentIn(before), documentIn(after)];
  if (was && is) return documentDifferences(was, is);
  if (was || is) return [{ part: 'device', what: 'What the sheet is about', before: '', after: '' }];
  return deviceDifferences(before as DeviceFigures, after as DeviceFigures);
}

const documentIn = (content: StoredContent): DocumentContent | null =>
  content.form === 3 && content.subject !== 'device' ? content : null;
const latest = (content: DeviceFigures): SheetContent | null =>
  (content as { form?: number }).form === 3 ? (content as SheetContent) : null;

function deviceDifferences(before: DeviceFigures, after: DeviceFigures): SheetDifference[] {
  const [was, is] = [latest(before), latest(after)];
  return [
    ...changed('device', 'Name', before.relay.name, after.relay.name),
    ...changed('device', 'Device', before.relay.device, after.relay.device),
    ...changed('device', 'Nominal voltage', figure(before.nominalKv, 'kV'), figure(after.nominalKv, 'kV')),
    ...changed('device', 'Trips', before.trips.join(', '), after.trips.join(', ')),
    ...changed('function', 'Functions not in use', before.notInUse.join(', '), after.notInUse.join(', ')),
    ...(was && is ? [...inputDifferences(was, is), ...valueDifferences(was, is)] : rowDifferences(before, after)),
    ...(was && is ? statementDifferences(was.statements, is.statements) : []),
    ...marginDifferences(before, after),
    ...faultDifferences(before, after),
    ...(was && is ? trialDifferences(was, is) : []),
  ];
}

const changed = (part: DifferencePart, what: string, before: string, after: string): SheetDifference[] =>
  before === after ? [] : [{ part, what, before, after }];

const inputDifferences = (was: SheetContent, is: SheetContent): SheetDifference[] =>
  paired(was.inputs, is.inputs, ({ name, type }) => `${type} ${name}`).flatMap(([p, q]) => {
    const told = (of: typeof p) =>
      of === null
        ? ''
        : `${figure(of.primary?.value ?? null)}/${figure(of.secondary?.value ?? null, of.secondary?.unit)} ${of.accuracy}${of.reversed ? ', polarity reversed' : ''}`.trim();
    return changed('device', `Input ${(q ?? p)!.name}`, told(p), told(q));
  });

const valueDifferences = (was: SheetContent, is: SheetContent): SheetDifference[] =>
  paired(was.values, is.values, valueKey).flatMap(([p, q]): SheetDifference[] => {
    const { code, setting } = (q ?? p)!;
    const what = `${code} ${setting.charAt(0).toLowerCase()}${setting.slice(1)}`;
    if (!p) return [{ part: 'value', what, before: '', after: shownOf(q!) }];
    if (!q) return [{ part: 'value', what, before: shownOf(p), after: '' }];
    if (alike(p.value, q.value) && p.unit === q.unit) return [];
    return [{ part: 'value', what, before: shownOf(p), after: shownOf(q) }];
  });

const shownOf = ({ value, unit, shown }: SheetValue): string => shown ?? figure(value, unit);

/** Of sheets of before, which have a row for each function. */
const rowDifferences = (before: DeviceFigures, after: DeviceFigures): SheetDifference[] =>
  paired(
    before.functions.map((fn, k) => ({ fn, k })),
    after.functions.map((fn, k) => ({ fn, k })),
    ({ fn, k }) => `${fn.code} ${k}`,
  ).flatMap(([p, q]) => {
    const told = (of: typeof p) =>
      of === null
        ? ''
        : `${figure(of.fn.pickupIn)} × In, ${of.fn.characteristic}${of.fn.timeMultiplier === null ? '' : `, ${figure(of.fn.timeMultiplier)}`}${of.fn.delayS === null ? '' : `, ${figure(of.fn.delayS, 's')}`}`;
    return changed('value', (q ?? p)!.fn.code, told(p), told(q));
  });

const told = ({ verdict, value, unit }: SheetStatement): string =>
  `${verdict === 'holds' ? 'holds' : verdict === 'doubtful' ? 'doubtful' : 'does not hold'}${value === null ? '' : `, ${figure(value, unit)}`}`;

const statementDifferences = (before: readonly SheetStatement[], after: readonly SheetStatement[]): SheetDifference[] =>
  paired(before, after, ({ id }) => id).flatMap(([p, q]): SheetDifference[] => {
    const what = (q ?? p)!.title;
    if (!p)
      return [{ part: 'statement', what, before: '', after: told(q!), ...(q!.verdict === 'short' && { worse: true }) }];
    if (!q) return [{ part: 'statement', what, before: told(p), after: '' }];
    if (p.verdict === q.verdict && alike(p.value, q.value) && alike(p.bound, q.bound)) return [];
    const isWorse = p.verdict === 'holds' && q.verdict !== 'holds';
    return [{ part: 'statement', what, before: told(p), after: told(q), ...(isWorse && { worse: true as const }) }];
  });

const marginDifferences = (before: DeviceFigures, after: DeviceFigures): SheetDifference[] =>
  paired(before.margins, after.margins, (each) =>
    JSON.stringify([each.chart, each.measured, each.downstream, each.upstream]),
  ).flatMap(([p, q]): SheetDifference[] => {
    const of = (q ?? p)!;
    const what = `${of.downstream} → ${of.upstream}, ${of.measured}`;
    const said = (each: typeof p) =>
      each === null
        ? ''
        : each.marginS === null
          ? each.verdict
          : `${figure(each.marginS, 's')} of ${figure(each.wantedS, 's')}`;
    if (p && q && p.verdict === q.verdict && alike(p.marginS, q.marginS) && isSame(p.wantedS, q.wantedS)) return [];
    const isWorse = p?.verdict === 'holds' && q !== null && q.verdict !== 'holds';
    return [{ part: 'margin', what, before: said(p), after: said(q), ...(isWorse && { worse: true as const }) }];
  });

const faultDifferences = (before: DeviceFigures, after: DeviceFigures): SheetDifference[] =>
  paired(before.faults, after.faults, ({ place, kind, conditionId }) =>
    JSON.stringify([place, kind, conditionId]),
  ).flatMap(([p, q]): SheetDifference[] => {
    const of = (q ?? p)!;
    const what = `${of.kind} fault at ${of.place}, ${of.condition}`;
    const said = (each: typeof p) =>
      each === null
        ? ''
        : `${figure(Math.max(each.phaseA, each.residualA), 'A')}, ${each.tripS === null ? 'no trip' : figure(each.tripS, 's')}`;
    if (p && q && isSame(p.phaseA, q.phaseA) && isSame(p.residualA, q.residualA) && alike(p.tripS, q.tripS)) return [];
    return [{ part: 'figure', what, before: said(p), after: said(q) }];
  });

const trialDifferences = (was: SheetContent, is: SheetContent): SheetDifference[] =>
  paired(was.trials, is.trials, ({ id }) => id).flatMap(([p, q]): SheetDifference[] => {
    const said = (each: typeof p) =>
      each === null
        ? ''
        : `${trialTitles[each.verdict]}${each.clearedS === null ? '' : `, ${figure(each.clearedS, 's')}`}`;
    if (p && q && p.verdict === q.verdict && alike(p.clearedS, q.clearedS)) return [];
    const isWorse = p?.verdict === 'selective' && q !== null && q.verdict !== 'selective';
    return [
      {
        part: 'trial',
        what: (q ?? p)!.name,
        before: said(p),
        after: said(q),
        ...(isWorse && { worse: true as const }),
      },
    ];
  });

/** Rows of the tables of a report, cell by cell; a row is known by its first cell and its place. */
function documentDifferences(was: DocumentContent, is: DocumentContent): SheetDifference[] {
  const rowsOf = ({ report }: DocumentContent) =>
    report.sections.flatMap(({ title, facts = [], table }) => [
      ...facts.map(([name, value]) => ({
        key: `${title} ${name}`,
        what: `${title}: ${name}`,
        cells: [value] as ReportCell[],
      })),
      ...(table?.rows ?? []).map(({ cells }, k) => ({
        key: `${title} ${k} ${String(plain(cells[0]))}`,
        what: `${title}: ${String(plain(cells[0]) ?? k + 1)}`,
        cells: [...cells],
      })),
    ]);
  return paired(rowsOf(was), rowsOf(is), ({ key }) => key).flatMap(([p, q]): SheetDifference[] => {
    const said = (of: typeof p) => (of === null ? '' : of.cells.map((cell) => figure(plain(cell))).join(' · '));
    const same =
      p && q && p.cells.length === q.cells.length && p.cells.every((cell, k) => alike(plain(cell), plain(q.cells[k])));
    return same ? [] : [{ part: 'row', what: (q ?? p)!.what, before: said(p), after: said(q) }];
  });
}

const plain = (cell: ReportCell | undefined): number | string | null =>
  cell === undefined || cell === null ? null : typeof cell === 'object' ? cell.value : cell;
