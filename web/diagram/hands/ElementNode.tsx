'use client';

import { createContext, memo, useContext } from 'react';
import { Handle, NodeResizeControl, Position, type Node, type NodeProps } from '@xyflow/react';
import { isDrawn, type Placed } from '@mesura/core/drawing/shape/shapes';
import { terminalsOf } from '@mesura/core/drawing/shape/terminals';
import { gripBox } from '../picture/flow';
import classes from '../diagram.module.css';

export type ElementNodeType = Node<{ element: Placed; title: string }, 'element'>;

interface Hands {
  /** Connections may be drawn and busbars lengthened. */
  editable: boolean;
  onResize: (id: string, length: number, done: boolean) => void;
}

export const HandsContext = createContext<Hands>({ editable: false, onResize: () => {} });

/** What can be taken hold of at a symbol: its box and its terminals. The symbol itself is painted below. */
export const ElementNode = memo(function ElementNode({ data, selected }: NodeProps<ElementNodeType>) {
  const { element, title } = data;
  const { editable, onResize } = useContext(HandsContext);
  const { width, height } = gripBox(element);
  if (element.kind === 'bus')
    return (
      <div className={classes.element} style={{ width, height }} title={title || undefined}>
        <Handle
          id="0"
          type="source"
          position={Position.Top}
          isConnectable={editable}
          className={classes.busHandle}
          data-held={selected || undefined}
        />
        {selected && editable && (
          <NodeResizeControl
            position="right"
            minWidth={40}
            className={classes.resize}
            onResize={(_, { width: length }) => onResize(element.id, length, false)}
            onResizeEnd={(_, { width: length }) => onResize(element.id, length, true)}
          />
        )}
      </div>
    );
  return (
    <div className={classes.element} style={{ width, height }} title={title || undefined}>
      {isDrawn(element) &&
        terminalsOf(element).map((terminal, k) => (
          <Handle
            key={k}
            id={String(k)}
            type="source"
            position={Position.Top}
            isConnectable={editable}
            className={classes.handle}
            style={{ left: width / 2 + terminal.x, top: height / 2 + terminal.y }}
          />
        ))}
    </div>
  );
});
