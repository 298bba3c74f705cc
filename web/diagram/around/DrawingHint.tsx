'use client';

import { useProject, useProjectStore } from '../../project/ProjectContext';
import { useDrawing } from '../drawingState';
import { happened } from '../hands/hand';
import { hintOf } from '../tools';
import classes from '../diagram.module.css';

/** What the hand is doing, and what it can do next. */
export function DrawingHint({ wrong }: { wrong: string | null }) {
  const store = useProjectStore();
  const held = useDrawing((state) => state.held);
  const network = useProject((state) => state.network);
  if (wrong)
    return (
      <div className={classes.hint} data-wrong role="status">
        {wrong}
      </div>
    );
  if (!held) return null;
  const { lead, text, wrong: isWrong, keys } = hintOf(held, network);
  if (!keys)
    return (
      <div className={classes.hint} role="status">
        {text}
      </div>
    );
  return (
    <div className={classes.hint} data-floats="bottom" data-wide data-wrong={isWrong || undefined}>
      <div role="status">
        <b>{lead}</b>
        {text}
      </div>
      <div className={classes.keys}>
        {keys.map(({ press, sign, title }) => (
          <button key={press} type="button" onClick={() => happened(store, { on: 'key', key: press, shift: false })}>
            <kbd>{sign}</kbd> {title}
          </button>
        ))}
      </div>
    </div>
  );
}
