'use client';

import { createContext, memo, useContext } from 'react';
import { Handle, NodeResizeControl, Position, type Node, type NodeProps } from '@xyflow/react';
import { isDrawn, type Placed } from '@mesura/core/drawing/shape/shapes';
import { terminalsOf } from '@mesura/core/drawing/shape/terminals';
import { chartPictureRoom, type ChartPicture as Placing } from '@mesura/core/model/sheet';
import { find } from '@mesura/core/model/network';
import { ChartPicture } from '../../charts/ChartPicture';
import { useProject } from '../../project/ProjectContext';
import { gripBox } from '../picture/flow';
import classes from '../diagram.module.css';

export type ElementNodeType = Node<{ element: Placed; title: string }, 'element'>;

interface Hands {
  /** Connections may be drawn and busbars lengthened. */
  editable: boolean;
  onResize: (id: string, size: { width: number; height: number }, done: boolean) => void;
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
            onResize={(_, size) => onResize(element.id, size, false)}
            onResizeEnd={(_, size) => onResize(element.id, size, true)}
          />
        )}
      </div>
    );
  if (element.kind === 'chartPicture')
    return (
      <div className={classes.element} style={{ width, height }} data-chosen={selected || undefined}>
        <ChartOf picture={element} />
        {selected && editable && (
          <NodeResizeControl
            position="bottom-right"
            minWidth={chartPictureRoom.least.width}
            minHeight={chartPictureRoom.least.height}
            className={classes.corner}
            onResize={(_, size) => onResize(element.id, size, false)}
            onResizeEnd={(_, size) => onResize(element.id, size, true)}
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

/** The chart that stands there, as it is now. */
function ChartOf({ picture: { chart: id, width, height } }: { picture: Placing }) {
  const chart = useProject((state) => find(state.network, 'gradingChart', id));
  return chart ? <ChartPicture chart={chart} width={width} height={height} /> : null;
}
