'use client';

import { useMemo, useState } from 'react';
import { Button, Checkbox, FileButton, Select, Table, Textarea } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import { evaluateComplex } from '@mesura/core/formulas/complexValue';
import type { Formula } from '@mesura/core/formulas/formula';
import type { Complex } from '@mesura/core/linear/complex';
import { alternating } from '@mesura/core/model/directPart';
import { ofKind, settingsOf } from '@mesura/core/model/network';
import { importanceRange, type Rule, type Rulebook, type RuleSubject } from '@mesura/core/model/rulebook';
import { ruleNamed, rules as checkRules } from '@mesura/core/checks/rules';
import { readyRule, bookOf, valueOf } from '@mesura/core/rules/book';
import { readRulebook, writeRulebook } from '@mesura/core/rules/exchange';
import type { Changed } from '@mesura/core/checks/compare';
import { isOfLineEnd, namesByName, namesFor, unitOf } from '@mesura/core/rules/names';
import { plainPractice } from '@mesura/core/rules/plainPractice';
import { devicesOf, type Device } from '@mesura/core/protection/device';
import type { Figures } from '@mesura/core/proposals/figures';
import { valuesOf } from '@mesura/core/proposals/figures';
import type { ElementId } from '@mesura/core/model/fields';
import type { ReachRow } from '@mesura/core/reach/plan';
import type { Proposal } from '@mesura/core/proposals/proposal';
import { Chip } from '../../desk/Chip';
import { report, tell } from '../../desk/report';
import { saveText } from '../../card/saveText';
import { FreeNames } from '@mesura/core/drawing/parts/fragment';
import { newId } from '../../project/newId';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { BookDifferences } from './BookDifferences';
import { FormulaField } from './FormulaField';
import { SharedBooks } from './SharedBooks';
import { keyOfRow } from '../reach/ways';
import { boundTitles, modeOf, subjectTitles } from './ruleTitles';
import { setSettings, useSettingsState } from './state';
import bench from '../../card/bench.module.css';
import classes from './settings.module.css';

