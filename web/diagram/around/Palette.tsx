'use client';

import { Menu } from '@mantine/core';
import {
  IconBattery3,
  IconLayersSubtract,
  IconMap2,
  IconMaximize,
  IconMinus,
  IconNote,
  IconPlus,
  IconTemplate,
} from '@tabler/icons-react';
import { fragmentOf, templates } from '@mesura/core/drawing/parts/templates';
import { isDirectTool, tools, type Tool } from '@mesura/core/drawing/shape/tools';
import { newElement } from '@mesura/core/model/defaults';
import type { ElementId } from '@mesura/core/model/fields';
import { settingsOf } from '@mesura/core/model/network';
import type { Drawn } from '@mesura/core/drawing/shape/shapes';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { useDrawing } from '../drawingState';
import { pickTool } from '../hands/hand';
import type { LayerId } from '../picture/labelling';
import { ElementSymbol } from '../picture/symbols';
import { ToolButton, ToolMenu } from './ToolButton';
import type { Standard } from '../picture/symbolParts';
import classes from '../diagram.module.css';

/** Symbols to be placed, each with its key; notes and templates. */
export function Palette() {
  const store = useProjectStore();
  const inHand = useDrawing((state) => state.held);
  const set = useDrawing((state) => state.set);
  const standard = useProject((state) => settingsOf(state.network).symbols);
  const held = inHand?.kind === 'place' ? (inHand.tool?.key ?? 'note') : null;
  const button = (key: string, label: string, name: string, icon: React.ReactNode, act: () => void) => (
    <ToolButton
      key={key}
      label={label}
      name={name}
      icon={icon}
      size={28}
      held={held === key && 'filled'}
      onClick={act}
    />
  );
  return (
    <div className={classes.palette} data-floats="top" role="toolbar" aria-label="Place symbols">
      {tools
        .filter((tool) => !isDirectTool(tool))
        .map((tool) =>
          button(
            tool.key,
            `${tool.title} (${tool.key.toUpperCase()})`,
            `Place ${tool.title.toLowerCase()}`,
            <Sample tool={tool} standard={standard} />,
            () => pickTool(store, tool),
          ),
        )}
      {button('note', 'Note (Z)', 'Place note', <IconNote size={17} />, () =>
        set({ held: held === 'note' ? null : { kind: 'place', tool: null } }),
      )}
      <ToolMenu
        label="Direct current"
        title="Direct current"
        icon={<IconBattery3 size={17} />}
        size={28}
        position="bottom-start"
      >
        {tools.filter(isDirectTool).map((tool) => (
          <Menu.Item
            key={tool.key}
            leftSection={<Sample tool={tool} standard={standard} />}
            rightSection={<span className={classes.about}>{tool.key.replace('shift+', '⇧').toUpperCase()}</span>}
            onClick={() => pickTool(store, tool)}
          >
            {tool.title}
          </Menu.Item>
        ))}
      </ToolMenu>
      <ToolMenu
        label="Templates"
        title="Bays and small networks, ready to place"
        icon={<IconTemplate size={17} />}
        size={28}
        position="bottom-start"
        width={300}
      >
        {templates.map((template) => (
          <Menu.Item
            key={template.id}
            onClick={() =>
              set({ held: { kind: 'stamp', fragment: fragmentOf(template), title: template.title.toLowerCase() } })
            }
          >
            <div>{template.title}</div>
            <div className={classes.about}>{template.about}</div>
          </Menu.Item>
        ))}
      </ToolMenu>
    </div>
  );
}

function Sample({ tool, standard }: { tool: Tool; standard: Standard }) {
  const element = newElement(tool.kind, 'sample' as ElementId, 'sample', tool.over as never) as Drawn;
  const half = element.kind === 'relay' ? 30 : ['switch', 'currentTransformer'].includes(element.kind) ? 13 : 32;
  return (
    <svg width={20} height={20} viewBox={`${-half} ${-half} ${2 * half} ${2 * half}`} aria-hidden>
      {element.kind === 'bus' ? (
        <path d="M-28 0H28M-14 0V18M14 0V18" stroke="currentColor" strokeWidth={6} fill="none" />
      ) : element.kind === 'relay' ? (
        <rect x={-27} y={-11} width={54} height={22} rx={11} stroke="currentColor" strokeWidth={3.5} fill="none" />
      ) : (
        <ElementSymbol element={element} standard={standard} />
      )}
    </svg>
  );
}

const layerNames: readonly [LayerId, string][] = [
  ['names', 'Names'],
  ['ratings', 'Ratings'],
  ['results', 'Results of the stage'],
  ['protection', 'Protection'],
  ['findings', 'Findings'],
  ['grid', 'Grid'],
];

export function ViewButtons({ onFit, onZoom }: { onFit: () => void; onZoom: (factor: number) => void }) {
  const { layers, map, toggle, set } = useDrawing();
  return (
    <div className={classes.views} data-floats="bottom">
      <ToolMenu
        label="Layers"
        title="Shown on the drawing"
        icon={<IconLayersSubtract size={15} />}
        position="top-end"
        closeOnItemClick={false}
      >
        {layerNames.map(([layer, name]) => (
          <Menu.Item
            key={layer}
            aria-label={`${name}: ${layers[layer] ? 'shown' : 'hidden'}`}
            leftSection={<span className={classes.tick}>{layers[layer] ? '✓' : ''}</span>}
            onClick={() => toggle(layer)}
          >
            {name}
          </Menu.Item>
        ))}
      </ToolMenu>
      <ToolButton
        label="Overview map"
        icon={<IconMap2 size={15} />}
        held={map && 'light'}
        onClick={() => set({ map: !map })}
      />
      <ToolButton label="Closer" icon={<IconPlus size={15} />} onClick={() => onZoom(1.25)} />
      <ToolButton label="Farther" icon={<IconMinus size={15} />} onClick={() => onZoom(0.8)} />
      <ToolButton label="Zoom to fit (0)" icon={<IconMaximize size={15} />} onClick={onFit} />
    </div>
  );
}
