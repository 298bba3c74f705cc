'use client';

import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type CSSProperties,
  type MouseEvent as ReactMouseEvent,
} from 'react';
import {
  ConnectionMode,
  ReactFlow,
  SelectionMode,
  useReactFlow,
  useStore,
  type EdgeChange,
  type FinalConnectionState,
  type IsValidConnection,
  type NodeChange,
} from '@xyflow/react';
import { useComputedColorScheme } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import type { Change } from '@mesura/core/model/changes';
import { whyNotConnect } from '@mesura/core/model/connect';
import type { ElementId } from '@mesura/core/model/fields';
import { buildTopology } from '@mesura/core/model/topology';
import { useProject, useProjectStore } from '../project/ProjectContext';
import { levelColor } from '../theme/tokens';
import { DiagramContext, type DiagramView, type Overlay } from './DiagramContext';
import { ElementNode, type ElementNodeType } from './ElementNode';
import { edgesOf, nodesOf, type Adjusted } from './flow';
import { grid, snapToGrid } from './geometry';
import { Palette, ViewButtons } from './Palette';
import { newId, placed, type Tool } from './tools';
import { WireEdge, type WireEdgeType } from './WireEdge';
import classes from './diagram.module.css';

const nodeTypes = { element: ElementNode };
const edgeTypes = { wire: WireEdge };

const roomAround = { top: '14px', bottom: '32px', left: '24px', right: '24px' } as const;
/** Fitting a small drawing must not blow it up. */
const closestFit = 1.4;
const roomForTools = { ...roomAround, top: '52px' } as const;

interface Props {
  overlay: Overlay;
  /** Symbols may be placed, joined, moved and deleted; otherwise the drawing is for looking and choosing. */
  editable: boolean;
  onPick?: (id: ElementId) => void;
}

