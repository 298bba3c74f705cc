/** Everything that can be done on the drawing, with its keys: what the keyboard, the list of keys and the command search share. */
import { tools } from '@mesura/core/drawing/shape/tools';
import { templates, fragmentOf } from '@mesura/core/drawing/parts/templates';
import { isPlaced } from '@mesura/core/drawing/shape/shapes';
import { panelTypes } from '@mesura/core/model/sheet';
import { useDesk } from '../../desk/deskState';
import type { Action } from '../../desk/actions';
import type { ProjectStore } from '../../project/store';
import { addPanelHere } from './boards';
import { beginFeeder, pickTool, sameAgain } from './hand';
import { joinThem } from './joining';
import {
  alignSelected,
  distributeSelected,
  lengthen,
  mirrorSelected,
  nudge,
  pinSelected,
  turnSelected,
} from './moving';
import { removeSelected } from './putting';
import { neighbour, selectAll } from './walking';
import { useDrawing } from '../drawingState';

const ways = { left: { x: -1, y: 0 }, right: { x: 1, y: 0 }, up: { x: 0, y: -1 }, down: { x: 0, y: 1 } } as const;
const arrow = (way: string): string => `Arrow${way[0].toUpperCase()}${way.slice(1)}`;

export function drawingActions(store: ProjectStore): Action[] {
  const view = () => useDrawing.getState().view;
  const edit = (id: string, title: string, keys: readonly string[], run: () => void, group = 'Drawing'): Action => ({
    id,
    title,
    keys,
    run,
    group,
    editing: true,
  });
  const chosen = () => store.getState().selection.filter((id) => isPlaced(store.getState().network.elements.get(id)!));
  return [
    ...tools.map((tool) =>
      edit(
        `place-${tool.key}`,
        `Place ${tool.title.toLowerCase()}`,
        [tool.key],
        () => pickTool(store, tool),
        'Symbols',
      ),
    ),
    edit(
      'place-note',
      'Place note',
      ['z'],
      () => useDrawing.getState().set({ held: { kind: 'place', tool: null }, cursor: null }),
      'Symbols',
    ),
    edit('feeder', 'Draw a feeder from what is selected', ['Enter'], () => chosen().length > 0 && beginFeeder(store)),
    edit('again', 'Same feeder again', ['.'], () => sameAgain(store)),
    edit('join', 'Connect: the two selected, or the one selected with another', ['a'], () => {
      const ids = chosen();
      if (ids.length === 2) joinThem(store, ids[0], ids[1]);
      else if (ids.length === 1) useDrawing.getState().set({ held: { kind: 'join', from: ids[0] } });
    }),
    edit('panel', 'Add another panel to the board', ['p'], () => addPanelHere(store, useDrawing.getState().lastPanel)),
    ...panelTypes.map((type) =>
      edit(`panel-${type}`, `Add ${type} panel to the board`, [], () => addPanelHere(store, type)),
    ),
    edit('delete', 'Delete what is selected; runs close again', ['Delete', 'Backspace'], () => removeSelected(store)),
    edit('turn', 'Turn by a quarter', ['shift+r'], () => turnSelected(store)),
    edit('mirror-across', 'Mirror left and right', ['shift+h'], () => mirrorSelected(store, 'across')),
    edit('mirror-down', 'Mirror top and bottom', ['shift+v'], () => mirrorSelected(store, 'down')),
    ...(['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const).map((edge) =>
      edit(`align-${edge}`, `Align: ${edge}`, [], () => alignSelected(store, edge)),
    ),
    edit('distribute-across', 'Distribute across', [], () => distributeSelected(store, 'across')),
    edit('distribute-down', 'Distribute downward', [], () => distributeSelected(store, 'down')),
    edit('pin', 'Pin for automatic layout, or unpin', [], () => pinSelected(store)),
    edit('lengthen', 'Lengthen busbar', [']'], () => lengthen(store, 20)),
    edit('shorten', 'Shorten busbar', ['['], () => lengthen(store, -20)),
    ...Object.entries(ways).flatMap(([name, way]) => [
      edit(`nudge-${name}`, `Nudge ${name}`, [arrow(name)], () => nudge(store, way.x * 10, way.y * 10), 'Moving'),
      edit(
        `push-${name}`,
        `Push ${name} by five steps`,
        [`shift+${arrow(name)}`],
        () => nudge(store, way.x * 50, way.y * 50),
        'Moving',
      ),
    ]),
    ...Object.entries(ways).flatMap(([name, way]): Action[] =>
      [false, true].map((extend) => ({
        id: `${extend ? 'extend' : 'go'}-${name}`,
        title: extend ? `Select also the next symbol: ${name}` : `Go to the next symbol: ${name}`,
        keys: [`${extend ? 'shift+' : ''}alt+${arrow(name)}`],
        group: 'Moving',
        run: () => {
          const { network, selection, select } = store.getState();
          const from = selection[selection.length - 1] ?? null;
          const next = neighbour(network, useDesk.getState().page, from, way, view()?.centre() ?? { x: 0, y: 0 });
          if (!next) return;
          select(extend ? [...selection.filter((id) => id !== next), next] : [next]);
          const element = network.elements.get(next);
          if (element && isPlaced(element)) view()?.show(element);
        },
      })),
    ),
    { id: 'all', title: 'Select all on this page', keys: ['mod+a'], group: 'Drawing', run: () => selectAll(store) },
    { id: 'none', title: 'Select nothing', keys: ['Escape'], group: 'Drawing', run: () => store.getState().select([]) },
    { id: 'fit', title: 'Zoom to fit', keys: ['0'], group: 'View', run: () => view()?.fit() },
    {
      id: 'map',
      title: 'Overview map on or off',
      keys: [],
      group: 'View',
      run: () => useDrawing.getState().set({ map: !useDrawing.getState().map }),
    },
    ...(['names', 'ratings', 'results', 'protection', 'findings', 'grid'] as const).map((layer): Action => ({
      id: `layer-${layer}`,
      title: `Layer: ${layer} on or off`,
      keys: [],
      group: 'View',
      run: () => useDrawing.getState().toggle(layer),
    })),
    ...templates.map((template) =>
      edit(`template-${template.id}`, `Template: ${template.title}`, [], () =>
        useDrawing
          .getState()
          .set({ held: { kind: 'stamp', fragment: fragmentOf(template), title: template.title.toLowerCase() } }),
      ),
    ),
  ];
}
