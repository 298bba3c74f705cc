'use client';

import { useState } from 'react';
import { ActionIcon, Button, MultiSelect, Select, TagsInput, TextInput } from '@mantine/core';
import { IconCopy, IconX } from '@tabler/icons-react';
import type { RunOutcome } from '@mesura/cli/commands/batch';
import { Refusal } from '@mesura/cli/typed';
import {
  asOneWord,
  isStudy,
  optionWords,
  studyNames,
  studySummaries,
  studyWords,
  typedOption,
  type StudyName,
} from '@mesura/cli/words';
import type { BatchRun } from '@mesura/core/model/batch';
import { ofKind } from '@mesura/core/model/network';
import { conditionsOf } from '@mesura/core/model/state';
import { Chip } from '../../desk/Chip';
import { useProject } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

interface RunCardProps {
  readonly k: number;
  readonly run: BatchRun;
  /** Of the last time that all were run. */
  readonly outcome: RunOutcome | null;
  readonly readOnly: boolean;
  readonly change: (run: BatchRun) => void;
  readonly copy: () => void;
  readonly remove: () => void;
}

const studies = studyNames
  .filter((name) => name !== 'batch')
  .map((name) => ({ value: name, label: `${name}: ${studySummaries[name]}` }));

/** Words with a field of their own. */
const shownApart = new Set(['condition', 'at', 'set', 'write', 'against', 'run']);
const others = (study: StudyName) =>
  // Of a script one says which, and nothing else.
  study === 'script' ? [] : [...studyWords[study], 'columns' as const].filter((name) => !shownApart.has(name));

const listIn = (value: unknown): string[] =>
  Array.isArray(value) ? value.map(String) : value === undefined ? [] : [String(value)];

/** One study of a batch: its conditions, places, values, and what else it takes. */
export function RunCard({ k, run, outcome, readOnly, change, copy, remove }: RunCardProps) {
  const network = useProject((state) => state.network);
  const study = isStudy(run.study) ? run.study : 'faults';
  const takes = (name: string) => (studyWords[study] as readonly string[]).includes(name);
  const put = (word: string, value: string | string[] | boolean | undefined) => {
    const { [word]: _, ...rest } = run.options;
    const isEmpty =
      value === undefined || value === '' || value === false || (Array.isArray(value) && value.length === 0);
    change({ ...run, options: isEmpty ? rest : { ...rest, [word]: value } });
  };
  const given = others(study).filter((name) => run.options[asOneWord(name)] !== undefined);
  const code = outcome?.study === run.study ? outcome.code : null;
  return (
    <article className={bench.card} aria-label={`Run ${k + 1}`}>
      <div className={bench.cardBody}>
        <div className={bench.head}>
          <strong>{k + 1}</strong>
          <Select
            size="xs"
            style={{ flex: 1 }}
            searchable
            allowDeselect={false}
            readOnly={readOnly}
            aria-label={`Study of run ${k + 1}`}
            data={studies}
            value={study}
            onChange={(next) => next && next !== run.study && change({ study: next, options: {} })}
          />
          {code !== null && (
            <Chip state={code === 0 ? 'pass' : code === 3 ? 'warn' : 'fail'}>
              {code === 0 ? 'done' : code === 3 ? 'something does not hold' : (outcome?.notes[0] ?? 'not computed')}
            </Chip>
          )}
          {!readOnly && (
            <>
              <ActionIcon
                size="sm"
                variant="subtle"
                aria-label={`Run ${k + 1} once more`}
                title="Once more"
                onClick={copy}
              >
                <IconCopy size={14} />
              </ActionIcon>
              <ActionIcon
                size="sm"
                variant="subtle"
                color="red"
                aria-label={`Remove run ${k + 1}`}
                title="Remove"
                onClick={remove}
              >
                <IconX size={14} />
              </ActionIcon>
            </>
          )}
        </div>
        <div className={bench.head}>
          {takes('condition') && (
            <MultiSelect
              size="xs"
              style={{ flex: 1, minWidth: 200 }}
              aria-label="Conditions"
              placeholder={run.options.condition ? undefined : 'Conditions: as the study has them'}
              readOnly={readOnly}
              data={conditionsOf(network).map(({ id, name }) => ({ value: id as string, label: name }))}
              value={listIn(run.options.condition)}
              onChange={(ids) => put('condition', ids)}
            />
          )}
          {takes('at') && (
            <MultiSelect
              size="xs"
              style={{ flex: 1, minWidth: 200 }}
              searchable
              limit={60}
              aria-label="Places"
              placeholder={run.options.at ? undefined : 'Places: all'}
              readOnly={readOnly}
              data={ofKind(network, 'bus').map(({ id, name }) => ({ value: id as string, label: name }))}
              value={listIn(run.options.at)}
              onChange={(ids) => put('at', ids)}
            />
          )}
          {study === 'script' && (
            <Select
              size="xs"
              style={{ flex: 1, minWidth: 200 }}
              aria-label="Which script"
              placeholder="Script"
              readOnly={readOnly}
              data={ofKind(network, 'script').map(({ id, name }) => ({ value: id as string, label: name }))}
              value={listIn(run.options.name)[0] ?? null}
              onChange={(id) => put('name', id ?? undefined)}
            />
          )}
          {study !== 'script' && (
            <TagsInput
              size="xs"
              style={{ flex: 1, minWidth: 220 }}
              // A comma belongs to the values.
              splitChars={['\n', ';']}
              aria-label="Values"
              title="ELEMENT.FIELD=VALUES, such as BRA T1.ukPercent=8,10 or 8..12:0.5; several make a grid of cases"
              placeholder={run.options.set ? undefined : 'Values: BRA T1.ukPercent=8,10'}
              readOnly={readOnly}
              value={listIn(run.options.set)}
              onChange={(texts) => put('set', texts)}
            />
          )}
        </div>
        <div className={bench.head} style={{ marginBottom: 0 }}>
          {given.map((name) => (
            <Option
              key={`${study} ${name} ${JSON.stringify(run.options[asOneWord(name)])}`}
              name={name}
              value={run.options[asOneWord(name)]}
              readOnly={readOnly}
              put={(value) => put(asOneWord(name), value)}
            />
          ))}
          {!readOnly && (
            <MoreOptions
              names={others(study).filter((name) => !given.includes(name))}
              add={(name, value) => put(asOneWord(name), value)}
            />
          )}
        </div>
      </div>
    </article>
  );
}

