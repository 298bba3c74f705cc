'use client';

import { useId } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import { deviceStyles } from '../theme/tokens';
import { frameOf, type Ink, type Mark, type Scene } from './scene';
import { pathOf } from './svg';
import classes from './plots.module.css';

/** Colours of the screen. */
export function useInk(): (ink: Ink) => string {
  const scheme = useComputedColorScheme('light');
  return (ink) =>
    typeof ink === 'number'
      ? deviceStyles[ink % deviceStyles.length][scheme]
      : `var(--m-${ink.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)})`;
}

/** A scene on the screen, in the svg that stands around it. */
export function Marks({ scene, onName }: { scene: Scene; onName?: (names: string) => void }) {
  const ink = useInk();
  const id = useId();
  const { left, right, top, bottom } = frameOf(scene.paper);
  return (
    <>
      <clipPath id={id}>
        <rect x={left} y={top} width={right - left} height={bottom - top} />
      </clipPath>
      {scene.marks.map((mark, k) => (
        <Drawn key={k} mark={mark} ink={ink} clip={`url(#${id})`} onName={onName} />
      ))}
    </>
  );
}

function Drawn({
  mark,
  ink,
  clip,
  onName,
}: {
  mark: Mark;
  ink: (ink: Ink) => string;
  clip: string;
  onName?: (names: string) => void;
}) {
  switch (mark.kind) {
    case 'line':
      return (
        <path
          data-curve={mark.of}
          d={pathOf(mark.points)}
          fill="none"
          stroke={ink(mark.ink)}
          strokeWidth={mark.width}
          strokeDasharray={mark.dash || undefined}
          strokeLinejoin="round"
          opacity={mark.opacity}
          clipPath={mark.clipped ? clip : undefined}
        />
      );
    case 'text': {
      const { names } = mark;
      const picks = names !== undefined && onName !== undefined;
      return (
        <text
          x={mark.at.x}
          y={mark.at.y}
          textAnchor={mark.anchor}
          fontSize={mark.size}
          fontWeight={mark.bold ? 600 : undefined}
          fill={ink(mark.ink)}
          className={picks ? classes.name : undefined}
          onClick={picks ? () => onName(names) : undefined}
        >
          {mark.text}
        </text>
      );
    }
    case 'box':
      return (
        <rect
          x={mark.at.x}
          y={mark.at.y}
          width={mark.width}
          height={mark.height}
          rx={mark.radius}
          fill={mark.fill === null ? 'none' : ink(mark.fill)}
          stroke={mark.line === undefined ? undefined : ink(mark.line)}
          strokeWidth={0.8}
          pointerEvents="none"
        />
      );
    case 'area':
      return (
        <path
          d={`${pathOf(mark.points)}Z`}
          fill={ink(mark.ink)}
          fillOpacity={mark.opacity}
          stroke="none"
          clipPath={mark.clipped ? clip : undefined}
          pointerEvents="none"
        />
      );
    case 'dot':
      return <circle cx={mark.at.x} cy={mark.at.y} r={mark.radius} fill={ink(mark.ink)} pointerEvents="none" />;
  }
}
