'use client';

import { ActionIcon, Tooltip } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { IconMaximize, IconMinus, IconPlus } from '@tabler/icons-react';
import { newElement } from '@mesura/core/model/defaults';
import type { ElementId } from '@mesura/core/model/fields';
import type { Drawn } from './geometry';
import { ElementSymbol } from './symbols';
import { tools, type Tool } from './tools';
import classes from './diagram.module.css';

/** Symbols to be placed, each with its key. */
export function Palette({ tool, onTool }: { tool: Tool | null; onTool: (tool: Tool | null) => void }) {
  useHotkeys(tools.map((each) => [each.key, () => onTool(tool?.key === each.key ? null : each)]));
  return (
    <div className={classes.palette} role="toolbar" aria-label="Place symbols">
      {tools.map((each) => (
        <Tooltip key={each.key} label={`${each.title} (${each.key.toUpperCase()})`} openDelay={300}>
          <ActionIcon
            variant={tool?.key === each.key ? 'filled' : 'subtle'}
            color={tool?.key === each.key ? undefined : 'gray'}
            size={30}
            aria-label={`Place ${each.title.toLowerCase()}`}
            aria-pressed={tool?.key === each.key}
            onClick={() => onTool(tool?.key === each.key ? null : each)}
          >
            <Sample tool={each} />
          </ActionIcon>
        </Tooltip>
      ))}
    </div>
  );
}

function Sample({ tool }: { tool: Tool }) {
  const element = newElement(tool.kind, 'sample' as ElementId, 'sample', tool.over as never) as Drawn;
  const half = element.kind === 'relay' ? 30 : ['switch', 'currentTransformer'].includes(element.kind) ? 13 : 32;
  return (
    <svg width={20} height={20} viewBox={`${-half} ${-half} ${2 * half} ${2 * half}`} aria-hidden>
      {element.kind === 'bus' ? (
        <path d="M-28 0H28M-14 0V18M14 0V18" stroke="currentColor" strokeWidth={6} fill="none" />
      ) : (
        <ElementSymbol element={element} hv="currentColor" lv="currentColor" />
      )}
    </svg>
  );
}

export function ViewButtons({ onFit, onZoom }: { onFit: () => void; onZoom: (factor: number) => void }) {
  useHotkeys([['0', onFit]]);
  const button = (label: string, icon: React.ReactNode, act: () => void) => (
    <Tooltip label={label} openDelay={300}>
      <ActionIcon variant="subtle" color="gray" size={26} aria-label={label} onClick={act}>
        {icon}
      </ActionIcon>
    </Tooltip>
  );
  return (
    <div className={classes.views}>
      {button('Closer', <IconPlus size={15} />, () => onZoom(1.25))}
      {button('Farther', <IconMinus size={15} />, () => onZoom(0.8))}
      {button('Zoom to fit (0)', <IconMaximize size={15} />, onFit)}
    </div>
  );
}
