'use client';

import { useState } from 'react';
import { Button, SegmentedControl, TextInput } from '@mantine/core';
import type { Problem } from '@mesura/core/model/problem';
import { nameOf } from '@mesura/core/model/element';
import { Chip } from '../desk/Chip';
import { useFindings, useGoToProblem } from '../desk/findings';
import { stageOwning } from '../desk/stage';
import { validate, withValue, confirmed } from '@mesura/core/fields/schemaFields';
import { report } from '../desk/report';
import { useProjectStore } from '../project/ProjectContext';
import classes from './desk.module.css';

const severities = { error: ['fail', 'error'], warning: ['warn', 'warning'], assumed: ['warn', 'assumed'] } as const;

/** What is wrong or doubtful, and what to do; a click goes there, a proposal is taken over at once. */
export function FindingsDrawer() {
  const { value: all, isCurrent } = useFindings();
  const go = useGoToProblem();
  const [stage, setStage] = useState<string | null>(null);
  const [words, setWords] = useState('');
  const stages = [...new Set(all?.map(({ code }) => stageOwning(code).title))];
  const value = all?.filter(
    ({ code, message }) =>
      (stage === null || stageOwning(code).title === stage) && message.toLowerCase().includes(words.toLowerCase()),
  );
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
      {all && all.length > 0 && value?.length === 0 && 'No finding has these words.'}
      {value?.map((problem, k) => {
        const [state, word] = severities[problem.severity];
        return (
          <div key={`${problem.code}${problem.element}${k}`} className={classes.finding}>
            <button type="button" className={classes.findingText} onClick={() => go(problem)}>
              <span>
                <Chip state={state}>{word}</Chip>
              </span>
              <span>
                {problem.message}
                {problem.todo && <span className={classes.todo}> {problem.todo}</span>}
              </span>
            </button>
            {problem.proposal && <Proposal problem={problem} proposal={problem.proposal} />}
          </div>
        );
      })}
    </section>
  );
}

function Proposal({ problem, proposal }: { problem: Problem; proposal: NonNullable<Problem['proposal']> }) {
  const store = useProjectStore();
  const take = () => {
    const { network, commit } = store.getState();
    const element = problem.element && network.elements.get(problem.element);
    if (!element) return;
    const path = proposal.path.split('.');
    const changed = confirmed(withValue(element, path, proposal.value), [proposal.path]);
    if (validate(changed, path) === null)
      report(commit([{ op: 'update', element: changed }], `${nameOf(element)}: ${proposal.text} as proposed`));
  };
  return (
    <Button size="compact-xs" variant="light" onClick={take}>
      Take {proposal.text}
    </Button>
  );
}
