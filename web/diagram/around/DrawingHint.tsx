'use client';

import { tools } from '@mesura/core/drawing/shape/tools';
import { nameOf } from '@mesura/core/model/element';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { chainOf, feederKey } from '../tools/feeder';
import { useDrawing } from '../drawingState';
import classes from '../diagram.module.css';

/** Symbols that come next most often. */
const usual = ['k', 'd', 'f', 'c', 'r', 'l', 't', 'b', 'm', 'o', 'g'];

/** What the hand is doing, and what it can do next. */
export function DrawingHint({ wrong }: { wrong: string | null }) {
  const mode = useDrawing((state) => state.mode);
  const network = useProject((state) => state.network);
  if (wrong)
    return (
      <div className={classes.hint} data-wrong role="status">
        {wrong}
      </div>
    );
  switch (mode.kind) {
    case 'idle':
      return null;
    case 'place':
      return (
        <div className={classes.hint} role="status">
          Click to place: {mode.tool?.title ?? 'Note'}; on a connection it goes into it. Arrow keys and Enter do the
          same. Shift keeps the tool, Esc leaves it.
        </div>
      );
    case 'stamp':
      return (
        <div className={classes.hint} role="status">
          Click to place: {mode.title}. Arrow keys and Enter do the same; Esc leaves it.
        </div>
      );
    case 'join':
      return (
        <div className={classes.hint} role="status">
          Connect {nameOf(network.elements.get(mode.from)!)} to: click the other, or go there with Alt and arrow keys
          and press Enter. Esc leaves it.
        </div>
      );
    case 'feeder': {
      const { reason } = chainOf(network, mode.start, mode.steps, mode.ids);
      const from = network.elements.get(mode.start.element);
      return (
        <div className={classes.hint} data-floats="bottom" data-wide data-wrong={reason ? true : undefined}>
          <div role="status">
            <b>Feeder from {from ? nameOf(from) : '–'}</b>
            {mode.start.heading === 'up' ? ' (upward)' : ''}:{' '}
            {mode.steps.length === 0
              ? 'press the keys of its symbols'
              : mode.steps.map((tool) => tool.title.toLowerCase()).join(', ')}
            {reason ? ` – ${reason}` : ''}
          </div>
          <div className={classes.keys}>
            {usual.map((key) => (
              <KeyButton
                key={key}
                press={key}
                sign={key.toUpperCase()}
                title={tools.find((tool) => tool.key === key)!.title.toLowerCase()}
              />
            ))}
            {mode.start.heading === 'down' ? (
              <KeyButton press="ArrowUp" sign="↑" title="upward" />
            ) : (
              <KeyButton press="ArrowDown" sign="↓" title="downward" />
            )}
            <KeyButton press="Backspace" sign="⌫" title="take back" />
            <KeyButton press="Enter" sign="Enter" title="done" />
            <KeyButton press="Escape" sign="Esc" title="leave" />
          </div>
        </div>
      );
    }
  }
}

/** A key that the mouse can press as well. */
function KeyButton({ press, sign, title }: { press: string; sign: string; title: string }) {
  const store = useProjectStore();
  return (
    <button type="button" onClick={() => feederKey(store, press)}>
      <kbd>{sign}</kbd> {title}
    </button>
  );
}