/** The one-line diagram: the model drawn, and changed by hand. */
export function Diagram({ overlay, editable, onPick }: Props) {
  const store = useProjectStore();
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const scheme = useComputedColorScheme('light');
  const flow = useReactFlow<ElementNodeType, WireEdgeType>();
  const zoom = useStore((state) => Math.round(state.transform[2] * 20) / 20);
  const [adjusted, setAdjusted] = useState<Adjusted>(new Map());
  const [tool, setTool] = useState<Tool | null>(null);
  const [hint, setHint] = useState<string | null>(null);
  /** Space kept free around the drawing for what floats over it. */
  const room = editable ? roomForTools : roomAround;
  const started = useRef<{ x: number; y: number } | null>(null);

  const topology = useMemo(() => buildTopology(network), [network]);
  const view = useMemo<DiagramView>(
    () => ({
      overlay,
      editable,
      colorAt: (element, terminal) => {
        const node = topology.nodeAt(element, terminal);
        return levelColor(node === undefined ? null : topology.nodes[node].nominalKv, scheme);
      },
    }),
    [overlay, editable, topology, scheme],
  );

  const resize = useCallback(
    (id: string, width: number, done: boolean) => {
      const length = Math.max(40, snapToGrid(width));
      if (!done) return setAdjusted((old) => new Map(old).set(id, { ...old.get(id), length }));
      setAdjusted(new Map());
      const bus = store.getState().network.elements.get(id as ElementId);
      if (bus?.kind === 'bus' && bus.length !== length)
        store.getState().commit([{ op: 'update', element: { ...bus, length } }], `Lengthen ${bus.name}`);
    },
    [store],
  );
  const nodes = useMemo(() => nodesOf(network, adjusted, selection, resize), [network, adjusted, selection, resize]);
  // On an empty sheet the canvas would keep the wish to fit and zoom onto the first symbol that is placed.
  const [fitAtStart] = useState(() => nodes.length > 0);
  const edges = useMemo(
    () => edgesOf(network, adjusted, selection, view.colorAt),
    [network, adjusted, selection, view],
  );

  const move = useCallback(
    (moves: ReadonlyMap<string, { x: number; y: number }>) => {
      const changes: Change[] = [];
      for (const [id, { x, y }] of moves) {
        const element = store.getState().network.elements.get(id as ElementId);
        if (element && 'x' in element && (element.x !== x || element.y !== y))
          changes.push({ op: 'update', element: { ...element, x, y } });
      }
      setAdjusted(new Map());
      if (changes.length > 0)
        report(store.getState().commit(changes, changes.length === 1 ? 'Move' : `Move ${changes.length} elements`));
    },
    [store],
  );

  const select = useCallback(
    (changes: readonly (NodeChange | EdgeChange)[]) => {
      const { selection: before, network: now } = store.getState();
      // Towers and couplings stand off the drawing; whoever turns to the drawing leaves them.
      const chosen = new Set<string>(
        before.filter((id) => now.elements.get(id)?.kind === 'connection' || 'x' in (now.elements.get(id) ?? {})),
      );
      let changed = false;
      for (const change of changes) {
        if (change.type !== 'select') continue;
        changed = true;
        if (change.selected) chosen.add(change.id);
        else chosen.delete(change.id);
      }
      if (changed) store.getState().select([...chosen] as ElementId[]);
    },
    [store],
  );

  const onNodesChange = useCallback(
    (changes: NodeChange<ElementNodeType>[]) => {
      select(changes);
      const moves = new Map<string, { x: number; y: number }>();
      let dragging = false;
      for (const change of changes) {
        if (change.type !== 'position' || !change.position) continue;
        const node = flow.getNode(change.id);
        if (!node) continue;
        const element = node.data.element;
        const offset = { x: element.x - node.position.x, y: element.y - node.position.y };
        moves.set(change.id, {
          x: snapToGrid(change.position.x + offset.x),
          y: snapToGrid(change.position.y + offset.y),
        });
        dragging ||= change.dragging === true;
      }
      if (moves.size === 0) return;
      if (dragging)
        setAdjusted(
          (old) => new Map([...old, ...[...moves].map(([id, at]) => [id, { ...old.get(id), ...at }] as const)]),
        );
      else move(moves);
    },
    [flow, select, move],
  );

  const whyNot = useCallback(
    (source: string, from: string | null, target: string, to: string | null) =>
      whyNotConnect(
        store.getState().network,
        topology,
        { element: source as ElementId, terminal: Number(from) },
        { element: target as ElementId, terminal: Number(to) },
      ),
    [store, topology],
  );
  const isValid: IsValidConnection<WireEdgeType> = useCallback(
    ({ source, sourceHandle, target, targetHandle }) => {
      const reason = whyNot(source, sourceHandle ?? null, target, targetHandle ?? null);
      setHint(reason);
      return reason === null;
    },
    [whyNot],
  );
  const connect = (event: MouseEvent | TouchEvent, state: FinalConnectionState) => {
    setHint(null);
    const { fromNode, fromHandle, toNode, toHandle } = state;
    if (!fromNode || !fromHandle || !toNode || !toHandle) return;
    const reason = whyNot(fromNode.id, fromHandle.id ?? null, toNode.id, toHandle.id ?? null);
    if (reason) return void notifications.show({ color: 'red', title: 'These cannot be connected', message: reason });
    const point = 'clientX' in event ? event : event.changedTouches[0];
    const at = flow.screenToFlowPosition({ x: point.clientX, y: point.clientY });
    const end = (id: string, terminal: string, where: { x: number } | null) => {
      const element = network.elements.get(id as ElementId)!;
      const along =
        element.kind === 'bus'
          ? { at: Math.min(Math.max(snapToGrid((where?.x ?? element.x) - element.x), 0), element.length) }
          : {};
      return { element: element.id, terminal: Number(terminal), ...along };
    };
    const connection: Change = {
      op: 'add',
      element: {
        kind: 'connection',
        id: newId(),
        from: end(fromNode.id, fromHandle.id ?? '0', started.current),
        to: end(toNode.id, toHandle.id ?? '0', at),
      },
    };
    report(store.getState().commit([connection], 'Connect'));
  };

  const place = (event: ReactMouseEvent) => {
    if (!tool) {
      // What is selected may stand off the drawing: the drawing's own selection would not notice.
      store.getState().select([]);
      return;
    }
    const at = flow.screenToFlowPosition({ x: event.clientX, y: event.clientY }, { snapToGrid: false });
    const element = placed(tool, network, snapToGrid(at.x), snapToGrid(at.y));
    report(store.getState().commit([{ op: 'add', element }], `Place ${tool.title.toLowerCase()}`));
    store.getState().select([element.id]);
    if (!event.shiftKey) setTool(null);
  };

  useEffect(() => {
    const leave = (event: KeyboardEvent) => {
      if (event.key === 'Escape') setTool(null);
    };
    window.addEventListener('keydown', leave);
    return () => window.removeEventListener('keydown', leave);
  }, []);

  return (
    <DiagramContext.Provider value={view}>
      <div
        className={classes.canvas}
        style={{ '--label': `${labelSize(zoom)}px` } as CSSProperties}
        data-tool={tool?.kind}
        role="region"
        aria-label="One-line diagram"
      >
        <ReactFlow<ElementNodeType, WireEdgeType>
          nodes={nodes}
          edges={edges}
          nodeTypes={nodeTypes}
          edgeTypes={edgeTypes}
          onNodesChange={onNodesChange}
          onEdgesChange={select}
          onNodeClick={(_, node) => onPick?.(node.id as ElementId)}
          onPaneClick={place}
          onConnectStart={(event) => {
            const point = 'clientX' in event ? event : event.touches[0];
            started.current = flow.screenToFlowPosition({ x: point.clientX, y: point.clientY });
          }}
          onConnectEnd={connect}
          isValidConnection={isValid}
          connectionMode={ConnectionMode.Loose}
          connectionRadius={14}
          nodesDraggable={editable}
          nodesConnectable={editable}
          deleteKeyCode={null}
          selectionKeyCode="Shift"
          multiSelectionKeyCode={['Control', 'Meta']}
          selectionMode={SelectionMode.Partial}
          snapToGrid
          snapGrid={[grid, grid]}
          minZoom={0.05}
          maxZoom={4}
          fitView={fitAtStart}
          fitViewOptions={{ padding: room, maxZoom: closestFit }}
          onlyRenderVisibleElements={nodes.length > 400}
          proOptions={{ hideAttribution: true }}
          nodeDragThreshold={3}
          autoPanOnNodeFocus={false}
        />
        {editable && <Palette tool={tool} onTool={setTool} />}
        <ViewButtons
          onFit={() => void flow.fitView({ padding: room, maxZoom: closestFit, duration: 0 })}
          onZoom={(factor) => void flow.zoomTo(flow.getZoom() * factor)}
        />
        {(hint || tool) && (
          <div className={classes.hint} data-wrong={hint ? true : undefined} role="status">
            {hint ?? `Click to place: ${tool!.title}. Shift keeps the tool, Esc leaves it.`}
          </div>
        )}
      </div>
    </DiagramContext.Provider>
  );
}

/** Labels grow on the sheet as the view shrinks, so that they stay readable as far as there is room. */
const labelSize = (zoom: number): number => Math.min(14, Math.max(11, 8.2 / Math.max(zoom, 0.1)));

function report(result: ReturnType<ReturnType<ReturnType<typeof useProjectStore>['getState']>['commit']>): void {
  if (!result.ok)
    notifications.show({ color: 'red', title: 'This does not fit the project', message: result.problems[0].message });
}