/** What settings are proposed by: read, and where the project has a rulebook of its own, changed. */
export function RulebookView() {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const chosen = useSettingsState((state) => state.rule);
  const book = bookOf(network);
  const isOwn = network.elements.has(book.id);
  const settings = settingsOf(network);
  const books = ofKind(network, 'rulebook');
  const groups = useMemo(() => {
    const map = new Map<RuleSubject, Rule[]>();
    for (const rule of book.rules) map.set(rule.subject, [...(map.get(rule.subject) ?? []), rule]);
    return [...map];
  }, [book]);
  const [comparing, setComparing] = useState(false);
  const [sharing, setSharing] = useState(false);
  /** A book of the project that is used from now on, under a name of its own. */
  const add = (from: Rulebook, label: string) => {
    const own: Rulebook = { ...from, id: newId(), name: new FreeNames(books).next(from.name) };
    report(
      commit(
        [
          { op: 'add', element: own },
          { op: 'update', element: { ...settings, rulebook: own.id } },
        ],
        label,
      ),
    );
  };
  const bringIn = async (file: File) => {
    const read = readRulebook(await file.text(), newId());
    if (!read.ok)
      return tell(
        `${file.name} is not taken`,
        read.problems
          .slice(0, 4)
          .map(({ message }) => message)
          .join('; '),
      );
    add(read.book, `Rulebook ${read.book.name}`);
  };
  const use = (id: ElementId | null, label: string) =>
    report(commit([{ op: 'update', element: { ...settings, rulebook: id } }], label));
  const rule = book.rules.find(({ id }) => id === chosen) ?? null;
  return (
    <>
      <div className={bench.head}>
        <Select
          size="xs"
          w={220}
          aria-label="Rulebook in use"
          allowDeselect={false}
          value={isOwn ? book.id : ''}
          data={[
            { value: '', label: plainPractice.name },
            ...books.map(({ id, name }) => ({ value: id, label: name })),
          ]}
          onChange={(id) =>
            use(
              (id || null) as ElementId | null,
              `Rulebook ${books.find((each) => each.id === id)?.name ?? plainPractice.name}`,
            )
          }
        />
        {!isOwn && (
          <Button
            size="compact-xs"
            variant="light"
            onClick={() =>
              add(
                { ...plainPractice, name: 'Rules of the project', note: 'Begun from plain practice.' },
                'Rulebook of the project',
              )
            }
          >
            Make one of the project’s own
          </Button>
        )}
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => saveText(`${book.name}.json`, writeRulebook(book), 'application/json')}
        >
          Save as file
        </Button>
        <FileButton accept=".json,application/json" onChange={(file) => file && void bringIn(file)}>
          {(props) => (
            <Button {...props} size="compact-xs" variant="default">
              Bring in
            </Button>
          )}
        </FileButton>
        {isOwn && (
          <Button
            size="compact-xs"
            variant={comparing ? 'light' : 'subtle'}
            aria-expanded={comparing}
            onClick={() => setComparing(!comparing)}
          >
            Compare
          </Button>
        )}
        <Button
          size="compact-xs"
          variant={sharing ? 'light' : 'subtle'}
          aria-expanded={sharing}
          onClick={() => setSharing(!sharing)}
        >
          Shared
        </Button>
      </div>
      <p className={bench.muted} style={{ margin: '0 0 6px' }}>
        {book.note}
      </p>
      {isOwn && comparing && <Comparison book={book} books={books} />}
      {sharing && (
        <SharedBooks
          book={book}
          isOwn={isOwn}
          onTake={(taken) => add(taken, `Rulebook ${taken.name}, version ${taken.shared!.version}`)}
          onShared={(version) =>
            report(
              commit(
                [{ op: 'update', element: { ...book, shared: { name: book.name, version } } }],
                `Rulebook ${book.name} shared as version ${version}`,
              ),
            )
          }
        />
      )}
      {rule && <RuleCard key={`${book.id} ${rule.id}`} book={book} rule={rule} isOwn={isOwn} />}
      <Table className={bench.table} aria-label="Rules" withRowBorders={false}>
        <tbody>
          {groups.map(([subject, rules]) => [
            <tr key={subject}>
              <th colSpan={4} style={{ textAlign: 'left' }}>
                {subjectTitles[subject]}
              </th>
            </tr>,
            ...rules.map((each) => (
              <tr
                key={each.id}
                tabIndex={0}
                aria-selected={each.id === chosen}
                onClick={() => setSettings({ rule: each.id })}
                onKeyDown={(event) => event.key === 'Enter' && setSettings({ rule: each.id })}
                style={{ opacity: each.enabled ? undefined : 0.5, cursor: 'pointer' }}
              >
                <td>
                  {each.title}
                  {each.behind !== 'any' && <span className={bench.muted}> ({each.behind})</span>}
                </td>
                <td>
                  {boundTitles[each.bound].short}
                  {!boundTitles[each.bound].isWhole && (each.sense === 'atLeast' ? ' ≥' : ' ≤')}
                </td>
                <td className="figure">
                  {each.formula}
                  {each.at !== null && ` at ${each.at}`}
                </td>
                <td className="number" title="Importance">
                  {each.importance}
                  {readyRule(each).problems.length > 0 && <Chip state="fail">wrong</Chip>}
                </td>
              </tr>
            )),
          ])}
        </tbody>
      </Table>
    </>
  );
}

/** The rulebook in use beside another one of the project, or plain practice. */
function Comparison({ book, books }: { book: Rulebook; books: readonly Rulebook[] }) {
  const [against, setAgainst] = useState('');
  const other = books.find(({ id }) => id === against) ?? plainPractice;
  return (
    <section aria-label="Rulebooks compared">
      <Select
        size="xs"
        w={220}
        aria-label="Compared with"
        allowDeselect={false}
        value={against}
        data={[
          { value: '', label: plainPractice.name },
          ...books.filter(({ id }) => id !== book.id).map(({ id, name }) => ({ value: id, label: name })),
        ]}
        onChange={(value) => setAgainst(value ?? '')}
      />
      <BookDifferences before={other} title={other.name} after={book} />
    </section>
  );
}

/** What is opened from far down a list comes into view. */
const shownAtOnce = (card: HTMLElement | null): void => card?.scrollIntoView({ block: 'nearest' });
const named = ({ id, name }: Device) => ({ value: id, label: name });

