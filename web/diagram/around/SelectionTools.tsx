'use client';

import { Menu } from '@mantine/core';
import {
  IconCopyPlus,
  IconFlipHorizontal,
  IconFlipVertical,
  IconLayoutAlignBottom,
  IconLayoutAlignCenter,
  IconLayoutAlignLeft,
  IconLayoutAlignMiddle,
  IconLayoutAlignRight,
  IconLayoutAlignTop,
  IconLayoutDistributeHorizontal,
  IconLayoutDistributeVertical,
  IconLineDashed,
  IconPin,
  IconPlugConnected,
  IconRotateClockwise,
  IconColumnInsertRight,
} from '@tabler/icons-react';
import type { ReactNode } from 'react';
import { isPlaced } from '@mesura/core/drawing/shape/shapes';
import { panelTypes } from '@mesura/core/model/sheet';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { addPanelHere } from '../hands/boards';
import { beginFeeder, sameAgain } from '../hands/hand';
import { joinThem } from '../hands/joining';
import { alignSelected, distributeSelected, mirrorSelected, pinSelected, turnSelected } from '../hands/moving';
import { useActionKeys } from './ActionKey';
import { useDrawing } from '../drawingState';
import { ToolButton, ToolMenu } from './ToolButton';
import classes from '../diagram.module.css';

/** What can be done with the selection, beside it is named the key that does the same. */
export function SelectionTools() {
  const store = useProjectStore();
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const keyOf = useActionKeys();
  const idleNow = useDrawing((state) => state.held === null);
  const placed = selection.flatMap((id) => {
    const element = network.elements.get(id);
    return element && isPlaced(element) ? [element] : [];
  });
  if (placed.length === 0 || !idleNow) return null;
  const one = placed.length === 1 ? placed[0] : null;
  const onBoard = one?.kind === 'bus' || one?.kind === 'panel';
  const button = (label: string, icon: ReactNode, act: () => void) => (
    <ToolButton key={label} label={label} icon={icon} onClick={act} />
  );
  const turnable = placed.some((element) => 'turn' in element && element.kind !== 'bus');
  return (
    <div className={classes.selection} role="toolbar" aria-label="What is selected">
      {one &&
        'turn' in one &&
        one.kind !== 'relay' &&
        button(`Draw a feeder from here (${keyOf('feeder')})`, <IconLineDashed size={16} />, () => beginFeeder(store))}
      {onBoard && (
        <ToolMenu
          label={`Add a panel (${keyOf('panel')})`}
          name="Add a panel"
          title="Panel at the right end"
          icon={<IconColumnInsertRight size={16} />}
          position="bottom-start"
        >
          {panelTypes.map((type) => (
            <Menu.Item key={type} onClick={() => addPanelHere(store, type)}>
              {type[0].toUpperCase() + type.slice(1)}
            </Menu.Item>
          ))}
        </ToolMenu>
      )}
      {one &&
        'turn' in one &&
        one.kind !== 'bus' &&
        button(`Same feeder again (${keyOf('again')})`, <IconCopyPlus size={16} />, () => sameAgain(store))}
      {placed.length === 2 &&
        button(`Connect these two (${keyOf('join')})`, <IconPlugConnected size={16} />, () =>
          joinThem(store, placed[0].id, placed[1].id),
        )}
      {turnable && button(`Turn (${keyOf('turn')})`, <IconRotateClockwise size={16} />, () => turnSelected(store))}
      {button(`Mirror left and right (${keyOf('mirror-across')})`, <IconFlipVertical size={16} />, () =>
        mirrorSelected(store, 'across'),
      )}
      {button(`Mirror top and bottom (${keyOf('mirror-down')})`, <IconFlipHorizontal size={16} />, () =>
        mirrorSelected(store, 'down'),
      )}
      {button(
        placed.every((element) => element.pinned) ? 'Unpin for automatic layout' : 'Pin for automatic layout',
        <IconPin size={16} />,
        () => pinSelected(store),
      )}
      {placed.length > 1 && (
        <>
          {button('Align left', <IconLayoutAlignLeft size={16} />, () => alignSelected(store, 'left'))}
          {button('Align centres', <IconLayoutAlignCenter size={16} />, () => alignSelected(store, 'centre'))}
          {button('Align right', <IconLayoutAlignRight size={16} />, () => alignSelected(store, 'right'))}
          {button('Align top', <IconLayoutAlignTop size={16} />, () => alignSelected(store, 'top'))}
          {button('Align middles', <IconLayoutAlignMiddle size={16} />, () => alignSelected(store, 'middle'))}
          {button('Align bottom', <IconLayoutAlignBottom size={16} />, () => alignSelected(store, 'bottom'))}
        </>
      )}
      {placed.length > 2 && (
        <>
          {button('Distribute across', <IconLayoutDistributeVertical size={16} />, () =>
            distributeSelected(store, 'across'),
          )}
          {button('Distribute downward', <IconLayoutDistributeHorizontal size={16} />, () =>
            distributeSelected(store, 'down'),
          )}
        </>
      )}
    </div>
  );
}
