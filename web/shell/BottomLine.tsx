'use client';

import { nameOf } from '@mesura/core/model/element';
import { settingsOf } from '@mesura/core/model/network';
import { useProject } from '../project/ProjectContext';
import { Chip } from '../desk/Chip';
import { useDesk } from '../desk/deskState';
import { useFindings, useGoToProblem } from '../desk/findings';
import classes from './desk.module.css';

export function BottomLine() {
  const readout = useDesk((state) => state.readout);
  const open = useDesk((state) => state.findingsOpen);
  const selection = useProject((state) => state.selection);
  const network = useProject((state) => state.network);
  const revision = useProject((state) => state.revision);
  const saving = useProject((state) => state.saving);
  const chosen =
    selection.length === 1
      ? nameOf(network.elements.get(selection[0])!)
      : selection.length > 1
        ? `${selection.length} selected`
        : 'nothing selected';
  const saved =
    saving.status === 'saved'
      ? saving.at === null
        ? 'saved'
        : `saved ${clock(saving.at)}`
      : saving.status === 'saving'
        ? 'saving…'
        : 'not saved';
  return (
    <>
      {open && <Findings />}
      <footer className={classes.bottom}>
        <span>{chosen}</span>
        <span className="figure" aria-label="Read-out">
          {readout}
        </span>
        <span style={{ flex: 1 }} />
        <span role="status" aria-label="Saving">
          {saved} · revision {revision}
        </span>
        <span>
          SI · {settingsOf(network).frequencyHz} Hz ·{' '}
          {settingsOf(network).symbols === 'ieee' ? 'IEEE 315' : 'IEC 60617'} symbols
        </span>
      </footer>
    </>
  );
}

const clock = (at: number) => new Date(at).toTimeString().slice(0, 5);

const severities = { error: ['fail', 'fault'], warning: ['warn', 'doubtful'], assumed: ['warn', 'assumed'] } as const;

function Findings() {
  const { value } = useFindings();
  const go = useGoToProblem();
  return (
    <section className={classes.drawer} aria-label="Findings">
      {value?.length === 0 && 'Nothing is wrong as far as the checks see.'}
      {value?.map((problem, k) => {
        const [state, word] = severities[problem.severity];
        return (
          <button
            key={`${problem.code}${problem.element}${k}`}
            type="button"
            className={classes.finding}
            onClick={() => go(problem)}
          >
            <span>
              <Chip state={state}>{word}</Chip>
            </span>
            <span>{problem.message}</span>
          </button>
        );
      })}
    </section>
  );
}
