'use client';

import { memo } from 'react';
import { Handle, NodeResizeControl, Position, type Node, type NodeProps } from '@xyflow/react';
import { terminalsOf } from '@mesura/core/model/drawing';
import { useDiagramView } from './DiagramContext';
import { boxOf, busHeight, type Drawn } from './geometry';
import { detailOf } from './labels';
import { ElementSymbol } from './symbols';
import classes from './diagram.module.css';

export type ElementNodeType = Node<
  { element: Drawn; onResize: (id: string, length: number, done: boolean) => void },
  'element'
>;

/** A symbol with its labels, its terminals and what the stage lays over it. */
export const ElementNode = memo(function ElementNode({ data, selected }: NodeProps<ElementNodeType>) {
  const { element } = data;
  const { overlay, colorAt, editable } = useDiagramView();
  const hv = colorAt(element.id, 0);
  if (element.kind === 'bus')
    return <BusNode element={element} color={hv} selected={selected} onResize={data.onResize} />;
  const box = boxOf(element);
  const terminals = terminalsOf(element);
  const lv = terminals.length > 1 ? colorAt(element.id, 1) : hv;
  const third = terminals.length > 2 ? colorAt(element.id, 2) : lv;
  const mark = overlay.marks.get(element.id);
  const flow = overlay.flows.get(element.id);
  return (
    <div
      className={classes.element}
      data-selected={selected || undefined}
      style={{ width: box.width, height: box.height }}
    >
      <svg
        width={box.width}
        height={box.height}
        viewBox={`${-box.width / 2} ${-box.height / 2} ${box.width} ${box.height}`}
        overflow="visible"
        aria-hidden
      >
        {mark && (
          <rect
            x={-box.width / 2 - 3}
            y={-box.height / 2 - 3}
            width={box.width + 6}
            height={box.height + 6}
            rx={element.kind === 'relay' ? 14 : 4}
            fill={mark}
            fillOpacity={0.16}
            stroke={mark}
            strokeWidth={1.4}
          />
        )}
        <g transform={element.kind === 'relay' ? undefined : `rotate(${element.turn})`}>
          <ElementSymbol element={element} hv={hv} lv={lv} third={third} />
        </g>
      </svg>
      {terminals.map((terminal, k) => (
        <Handle
          key={k}
          id={String(k)}
          type="source"
          position={Position.Top}
          isConnectable={editable}
          className={classes.handle}
          style={{ left: box.width / 2 + terminal.x, top: box.height / 2 + terminal.y }}
          aria-label={`terminal ${k + 1} of ${element.name}`}
        />
      ))}
      <Labels element={element} />
      {flow && (
        <Flow
          text={flow.text}
          down={flow.leavesAt === 1 || terminals.length === 1 ? flowsDown(element, flow.leavesAt) : false}
        />
      )}
    </div>
  );
});

/** True when current that leaves at this terminal runs downward on the sheet. */
const flowsDown = (element: Drawn, terminal: number): boolean => (terminalsOf(element)[terminal]?.y ?? 0) >= 0;

function Labels({ element }: { element: Drawn }) {
  const lying = element.turn === 90 || element.turn === 270;
  const below = [
    'synchronousMachine',
    'asynchronousMotor',
    'staticDrive',
    'converterSource',
    'doublyFedMachine',
    'load',
    'shunt',
    'earthingTransformer',
    'earthingSwitch',
  ].includes(element.kind);
  if (element.kind === 'relay') return null;
  const detail = detailOf(element);
  const left = (element.kind === 'switch' || element.kind === 'currentTransformer') && !lying;
  const place = below ? classes.below : lying ? classes.under : left ? classes.left : classes.right;
  const strong = ['transformer', 'threeWindingTransformer', 'powerStationUnit', 'networkFeeder'].includes(element.kind);
  return (
    <div className={`${classes.labels} ${place}`}>
      {element.kind !== 'currentTransformer' && (
        <div className={strong ? classes.strong : undefined}>{element.name}</div>
      )}
      {detail && <div className={classes.detail}>{detail}</div>}
    </div>
  );
}

function Flow({ text, down }: { text: string; down: boolean }) {
  return (
    <div className={classes.flow}>
      <svg width={9} height={14} viewBox="0 0 9 14" aria-hidden>
        <path
          d={down ? 'M4.5 1v10M1.5 8l3 4 3-4' : 'M4.5 13V3M1.5 6l3-4 3 4'}
          fill="none"
          stroke="currentColor"
          strokeWidth={1.5}
        />
      </svg>
      <span className="figure">{text}</span>
    </div>
  );
}

function BusNode({
  element,
  color,
  selected,
  onResize,
}: {
  element: Extract<Drawn, { kind: 'bus' }>;
  color: string;
  selected: boolean;
  onResize: ElementNodeType['data']['onResize'];
}) {
  const { overlay, editable } = useDiagramView();
  const tag = overlay.tags.get(element.id);
  return (
    <div
      className={classes.bus}
      data-selected={selected || undefined}
      style={{ width: element.length, height: busHeight }}
    >
      <div className={classes.bar} style={{ background: color }} />
      <Handle
        id="0"
        type="source"
        position={Position.Top}
        isConnectable={editable}
        className={classes.busHandle}
        aria-label={`busbar ${element.name}`}
      />
      <div className={classes.busName} style={{ color }}>
        {element.name}
      </div>
      {tag && (
        <div className={classes.tag} data-active={tag.active || undefined} title={tag.title}>
          {tag.lines.map((line) => (
            <div key={line} className="figure">
              {line}
            </div>
          ))}
        </div>
      )}
      {selected && editable && (
        <NodeResizeControl
          position="right"
          minWidth={40}
          className={classes.resize}
          onResize={(_, { width }) => onResize(element.id, width, false)}
          onResizeEnd={(_, { width }) => onResize(element.id, width, true)}
        />
      )}
    </div>
  );
}
