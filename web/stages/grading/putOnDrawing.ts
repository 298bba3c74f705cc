import { roomBeside } from '@mesura/core/drawing/order/beside';
import type { ElementOf } from '@mesura/core/model/element';
import type { GradingChart } from '@mesura/core/model/chart';
import { find } from '@mesura/core/model/network';
import { breakersOf, firstCtOf } from '@mesura/core/model/protection';
import { chartPictureRoom } from '@mesura/core/model/sheet';
import { useDesk } from '../../desk/deskState';
import { report, say } from '../../desk/report';
import { useDrawing } from '../../diagram/drawingState';
import { newId } from '../../project/newId';
import type { ProjectStore } from '../../project/store';

/** Shows a chart on the page of its devices, on free ground beside them, and brings it into view. */
export function putOnDrawing(store: ProjectStore, chart: GradingChart): void {
  const { network, commit } = store.getState();
  const covered = chart.relays.flatMap((id) => {
    const relay = find(network, 'relay', id);
    return relay ? [id, firstCtOf(relay), ...breakersOf(relay)] : [id];
  });
  const size = chartPictureRoom.usual;
  const { page, at } = roomBeside(
    network,
    covered.filter((id) => id !== null && id !== undefined),
    size,
  );
  const placed: ElementOf<'chartPicture'> = {
    kind: 'chartPicture',
    id: newId(),
    ...at,
    ...(page && { page }),
    chart: chart.id,
    ...size,
  };
  if (!report(commit([{ op: 'add', element: placed }], `Put ${chart.name} on the drawing`))) return;
  useDesk.getState().set({ page });
  say(`${chart.name} stands on the drawing`, 'It follows the chart. Move, size and delete it in the stage Network.');
  requestAnimationFrame(() =>
    useDrawing.getState().view?.show({ x: at.x + size.width / 2, y: at.y + size.height / 2 }),
  );
}
