/** Automatic layout of the page, in a worker; what is pinned stays. One step to undo; closing its message leaves it off. */
import { wrap } from 'comlink';
import { notifications } from '@mantine/notifications';
import { laidOut, layoutGraph, type LayoutGraph } from '@mesura/core/drawing/order/layout';
import type { Change } from '@mesura/core/model/changes';
import type { ElementId } from '@mesura/core/model/fields';
import { useDesk } from '../../desk/deskState';
import type { ProjectStore } from '../../project/store';
import { useDrawing } from '../drawingState';
import { report, tell } from '../../desk/report';

interface LayoutService {
  layered(graph: LayoutGraph): Promise<[ElementId, { x: number; y: number }][]>;
}

export async function arrangePage(store: ProjectStore): Promise<void> {
  const { page } = useDesk.getState();
  const { network, version } = store.getState();
  const graph = layoutGraph(network, page);
  if (graph.nodes.length < 2) return tell('Nothing to arrange', 'This page has fewer than two symbols.');
  const worker = new Worker(new URL('../../workers/layout.worker.ts', import.meta.url), { type: 'module' });
  let leaveOff = () => {};
  const leftOff = new Promise<null>((resolve) => (leaveOff = () => resolve(null)));
  const note = notifications.show({
    loading: true,
    title: 'Arranging the page',
    message: `${graph.nodes.length} symbols. Close this to leave it off.`,
    autoClose: false,
    withCloseButton: true,
    closeButtonProps: { 'aria-label': 'Leave off arranging' },
    onClose: () => leaveOff(),
  });
  try {
    const found = await Promise.race([wrap<LayoutService>(worker).layered(graph), leftOff]);
    if (found === null) return;
    if (store.getState().version !== version)
      return tell('Not arranged', 'The drawing was changed meanwhile; start again when it is at rest.');
    const changes = laidOut(network, graph, new Map(found)).map((element): Change => ({ op: 'update', element }));
    if (changes.length > 0 && report(store.getState().commit(changes, 'Arrange the page')))
      requestAnimationFrame(() => useDrawing.getState().view?.fit());
  } catch (error) {
    tell('The page could not be arranged', error instanceof Error ? error.message : String(error));
  } finally {
    notifications.hide(note);
    worker.terminate();
  }
}
