'use client';

import { useCallback, useEffect, useMemo, useRef, useState, type MouseEvent as ReactMouseEvent } from 'react';
import { ConnectionLineType, ConnectionMode, ReactFlow, useReactFlow, useStoreApi } from '@xyflow/react';
import { useComputedColorScheme } from '@mantine/core';
import { boxOf, contains, grid, hull, isPlaced, snapToGrid, type Box } from '@mesura/core/drawing/shape/shapes';
import type { Condition } from '@mesura/core/model/condition';
import { drawnIn } from '@mesura/core/model/conditionEdit';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind, settingsOf } from '@mesura/core/model/network';
import { buildTopology } from '@mesura/core/model/topology';
import { showStage, useDesk } from '../desk/deskState';
import { useFindings } from '../desk/findings';
import { toData } from '../desk/typing';
import { useProject, useProjectStore } from '../project/ProjectContext';
import { dark, levelColor, light } from '../theme/tokens';
import { ArrangeOffer } from './around/ArrangeOffer';
import { DrawingHint } from './around/DrawingHint';
import { Easel } from './picture/easel';
import { beginFeeder, happened } from './hands/hand';
import { ElementNode, HandsContext, type ElementNodeType } from './hands/ElementNode';
import { restoreLayers, useDrawing, type View } from './drawingState';
import { mostReady, NodeCache, nodesOf } from './picture/flow';
import type { Overlay } from './picture/overlay';
import { linkBox, type Marks } from './picture/figures';
import { Painting, type Pens } from './picture/strokes';
import { OverviewMap } from './around/OverviewMap';
import { PageTabs } from './around/PageTabs';
import { Palette, ViewButtons } from './around/Palette';
import { SelectionTools } from './around/SelectionTools';
import { clearing, fitted, portOf, readoutOf, roomIn, SceneKeeper, worstOf } from './picture/shown';
import { useClipboard } from './hands/useClipboard';
import { useConnecting } from './hands/useConnecting';
import { useDragging } from './hands/useDragging';
import { useMarquee } from './hands/useMarquee';
import { useToolKeys } from './hands/useToolKeys';
import { aims, followed, ghostOf, withDraft } from './tools';
import classes from './diagram.module.css';
import { useOtherMarks } from './useOtherMarks';

const nodeTypes = { element: ElementNode };
const nothing: ReadonlySet<ElementId> = new Set();

interface Props {
  overlay: Overlay;
  /** Switches stand as this condition has them; null: as drawn. */
  condition: Condition | null;
  /** Symbols may be placed, joined, moved and deleted; otherwise the drawing is for looking and choosing. */
  editable: boolean;
  onPick?: (id: ElementId) => void;
}

