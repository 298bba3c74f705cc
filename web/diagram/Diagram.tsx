'use client';

import { useCallback, useEffect, useMemo, useRef, useState, type MouseEvent as ReactMouseEvent } from 'react';
import {
  ConnectionLineType,
  ConnectionMode,
  ReactFlow,
  useReactFlow,
  useStoreApi,
  type FinalConnectionState,
  type IsValidConnection,
  type NodeChange,
} from '@xyflow/react';
import { useComputedColorScheme } from '@mantine/core';
import { snappedPanel } from '@mesura/core/drawing/board';
import {
  boxOf,
  busHeight,
  grid,
  hull,
  isDrawn,
  isPlaced,
  snapToGrid,
  type Box,
  type Placed,
} from '@mesura/core/drawing/shapes';
import { movedWith } from '@mesura/core/drawing/together';
import { made } from '@mesura/core/drawing/tools';
import { FreeNames } from '@mesura/core/drawing/fragment';
import type { Change } from '@mesura/core/model/changes';
import { whyNotConnect } from '@mesura/core/model/connect';
import { nameOf, type Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { settingsOf, type Network } from '@mesura/core/model/network';
import type { Problem } from '@mesura/core/model/problem';
import { buildTopology } from '@mesura/core/model/topology';
import { useDesk } from '../desk/deskState';
import { useFindings } from '../desk/findings';
import { newId } from '../project/newId';
import { useProject, useProjectStore } from '../project/ProjectContext';
import { dark, levelColor, light } from '../theme/tokens';
import { DrawingHint } from './DrawingHint';
import { Easel } from './easel';
import { beginFeeder, chainOf, insertDropped, joinThem, moveBy, pasteAt, placeSymbol, report, tell } from './edit';
import { ElementNode, HandsContext, type ElementNodeType } from './ElementNode';
import { idle, restoreLayers, useDrawing } from './drawingState';
import { mostReady, NodeCache, nodesOf } from './flow';
import { aligned, type Guide } from './guides';
import type { Overlay } from './overlay';
import { linkBox, Painting, type Marks, type Pens, type Port } from './paint';
import { OverviewMap } from './OverviewMap';
import { PageTabs } from './PageTabs';
import { Palette, ViewButtons } from './Palette';
import { Scene, nothingAdjusted, type Adjusted } from './scene';
import { SelectionTools } from './SelectionTools';
import { useClipboard } from './useClipboard';
import { useMarquee } from './useMarquee';
import { useModeKeys } from './useModeKeys';
import classes from './diagram.module.css';

const nodeTypes = { element: ElementNode };
const nothing: ReadonlySet<ElementId> = new Set();
const noGuides: readonly Guide[] = [];

/** Fitting a small drawing must not blow it up. */
const closestFit = 1.4;

interface Props {
  overlay: Overlay;
  /** Symbols may be placed, joined, moved and deleted; otherwise the drawing is for looking and choosing. */
  editable: boolean;
  onPick?: (id: ElementId) => void;
}

/** The one-line diagram: the model painted, and changed by hand. */
export function Diagram({ overlay, editable, onPick }: Props) {
  const store = useProjectStore();
  const stored = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const scheme = useComputedColorScheme('light');
  const flow = useReactFlow<ElementNodeType>();
  const flowStore = useStoreApi();
  const mode = useDrawing((state) => state.mode);
  const cursor = useDrawing((state) => state.cursor);
  const layers = useDrawing((state) => state.layers);
  const mapShown = useDrawing((state) => state.map);
  const wantedPage = useDesk((state) => state.page);
  const page = wantedPage && stored.elements.get(wantedPage)?.kind === 'page' ? wantedPage : null;
  const [adjusted, setAdjusted] = useState<Adjusted>(nothingAdjusted);
  const [guides, setGuides] = useState<readonly Guide[]>(noGuides);
  const [hovered, setHovered] = useState<ElementId | null>(null);
  const [hint, setHint] = useState<string | null>(null);
  const [keeper] = useState(() => new SceneKeeper());
  const [cache] = useState(() => new NodeCache());
  const started = useRef<{ x: number; y: number } | null>(null);
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [easel, setEasel] = useState<Easel | null>(null);

  const network = useMemo(() => withDraft(stored, mode), [stored, mode]);
  const scene = useMemo(() => keeper.of(network, page), [keeper, network, page]);
  const topology = useMemo(() => buildTopology(network), [network]);
  const standard = settingsOf(network).symbols;
  const pens = useMemo<Pens>(
    () => ({
      palette: scheme === 'light' ? light : dark,
      standard,
      colorAt: (element, terminal) => {
        const node = topology.nodeAt(element, terminal);
        return levelColor(node === undefined ? null : topology.nodes[node].nominalKv, scheme);
      },
    }),
    [scheme, standard, topology],
  );
  const moving = adjusted.size > 0;
  const movingKey = moving ? [...adjusted.keys()].join(' ') : '';
  const painting = useMemo(
    () =>
      new Painting(scene, pens, movingKey ? new Set(movingKey.split(' ') as ElementId[]) : nothing, layers.protection),
    [scene, pens, movingKey, layers.protection],
  );
  const { value: problems } = useFindings();
  const findings = useMemo(() => worstOf(problems ?? []), [problems]);
  const selected = useMemo(() => new Set<string>(selection), [selection]);
  const marks = useMemo<Marks>(
    () => ({ selected, hovered, overlay, findings, layers }),
    [selected, hovered, overlay, findings, layers],
  );
  const ghost = useMemo(() => ghostOf(mode, cursor), [mode, cursor]);

  // The canvas is painted outside of React: a pan or a zoom is no render.
  useEffect(() => {
    restoreLayers();
    const made = new Easel(canvas.current!);
    const look = () => made.look(portOf(flowStore.getState()));
    setEasel(made);
    look();
    const stop = flowStore.subscribe(look);
    const fresh = () => made.measureAnew();
    void document.fonts?.ready.then(fresh);
    return () => {
      stop();
      made.stop();
    };
  }, [flowStore]);
  useEffect(
    () => easel?.show({ painting, marks, adjusted, ghost, guides }),
    [easel, painting, marks, adjusted, ghost, guides],
  );

  const fit = useCallback(
    (bounds: Box | null = null) => {
      const { width, height } = frame.current!.getBoundingClientRect();
      const whole =
        bounds ?? hull(scene.placed.filter((element) => element.kind !== 'textNote').map(boxOf)) ?? scene.bounds;
      if (!whole || width === 0) return;
      const room = editable ? { top: 54, bottom: 40, side: 30 } : { top: 20, bottom: 40, side: 30 };
      const zoom = Math.min(
        (width - 2 * room.side) / Math.max(whole.width, 1),
        (height - room.top - room.bottom) / Math.max(whole.height, 1),
        closestFit,
      );
      void flow.setViewport({
        zoom,
        x: (width - whole.width * zoom) / 2 - whole.x * zoom,
        y: room.top + (height - room.top - room.bottom - whole.height * zoom) / 2 - whole.y * zoom,
      });
    },
    [flow, scene, editable],
  );
  const latestFit = useRef(fit);
  useEffect(() => {
    latestFit.current = fit;
  });
  useEffect(() => latestFit.current(), [page]);

  const resize = useCallback(
    (id: string, width: number, done: boolean) => {
      const length = Math.max(40, snapToGrid(width));
      if (!done) return setAdjusted(new Map([[id as ElementId, { length }]]));
      setAdjusted(nothingAdjusted);
      const bus = store.getState().network.elements.get(id as ElementId);
      if (bus?.kind === 'bus' && bus.length !== length)
        store.getState().commit([{ op: 'update', element: { ...bus, length } }], `Lengthen ${bus.name}`);
    },
    [store],
  );
  const hands = useMemo(() => ({ editable, onResize: resize }), [editable, resize]);

  const ready = useMemo(() => {
    if (scene.placed.length <= mostReady) return scene.placed;
    const ids = new Set<ElementId>([...selection.slice(0, 100), ...(hovered ? [hovered] : [])]);
    return [...ids].flatMap((id) => {
      const element = network.elements.get(id);
      return element && isPlaced(element) && (element.page ?? null) === page ? [element] : [];
    });
  }, [scene, selection, hovered, network, page]);
  const nodes = useMemo(
    () => nodesOf(ready, adjusted, selected, (element) => overlay.tags.get(element.id)?.title ?? '', cache),
    [ready, adjusted, selected, overlay, cache],
  );

  const onNodesChange = useCallback(
    (changes: NodeChange<ElementNodeType>[]) => {
      const { selection: before, network: now, select } = store.getState();
      const picks = changes.filter((change) => change.type === 'select');
      if (picks.length > 0) {
        // Towers and couplings stand off the drawing, runs are chosen by themselves: whoever turns to symbols leaves them.
        const chosen = new Set(before.filter((id) => isPlaced(now.elements.get(id)!)));
        for (const { id, selected: on } of picks) {
          if (on) chosen.add(id as ElementId);
          else chosen.delete(id as ElementId);
        }
        select([...chosen]);
      }
      const drag = changes.find((change) => change.type === 'position' && change.position);
      if (drag?.type !== 'position' || !drag.position) return;
      const lead = now.elements.get(drag.id as ElementId);
      const node = flow.getNode(drag.id);
      if (!lead || !isPlaced(lead) || !node) return;
      const origin = cache.node(lead, node.selected ?? false, node.data.title).position;
      const off = {
        x: snapToGrid(lead.x + drag.position.x - origin.x) - lead.x,
        y: snapToGrid(lead.y + drag.position.y - origin.y) - lead.y,
      };
      const chosen = selection.includes(lead.id)
        ? selection.filter((id) => isPlaced(now.elements.get(id)!))
        : [lead.id];
      const { places, by, lines } = dragged(scene, now, lead, chosen, off, 5 / Math.max(flow.getZoom(), 0.4));
      if (drag.dragging) {
        setAdjusted(places);
        setGuides(lines);
        return;
      }
      setAdjusted(nothingAdjusted);
      setGuides(noGuides);
      moveBy(store, chosen, by.x, by.y);
      if (chosen.length === 1) insertDropped(store, lead.id);
    },
    [store, flow, selection, scene, cache],
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
  const isValid: IsValidConnection = useCallback(
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
    if (reason) return tell('These cannot be connected', reason);
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

  const positionOf = useCallback(
    (event: { clientX: number; clientY: number }) =>
      flow.screenToFlowPosition({ x: event.clientX, y: event.clientY }, { snapToGrid: false }),
    [flow],
  );

  /** A click where nothing stands ready: a symbol to be put down, or what is painted there. */
  const onPane = (event: ReactMouseEvent) => {
    const at = positionOf(event);
    const { set } = useDrawing.getState();
    if (mode.kind === 'place') {
      placeSymbol(store, mode.tool, at);
      if (!event.shiftKey) set({ mode: idle, cursor: null });
      return;
    }
    if (mode.kind === 'stamp') {
      pasteAt(store, mode.fragment, at, `Place ${mode.title}`);
      if (!event.shiftKey) set({ mode: idle, cursor: null });
      return;
    }
    const reach = 6 / flow.getZoom();
    const link = scene.links.find((each) => inside(linkBox(each), at));
    if (link) {
      useDesk.getState().set({ page: link.page });
      return store.getState().select([link.to]);
    }
    const hit = scene.elementAt(at, reach) ?? scene.wireAt(at, reach)?.connection ?? null;
    const additive = event.ctrlKey || event.metaKey;
    const before = additive ? selection.filter((id) => id !== hit?.id) : [];
    store.getState().select(hit ? [...before, hit.id] : before);
    if (hit && hit.kind !== 'connection') onPick?.(hit.id);
  };

  const onNode = (event: ReactMouseEvent, node: ElementNodeType) => {
    const id = node.id as ElementId;
    if (mode.kind === 'join' && mode.from !== id) {
      joinThem(store, mode.from, id);
      return useDrawing.getState().set({ mode: idle });
    }
    if (mode.kind === 'place' && mode.tool && editable) {
      placeSymbol(store, mode.tool, positionOf(event));
      return useDrawing.getState().set({ mode: idle, cursor: null });
    }
    onPick?.(id);
  };

  const onPointer = (event: ReactMouseEvent) => {
    if (event.buttons !== 0) return;
    const at = positionOf(event);
    if (mode.kind === 'place' || mode.kind === 'stamp') {
      const next = { x: snapToGrid(at.x), y: snapToGrid(at.y) };
      if (next.x !== cursor?.x || next.y !== cursor?.y) useDrawing.getState().set({ cursor: next });
      return;
    }
    const hit = scene.elementAt(at, 5 / flow.getZoom());
    if ((hit?.id ?? null) === hovered) return;
    setHovered(hit?.id ?? null);
    useDesk.getState().set({ readout: hit ? readoutOf(hit, topology, overlay) : '' });
  };

  const marquee = useMarquee(frame, positionOf, (box) => {
    const found = scene.within(box).filter((element) => element.kind !== 'panel' || contained(boxOf(element), box));
    store.getState().select(found.map(({ id }) => id));
  });
  useClipboard(editable, () => centreOf(flow, frame.current));
  useModeKeys(editable, () => centreOf(flow, frame.current));

  return (
    <HandsContext.Provider value={hands}>
      <div
        ref={frame}
        className={classes.canvas}
        data-tool={mode.kind === 'idle' ? undefined : mode.kind}
        role="region"
        aria-label="One-line diagram"
        onMouseMove={onPointer}
        onMouseLeave={() => setHovered(null)}
        onPointerDownCapture={marquee.begin}
        onDoubleClick={(event) => {
          const bus = scene.elementAt(positionOf(event), 6 / flow.getZoom());
          if (editable && bus?.kind === 'bus')
            beginFeeder(store, bus.id, Math.min(Math.max(positionOf(event).x - bus.x, 0), bus.length));
        }}
      >
        <canvas ref={canvas} className={classes.painted} aria-hidden />
        <ReactFlow<ElementNodeType>
          nodes={nodes}
          edges={[]}
          nodeTypes={nodeTypes}
          onNodesChange={onNodesChange}
          onNodeClick={onNode}
          onPaneClick={onPane}
          onInit={() => fit()}
          onConnectStart={(event) => {
            const point = 'clientX' in event ? event : event.touches[0];
            started.current = flow.screenToFlowPosition({ x: point.clientX, y: point.clientY });
          }}
          onConnectEnd={connect}
          isValidConnection={isValid}
          connectionMode={ConnectionMode.Loose}
          connectionLineType={ConnectionLineType.Step}
          connectionLineStyle={{ stroke: 'var(--m-accent)', strokeWidth: 1.6 }}
          connectionRadius={14}
          nodesDraggable={editable && mode.kind === 'idle'}
          nodesConnectable={editable}
          deleteKeyCode={null}
          selectionKeyCode={null}
          disableKeyboardA11y
          multiSelectionKeyCode={['Control', 'Meta']}
          snapToGrid
          snapGrid={[grid, grid]}
          minZoom={0.02}
          maxZoom={4}
          zoomOnDoubleClick={false}
          proOptions={{ hideAttribution: true }}
          nodeDragThreshold={3}
          autoPanOnNodeFocus={false}
        />
        {marquee.box}
        {editable && <Palette />}
        {editable && <SelectionTools />}
        <ViewButtons onFit={() => fit()} onZoom={(factor) => void flow.zoomTo(flow.getZoom() * factor)} />
        {mapShown && scene.placed.length > 60 && <OverviewMap painting={painting} />}
        <PageTabs editable={editable} />
        <DrawingHint wrong={hint} />
      </div>
    </HandsContext.Provider>
  );
}

/** Makes each scene from the one before. */
class SceneKeeper {
  private last: Scene | null = null;

  of(network: Network, page: ElementId | null): Scene {
    if (this.last?.network !== network || this.last.page !== page) this.last = new Scene(network, page, this.last);
    return this.last;
  }
}

/** The model with the feeder that is being drawn. */
function withDraft(network: Network, mode: ReturnType<typeof useDrawing.getState>['mode']): Network {
  if (mode.kind !== 'feeder' || mode.steps.length === 0) return network;
  const { elements, updates } = chainOf(network, mode.start, mode.steps, mode.ids);
  const drafted = new Map(network.elements);
  for (const element of [...updates, ...elements]) drafted.set(element.id, element);
  return { elements: drafted };
}

function ghostOf(
  mode: ReturnType<typeof useDrawing.getState>['mode'],
  cursor: { x: number; y: number } | null,
): Box | null {
  if (!cursor) return null;
  if (mode.kind === 'stamp') {
    const box = hull(mode.fragment.elements.filter(isPlaced).map(boxOf));
    return box && { ...box, x: cursor.x, y: cursor.y };
  }
  if (mode.kind !== 'place') return null;
  if (!mode.tool) return { x: cursor.x, y: cursor.y, width: 60, height: 18 };
  const sample = made(mode.tool, 'ghost' as ElementId, new FreeNames([]), null, { x: cursor.x, y: cursor.y });
  const box = boxOf(sample);
  return sample.kind === 'bus' ? { ...box, height: busHeight } : box;
}

/** Where everything comes to stand that moves with the one in hand. */
function dragged(
  scene: Scene,
  network: Network,
  lead: Placed,
  chosen: readonly ElementId[],
  off: { x: number; y: number },
  reach: number,
) {
  const whole = movedWith(network, chosen);
  const by = { ...off };
  const slides = chosen.every((id) => network.elements.get(id)?.kind === 'panel');
  if (slides && lead.kind === 'panel') {
    by.x = snappedPanel(network, lead, lead.x + off.x) - lead.x;
    by.y = 0;
  }
  const placesAt = (dx: number, dy: number): Adjusted =>
    new Map(
      [...whole].flatMap((id) => {
        const element = network.elements.get(id);
        return element && isPlaced(element) ? [[id, { x: element.x + dx, y: element.y + dy }] as const] : [];
      }),
    );
  if (slides) return { places: placesAt(by.x, by.y), by, lines: noGuides };
  const line = aligned(scene, lead, placesAt(by.x, by.y), reach);
  return {
    places: placesAt(by.x + line.by.x, by.y + line.by.y),
    by: { x: by.x + line.by.x, y: by.y + line.by.y },
    lines: line.guides,
  };
}

function worstOf(problems: readonly Problem[]): Marks['findings'] {
  const order = { error: 2, warning: 1, assumed: 0 };
  const worst = new Map<ElementId, 'error' | 'warning' | 'assumed'>();
  for (const { element: one, elements, severity } of problems)
    for (const element of elements ?? (one ? [one] : []))
      if (order[severity] >= order[worst.get(element) ?? 'assumed']) worst.set(element, severity);
  return worst;
}

function readoutOf(element: Placed, topology: ReturnType<typeof buildTopology>, overlay: Overlay): string {
  const node = topology.nodeAt(element.id, 0);
  const kv = node === undefined ? null : topology.nodes[node].nominalKv;
  const tag = overlay.tags.get(element.id)?.title;
  const name = isDrawn(element) ? element.name : nameOf(element as Element);
  return tag ?? `${name}${kv === null ? '' : ` · ${kv}\u2009kV`}`;
}

const portOf = (state: { transform: readonly [number, number, number]; width: number; height: number }): Port => {
  const [x, y, zoom] = state.transform;
  return { x: -x / zoom, y: -y / zoom, zoom, width: state.width, height: state.height };
};

const inside = (box: Box, at: { x: number; y: number }): boolean =>
  at.x >= box.x && at.y >= box.y && at.x <= box.x + box.width && at.y <= box.y + box.height;
const contained = (p: Box, q: Box): boolean =>
  p.x >= q.x && p.y >= q.y && p.x + p.width <= q.x + q.width && p.y + p.height <= q.y + q.height;

function centreOf(
  flow: ReturnType<typeof useReactFlow<ElementNodeType>>,
  frame: HTMLElement | null,
): { x: number; y: number } {
  const { left, top, width, height } = frame!.getBoundingClientRect();
  const { x, y } = flow.screenToFlowPosition({ x: left + width / 2, y: top + height / 2 }, { snapToGrid: false });
  return { x: snapToGrid(x), y: snapToGrid(y) };
}
