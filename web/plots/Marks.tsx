'use client';

import { memo, useId } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import { deviceStyles } from '../theme/tokens';
import { frameOf, type Ink, type Mark, type Point, type Scene } from './scene';
import { pathOf } from './svg';
import classes from './plots.module.css';

/** Colours of the screen. */
export const useInk = (): ((ink: Ink) => string) => inkOf(useComputedColorScheme('light'));

const inkOf =
  (scheme: 'light' | 'dark') =>
  (ink: Ink): string =>
    typeof ink === 'number'
      ? deviceStyles[ink % deviceStyles.length][scheme]
      : `var(--m-${ink.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)})`;

/** A scene on the screen, in the svg that stands around it. */
export function Marks({ scene, onName }: { scene: Scene; onName?: (names: string) => void }) {
  const scheme = useComputedColorScheme('light');
  const id = useId();
  const { left, right, top, bottom } = frameOf(scene.paper);
  return (
    <>
      <clipPath id={id}>
        <rect x={left} y={top} width={right - left} height={bottom - top} />
      </clipPath>
      {scene.marks.map((mark, k) => (
        <Drawn key={k} mark={mark} scheme={scheme} clip={`url(#${id})`} onName={onName} />
      ))}
    </>
  );
}

interface DrawnProps {
  mark: Mark;
  scheme: 'light' | 'dark';
  clip: string;
  onName?: (names: string) => void;
}

/** Marks are made anew with each drawing; most say the same as before. */
const sameMark = (p: Mark, q: Mark): boolean => {
  if (p === q) return true;
  const keys = Object.keys(p) as (keyof Mark)[];
  return keys.length === Object.keys(q).length && keys.every((key) => p[key] === q[key] || samePlace(p[key], q[key]));
};
const samePlace = (p: unknown, q: unknown): boolean => {
  const isPlace = (at: unknown): at is Point => typeof at === 'object' && at !== null && 'x' in at;
  return isPlace(p) && isPlace(q) && p.x === q.x && p.y === q.y;
};

const Drawn = memo(
  DrawnMark,
  (p, q) => p.scheme === q.scheme && p.clip === q.clip && p.onName === q.onName && sameMark(p.mark, q.mark),
);

function DrawnMark({ mark, scheme, clip, onName }: DrawnProps) {
  const ink = inkOf(scheme);
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