/** The one-line diagram: the model painted, and changed by hand. */
export function Diagram({ overlay, editable, condition, onPick }: Props) {
  const store = useProjectStore();
  const stored = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const scheme = useComputedColorScheme('light');
  const flow = useReactFlow<ElementNodeType>();
  const flowStore = useStoreApi();
  const held = useDrawing((state) => state.held);
  const cursor = useDrawing((state) => state.cursor);
  const layers = useDrawing((state) => state.layers);
  const mapShown = useDrawing((state) => state.map);
  const wantedPage = useDesk((state) => state.page);
  const page = wantedPage && stored.elements.get(wantedPage)?.kind === 'page' ? wantedPage : null;
  const [hovered, setHovered] = useState<ElementId | null>(null);
  const [keeper] = useState(() => new SceneKeeper());
  const [cache] = useState(() => new NodeCache());
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [easel, setEasel] = useState<Easel | null>(null);

  const network = useMemo(() => {
    const drawn = condition ? drawnIn(stored, condition) : stored;
    return withDraft(editable ? held : null, drawn);
  }, [stored, condition, held, editable]);
  const scene = useMemo(() => keeper.of(network, page), [keeper, network, page]);
  const topology = useMemo(() => buildTopology(network), [network]);
  const { adjusted, guides, onNodesChange, resize } = useDragging(scene);
  const connecting = useConnecting(topology);
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
  const others = useOtherMarks(scheme);
  const marks = useMemo<Marks>(
    () => ({ selected, hovered, overlay, findings, layers, others }),
    [selected, hovered, overlay, findings, layers, others],
  );
  const ghost = useMemo(() => ghostOf(held, cursor), [held, cursor]);

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

  const fit = useCallback(() => {
    const { width, height } = frame.current!.getBoundingClientRect();
    const whole = hull(scene.placed.filter((element) => element.kind !== 'textNote').map(boxOf)) ?? scene.bounds;
    if (!whole || width === 0) return;
    void flow.setViewport(fitted(whole, { width, height }, roomIn(frame.current!)));
  }, [flow, scene]);
  const view = useMemo<View>(() => {
    const pane = () => frame.current!.getBoundingClientRect();
    return {
      fit,
      show: ({ x, y }) => {
        const { left, top, width, height } = pane();
        const at = flow.flowToScreenPosition({ x, y });
        const inView = at.x > left + 40 && at.x < left + width - 40 && at.y > top + 60 && at.y < top + height - 60;
        if (!inView) void flow.setCenter(x, y, { zoom: Math.max(flow.getZoom(), 0.5), duration: 0 });
      },
      reveal: (box) => {
        const at = flow.getViewport();
        const by = clearing(box, at, pane(), roomIn(frame.current!));
        if (by.x !== 0 || by.y !== 0) void flow.setViewport({ ...at, x: at.x + by.x, y: at.y + by.y });
      },
      centre: () => {
        const { left, top, width, height } = pane();
        const { x, y } = flow.screenToFlowPosition({ x: left + width / 2, y: top + height / 2 }, { snapToGrid: false });
        return { x: snapToGrid(x), y: snapToGrid(y) };
      },
    };
  }, [flow, fit]);
  useEffect(() => {
    useDrawing.getState().set({ view });
    return () => useDrawing.getState().set({ view: null });
  }, [view]);
  useEffect(() => useDrawing.getState().view?.fit(), [page]);

  // The view follows what is being drawn.
  useEffect(() => {
    const end = editable && followed(held, stored);
    if (end) view.reveal(end);
  }, [view, stored, held, editable]);

  const hands = useMemo(() => ({ editable, onResize: resize }), [editable, resize]);

  const ready = useMemo(() => {
    if (scene.placed.length <= mostReady) return scene.placed;
    // Charts are pictures of their own, not painted.
    const charts = ofKind(network, 'chartPicture').map(({ id }) => id);
    const ids = new Set<ElementId>([...charts, ...selection.slice(0, 100), ...(hovered ? [hovered] : [])]);
    return [...ids].flatMap((id) => {
      const element = network.elements.get(id);
      return element && isPlaced(element) && (element.page ?? null) === page ? [element] : [];
    });
  }, [scene, selection, hovered, network, page]);
  const nodes = useMemo(
    () => nodesOf(ready, adjusted, selected, (element) => overlay.tags.get(element.id)?.title ?? '', cache),
    [ready, adjusted, selected, overlay, cache],
  );

  const positionOf = useCallback(
    (event: { clientX: number; clientY: number }) =>
      flow.screenToFlowPosition({ x: event.clientX, y: event.clientY }, { snapToGrid: false }),
    [flow],
  );

  /** A click where nothing stands ready: a symbol to be put down, or what is painted there. */
  const onPane = (event: ReactMouseEvent) => {
    const at = positionOf(event);
    if (editable && happened(store, { on: 'sheet', at, shift: event.shiftKey })) return;
    const reach = 6 / flow.getZoom();
    const link = scene.links.find((each) => inside(linkBox(each), at));
    if (link) {
      useDesk.getState().set({ page: link.page });
      return store.getState().select([link.to]);
    }
    const hit = scene.elementAt(at, reach) ?? scene.runAt(at, reach)?.run.connection ?? null;
    const additive = event.ctrlKey || event.metaKey;
    const before = additive ? selection.filter((id) => id !== hit?.id) : [];
    store.getState().select(hit ? [...before, hit.id] : before);
    if (hit && hit.kind !== 'connection') onPick?.(hit.id);
  };

  const onNode = (event: ReactMouseEvent, node: ElementNodeType) => {
    const id = node.id as ElementId;
    if (editable && happened(store, { on: 'symbol', id, at: positionOf(event), shift: event.shiftKey })) return;
    // A click on one of several chooses it alone; a drag would have moved them all.
    const additive = event.ctrlKey || event.metaKey || event.shiftKey;
    if (!additive && selection.length > 1) store.getState().select([id]);
    onPick?.(id);
  };

  const onPointer = (event: ReactMouseEvent) => {
    if (event.buttons !== 0) return;
    const at = positionOf(event);
    if (aims(held)) {
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
    const found = scene.within(box).filter((element) => element.kind !== 'panel' || contains(box, boxOf(element)));
    store.getState().select(found.map(({ id }) => id));
  });
  useClipboard(editable);
  useToolKeys(editable);

  return (
    <HandsContext.Provider value={hands}>
      <div
        ref={frame}
        className={classes.canvas}
        data-tool={held?.kind}
        data-connecting={connecting.drawing || undefined}
        role="region"
        aria-label="One-line diagram"
        onMouseMove={onPointer}
        onMouseLeave={() => setHovered(null)}
        onPointerDownCapture={marquee.begin}
        onDoubleClick={(event) => {
          const hit = scene.elementAt(positionOf(event), 6 / flow.getZoom());
          if (hit?.kind === 'chartPicture') return void showStage(hit.chart, 'gradingChart');
          if (!editable) return;
          if (hit?.kind === 'bus')
            beginFeeder(store, hit.id, Math.min(Math.max(positionOf(event).x - hit.x, 0), hit.length));
          else if (hit) toData();
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
          onInit={fit}
          {...connecting.props}
          connectionMode={ConnectionMode.Loose}
          connectionLineType={ConnectionLineType.Step}
          connectionLineStyle={{ stroke: 'var(--m-accent)', strokeWidth: 1.6 }}
          connectionRadius={14}
          // A click chooses; it does not begin a connection that the next click would end.
          connectOnClick={false}
          nodesDraggable={editable && !held}
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
        {editable && <ArrangeOffer scene={scene} />}
        {editable && <SelectionTools />}
        <ViewButtons onFit={fit} onZoom={(factor) => void flow.zoomTo(flow.getZoom() * factor)} />
        {mapShown && scene.placed.length > 60 && <OverviewMap painting={painting} />}
        <PageTabs editable={editable} />
        {editable && <DrawingHint wrong={connecting.hint} />}
      </div>
    </HandsContext.Provider>
  );
}

const inside = (box: Box, at: { x: number; y: number }): boolean =>
  at.x >= box.x && at.y >= box.y && at.x <= box.x + box.width && at.y <= box.y + box.height;
