'use client';

import { useDeferredValue, useMemo, useState } from 'react';
import { SegmentedControl, TextInput } from '@mantine/core';
import type { Problem } from '@mesura/core/model/problem';
import { Chip } from '../desk/Chip';
import { useFindings, useGoToProblem } from '../desk/findings';
import { goTo } from '../desk/deskState';
import { grouped } from './grouped';
import { Proposal } from '../card/Proposal';
import classes from './desk.module.css';

const severities = { error: ['fail', 'error'], warning: ['warn', 'warning'], assumed: ['warn', 'assumed'] } as const;

/** What is wrong or doubtful, and what to do; a click goes there, a proposal is taken over at once. */
export function FindingsDrawer() {
  const { value: all, isCurrent } = useFindings();
  const [stage, setStage] = useState<string | null>(null);
  const [words, setWords] = useState('');
  const filter = useDeferredValue(words);
  const { groups, stages, more } = useMemo(() => grouped(all ?? [], stage, filter), [all, stage, filter]);
  return (
    <section className={classes.drawer} aria-label="Findings" aria-busy={!isCurrent}>
      {all && all.length > 3 && (
        <div className={classes.filters}>
          <SegmentedControl
            size="xs"
            aria-label="Findings of which stage"
            value={stage ?? ''}
            onChange={(title) => setStage(title || null)}
            data={[
              { value: '', label: `All ${all.length}` },
              ...stages.map((title) => ({ value: title, label: title })),
            ]}
          />
          <TextInput
            size="xs"
            w={200}
            placeholder="Filter"
            aria-label="Filter the findings"
            value={words}
            onChange={(event) => setWords(event.currentTarget.value)}
          />
        </div>
      )}
      {all?.length === 0 && 'Nothing is wrong as far as the checks see.'}
      {all && all.length > 0 && groups.length === 0 && 'No finding has these words.'}
      {groups.map(({ stage: title, count, findings }) => (
        <div key={title} role="group" aria-label={`${title}: ${count}`}>
          {groups.length > 1 && (
            <h3 className={classes.findingHead}>
              {title} <span className="figure">{count}</span>
            </h3>
          )}
          {findings.map((problem, k) => (
            <Finding key={`${problem.code}${problem.element}${k}`} problem={problem} />
          ))}
        </div>
      ))}
      {more > 0 && (
        <button type="button" className={classes.findingText} onClick={() => goTo('findings')}>
          and {more} more: filter, or go to the Findings stage
        </button>
      )}
    </section>
  );
}

function Finding({ problem }: { problem: Problem }) {
  const go = useGoToProblem();
  const [state, word] = severities[problem.severity];
  return (
    <div className={classes.finding}>
      <button type="button" className={classes.findingText} onClick={() => go(problem)}>
        <span>
          <Chip state={state}>{word}</Chip>
        </span>
        <span>
          {problem.message}
          {problem.todo && <span className={classes.todo}> {problem.todo}</span>}
        </span>
      </button>
      {problem.proposal && <Proposal element={problem.element} proposal={problem.proposal} />}
    </div>
  );
}