/** One rule: its formula on an example, its reason, and before it is stored what it would change. */
function RuleCard({ book, rule, isOwn }: { book: Rulebook; rule: Rule; isOwn: boolean }) {
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const commit = useProject((state) => state.commit);
  const [draft, setDraft] = useState(rule);
  const [trying, setTrying] = useState<Rulebook | null>(null);
  const devices = devicesOf(alternating(network)).filter(({ inputs }) => inputs.length > 0);
  const [example, setExample] = useState<string | null>(null);
  const suiting = useCore<ElementId[]>(`suiting ${rule.subject} ${rule.behind}`, (service) =>
    service.devicesFor(rule.subject, rule.behind),
  );
  const device =
    devices.find(({ id }) => id === example)?.id ??
    devices.find(({ id }) => selection.includes(id))?.id ??
    suiting.value?.[0] ??
    devices[0]?.id ??
    null;
  const isOfEnd = isOfLineEnd(rule.subject);
  const hasDevices = rule.subject !== 'pair' && !isOfEnd;
  const mode = modeOf(rule.subject);
  const ends = useCore<readonly ReachRow[]>(
    rule.subject.startsWith('zone') ? 'reaches false 50' : null,
    (service, ticket, onProgress) => service.reaches({ merged: false, fromKv: 50 }, ticket, onProgress),
  );
  const endRows = ends.value ?? [];
  const end = endRows.find((row) => keyOfRow(row) === example) ?? endRows[0];
  const figures = useCore<Figures | null>(device && hasDevices ? `rule figures ${device} ${mode}` : null, (service) =>
    service.ruleFigures(device!, mode),
  );
  const isSuiting = (id: ElementId) => suiting.value?.includes(id) ?? false;
  const ready = useMemo(() => readyRule(draft), [draft]);
  const values = figures.value ? valuesOf(figures.value) : null;
  const read = (formula: typeof ready.formula) => {
    if (formula && end) return readAtEnd(formula, draft, end);
    if (!formula || !values) return null;
    const result = valueOf(draft, formula, values);
    return result.ok
      ? `${formatNumber(result.value, 4)} ${formula.unit}`
      : `not known here: ${result.missing.join(', ')}`;
  };
  const changedBook = (): Rulebook => ({
    ...book,
    rules: book.rules.map((each) => (each.id === rule.id ? draft : each)),
  });
  const isChanged = JSON.stringify(draft) !== JSON.stringify(rule);
  const isWrong = ready.problems.length > 0;
  const put = (part: Partial<Rule>) => {
    setDraft({ ...draft, ...part });
    setTrying(null);
  };
  const store = () => report(commit([{ op: 'update', element: changedBook() }], `Rule ${draft.title}`));
  const names = namesFor(rule.subject);
  return (
    <article className={bench.card} aria-label={`Rule ${rule.title}`} ref={shownAtOnce}>
      <div className={bench.cardBody}>
        <div className={bench.head}>
          <h3 className={bench.title}>
            {rule.title} <span className={bench.kind}>{subjectTitles[rule.subject]}</span>
          </h3>
          <span className={bench.spacer} />
          {end && (
            <Select
              size="xs"
              w={200}
              searchable
              allowDeselect={false}
              aria-label="Example line end"
              value={keyOfRow(end)}
              data={endRows.map((row) => ({ value: keyOfRow(row), label: `${row.stationName}, ${row.lineName}` }))}
              onChange={setExample}
            />
          )}
          {hasDevices && (
            <Select
              size="xs"
              w={170}
              searchable
              aria-label="Example device"
              value={device}
              data={[
                { group: 'what it is about', items: devices.filter(({ id }) => isSuiting(id)).map(named) },
                { group: 'others', items: devices.filter(({ id }) => !isSuiting(id)).map(named) },
              ]}
              onChange={setExample}
            />
          )}
        </div>
        <FormulaField
          label={`${boundTitles[rule.bound].long}${boundTitles[rule.bound].isWhole ? '' : rule.sense === 'atLeast' ? ' at least' : ' at most'}, in ${unitOf(rule.bound) === 'deg' ? '°' : unitOf(rule.bound)}`}
          value={draft.formula}
          names={names}
          problem={ready.problems.find(({ field }) => field === 'formula') ?? null}
          result={read(ready.formula)}
          readOnly={!isOwn}
          onChange={(formula) => put({ formula })}
        />
        {draft.at !== null && (
          <FormulaField
            label="at the current, in A"
            value={draft.at}
            names={names}
            problem={ready.problems.find(({ field }) => field === 'at') ?? null}
            result={read(ready.at)}
            readOnly={!isOwn}
            onChange={(at) => put({ at })}
          />
        )}
        {isOwn ? (
          <>
            <Textarea
              size="xs"
              label="Reason"
              autosize
              minRows={1}
              value={draft.reason}
              onChange={(event) => put({ reason: event.currentTarget.value })}
            />
            <div className={bench.head} style={{ marginTop: 6 }}>
              <Checkbox
                size="xs"
                label="in use"
                checked={draft.enabled}
                onChange={(event) => put({ enabled: event.currentTarget.checked })}
              />
              <Select
                size="xs"
                w={150}
                aria-label="Importance"
                allowDeselect={false}
                value={String(draft.importance)}
                data={Array.from({ length: importanceRange.least }, (_, k) => ({
                  value: String(k + 1),
                  label: `importance ${k + 1}`,
                }))}
                onChange={(value) => put({ importance: Number(value) })}
              />
              <Select
                size="xs"
                w={190}
                clearable
                placeholder="watched by no check"
                aria-label="Watched by"
                value={draft.watchedBy || null}
                data={checkRules.map(({ id, title }) => ({ value: id, label: title }))}
                onChange={(value) => put({ watchedBy: value ?? '' })}
              />
              <span className={bench.spacer} />
              <Button
                size="compact-xs"
                variant="default"
                disabled={!isChanged || isWrong}
                onClick={() => setTrying(changedBook())}
              >
                What would change
              </Button>
              <Button size="compact-xs" variant="subtle" disabled={!isChanged} onClick={() => put(rule)}>
                Discard
              </Button>
              <Button size="compact-xs" disabled={!isChanged || isWrong || draft.reason.trim() === ''} onClick={store}>
                Store rule
              </Button>
            </div>
          </>
        ) : (
          <p className={bench.muted} style={{ margin: '4px 0 0' }}>
            {rule.reason} {rule.clause && `${rule.clause}${rule.remembered ? ' (as remembered)' : ''}.`}{' '}
            {rule.watchedBy && `Watched by the check “${ruleNamed(rule.watchedBy)?.title ?? rule.watchedBy}”.`}
          </p>
        )}
        {trying && <Effect book={trying} />}
      </div>
    </article>
  );
}