type Word = ReturnType<typeof others>[number];

const enumOf = (name: Word): readonly string[] | null => {
  const { options } = optionWords[name] as { options?: readonly string[] };
  return Array.isArray(options) ? options : null;
};
const isYes = (name: Word): boolean => optionWords[name].safeParse(true).success;

function Option({
  name,
  value,
  readOnly,
  put,
}: {
  name: Word;
  value: unknown;
  readOnly: boolean;
  put: (value: string | string[] | undefined) => void;
}) {
  const [text, setText] = useState(listIn(value).join(', '));
  const [wrong, setWrong] = useState<string | null>(null);
  const choices = enumOf(name);
  const label = name;
  const help = optionWords[name].description;
  const clear = (
    <ActionIcon size="xs" variant="subtle" aria-label={`Without ${label}`} onClick={() => put(undefined)}>
      <IconX size={11} />
    </ActionIcon>
  );
  if (isYes(name))
    return (
      <span className={bench.head} style={{ margin: 0, gap: 2 }} title={help}>
        <Chip state="pass">{label}</Chip>
        {!readOnly && clear}
      </span>
    );
  if (choices)
    return (
      <Select
        size="xs"
        w={170}
        label={label}
        title={help}
        readOnly={readOnly}
        data={[...choices]}
        value={String(value)}
        clearable
        onChange={(next) => put(next ?? undefined)}
      />
    );
  const store = () => {
    const many = optionWords[name].safeParse(['x']).success || optionWords[name].safeParse([1]).success;
    const parts = text
      .split(',')
      .map((part) => part.trim())
      .filter(Boolean);
    const next = many ? parts : text.trim();
    try {
      if (next.length > 0) typedOption(name, next);
      setWrong(null);
      put(next.length === 0 ? undefined : next);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      setWrong(error.message);
    }
  };
  return (
    <TextInput
      size="xs"
      w={170}
      label={label}
      title={help}
      readOnly={readOnly}
      value={text}
      error={wrong}
      rightSection={readOnly ? undefined : clear}
      onChange={(event) => setText(event.currentTarget.value)}
      onBlur={store}
      onKeyDown={(event) => event.key === 'Enter' && store()}
    />
  );
}

/** What an option begins with when it is added. */
function MoreOptions({
  names,
  add,
}: {
  names: readonly Word[];
  add: (name: Word, value: string | string[] | boolean) => void;
}) {
  const [asked, setAsked] = useState<Word | null>(null);
  const [text, setText] = useState('');
  const take = (name: Word, value: string) => {
    const many = optionWords[name].safeParse(['x']).success || optionWords[name].safeParse([1]).success;
    add(name, many ? value.split(',').map((part) => part.trim()) : value);
    setAsked(null);
    setText('');
  };
  if (names.length === 0) return null;
  if (asked)
    return (
      <form
        className={bench.head}
        style={{ margin: 0 }}
        onSubmit={(event) => {
          event.preventDefault();
          if (text.trim() !== '') take(asked, text.trim());
        }}
      >
        <TextInput
          size="xs"
          w={200}
          data-autofocus
          autoFocus
          aria-label={asked}
          placeholder={optionWords[asked].description}
          value={text}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <Button size="compact-xs" type="submit" variant="default">
          Add {asked}
        </Button>
        <Button size="compact-xs" variant="subtle" onClick={() => setAsked(null)}>
          Leave it
        </Button>
      </form>
    );
  return (
    <Select
      size="xs"
      w={170}
      searchable
      aria-label="More options"
      placeholder="More options"
      value={null}
      data={names.map((name) => ({ value: name as string, label: `${name}: ${optionWords[name].description}` }))}
      comboboxProps={{ width: 360, position: 'bottom-start' }}
      onChange={(name) => {
        const word = name as Word | null;
        if (!word) return;
        if (isYes(word)) add(word, true);
        else if (enumOf(word)) add(word, enumOf(word)![0]);
        else setAsked(word);
      }}
    />
  );
}
