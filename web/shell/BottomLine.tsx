'use client';

import { nameOf } from '@mesura/core/model/element';
import { settingsOf } from '@mesura/core/model/network';
import { useProject } from '../project/ProjectContext';
import { useDesk } from '../desk/deskState';
import { FindingsDrawer } from './FindingsDrawer';
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
      {open && <FindingsDrawer />}
      <footer className={classes.bottom}>
        <span>{chosen}</span>
        <span className="figure" role="status" aria-label="Read-out" aria-live="off">
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