/** What a rule about a zone comes to at an end of a line. */
function readAtEnd(formula: Formula, { subject }: Rule, { figures, zones }: ReachRow): string {
  const reaches = zones.flatMap(({ zone, reach }) => (reach ? [[`zone${zone}`, { re: reach.value, im: 0 }]] : []));
  const known = Object.values(figures).map(({ name, value }) => [name, value]);
  const result = evaluateComplex(
    formula,
    Object.fromEntries([...known, ...reaches]) as Record<string, Complex | null>,
    namesByName(namesFor(subject)),
  );
  return result.ok
    ? `${formatNumber(Math.hypot(result.value.re, result.value.im), 4)} ${formula.unit === 'ohm' ? 'Ω' : formula.unit}`
    : `not known here: ${result.missing.join(', ')}`;
}

/** Which proposed values another rulebook would change, of the whole network. */
function Effect({ book }: { book: Rulebook }) {
  const asked = { devices: null, strategy: 'fastest', includeAssumed: true } as const;
  const before = useCore<Proposal>('effect before', (service, ticket, onProgress) =>
    service.proposed(asked, null, ticket, onProgress),
  );
  const after = useCore<Proposal>(`effect ${JSON.stringify(book.rules)}`, (service, ticket, onProgress) =>
    service.proposed(asked, book, ticket, onProgress),
  );
  const checks = useCore<Changed[]>(`touched ${JSON.stringify(book.rules)}`, (service, ticket, onProgress) =>
    service.checksTouched(book, ticket, onProgress),
  );
  if (!before.value || !after.value || !checks.value)
    return (
      <p className={bench.muted} role="status">
        Proposing with and without it …
      </p>
    );
  const key = ({ device, functionId, field }: Proposal['values'][number]) => `${device} ${functionId} ${field}`;
  const known = new Map(before.value.values.map((each) => [key(each), each]));
  const touched = after.value.values.filter((each) => known.get(key(each))?.to !== each.to);
  const more = after.value.conflicts.length - before.value.conflicts.length;
  return (
    <section aria-label="What would change">
      <p className={bench.muted} role="status">
        {touched.length === 0 ? 'No proposed value would change.' : `${touched.length} proposed values would change`}
        {touched.length > 0 &&
          `, ${more === 0 ? 'as many conflicts' : `${Math.abs(more)} conflicts ${more > 0 ? 'more' : 'less'}`}, ${after.value.measures.pairsShort} of ${after.value.measures.pairs} margins not met (now ${before.value.measures.pairsShort}).`}
      </p>
      {touched.length > 0 && (
        <table className={`${bench.table} figures`} aria-label="Values that would change">
          <tbody>
            {touched.slice(0, 40).map((each) => (
              <tr key={key(each)}>
                <td>
                  {each.deviceName}, {each.code}
                </td>
                <td>{each.title}</td>
                <td className="number">{String(known.get(key(each))?.to ?? '')}</td>
                <td className="number">
                  <strong>{String(each.to)}</strong> {each.unit}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className={bench.muted} role="status" aria-label="Checks that would change">
        {checks.value.length === 0
          ? 'No check reads otherwise with the settings as they are.'
          : `${checks.value.length} checks read otherwise with the settings as they are:`}
      </p>
      {checks.value.length > 0 && (
        <ul className={classes.list} aria-label="Checks touched">
          {checks.value.slice(0, 20).map(({ id, title, way, after: now }) => (
            <li key={id}>
              {title}: {way}
              {now && `, ${now.message}`}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
