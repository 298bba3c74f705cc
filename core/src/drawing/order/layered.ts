/** The layered layout (ELK) of a graph: pure data in and out, so that it runs in a worker or in a test. The package is large and loaded when it is first needed. */
import type { ElkNode } from 'elkjs/lib/elk.bundled.js';
import type { ElementId } from '../../model/fields';
import type { LayoutGraph } from './layout';

const options = {
  'elk.algorithm': 'layered',
  'elk.direction': 'DOWN',
  'elk.layered.spacing.nodeNodeBetweenLayers': '30',
  'elk.spacing.nodeNode': '36',
  'elk.spacing.componentComponent': '80',
  'elk.layered.nodePlacement.strategy': 'NETWORK_SIMPLEX',
  'elk.layered.compaction.postCompaction.strategy': 'EDGE_LENGTH',
  'elk.aspectRatio': '1.6',
};

export async function layered(graph: LayoutGraph): Promise<[ElementId, { x: number; y: number }][]> {
  const root: ElkNode = {
    id: 'page',
    // Network simplex places best, and takes too long on large graphs.
    layoutOptions:
      graph.nodes.length > 900 ? { ...options, 'elk.layered.nodePlacement.strategy': 'BRANDES_KOEPF' } : options,
    children: graph.nodes.map(({ id, width, height }) => ({ id, width, height })),
    edges: graph.edges.map(({ id, from, to }) => ({ id, sources: [from], targets: [to] })),
  };
  const { default: ELK } = await import('elkjs/lib/elk.bundled.js');
  const done = await new ELK().layout(root);
  return (done.children ?? []).map(({ id, x = 0, y = 0 }) => [id as ElementId, { x, y }]);
}
