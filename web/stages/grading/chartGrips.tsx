/** The parts of the chart that one takes hold of: grips, and the note on what they are set to. */
import type { KeyboardEvent, PointerEvent } from 'react';
import type { Relay } from '@mesura/core/model/protection';
import type { PrimaryFunction } from '@mesura/core/protection/overcurrent/relay';
import type { LogScale } from '../../charts/scales';
import { height, margin, type Extents } from './chartParts';
import { timeOnChart, type ChartCurve } from './curves';
import { fieldOf, stepBy, type Grip } from './dragging';
import classes from './grading.module.css';

export interface Drag {
  curve: ChartCurve;
  fn: PrimaryFunction;
  grip: Grip;
}

/** What the hand is setting, beside the curve: value, range and step of the device. */
export function DragNote({ drag, curves }: { drag: Drag; curves: readonly ChartCurve[] }) {
  const now = curves
    .find((curve) => curve.relay.id === drag.curve.relay.id)
    ?.relay.functions.find((fn) => fn.id === drag.fn.source.id);
  if (!now) return null;
  const field = fieldOf(now, drag.grip);
  const { min, max, step } = now.ranges[field];
  return (
    <g pointerEvents="none" transform={`translate(${margin.left + 10} ${height - margin.bottom - 50})`}>
      <rect width={186} height={40} rx={4} fill="var(--m-bar)" />
      <text
        x={10}
        y={17}
        fontSize={12.5}
        fill="var(--m-bar-text)"
      >{`${now.code} ${fieldWords[field]} ${now[field]}`}</text>
      <text x={10} y={33} fontSize={11} fill="var(--m-bar-muted)">{`${min} to ${max}, step ${step}`}</text>
    </g>
  );
}

const fieldWords = { pickup: 'pickup', timeMultiplier: 'multiplier', delayS: 'delay' } as const;

export function GripHandle({
  curve,
  fn,
  grip,
  x,
  y,
  extents,
  color,
  onDown,
  onEdit,
}: {
  curve: ChartCurve;
  fn: PrimaryFunction;
  grip: Grip;
  x: LogScale;
  y: LogScale;
  extents: Extents;
  color: string;
  onDown: (event: PointerEvent) => void;
  onEdit: (relay: Relay) => void;
}) {
  const pickup = fn.pickupA * curve.factor;
  const top = extents.times.to;
  const currentA = grip === 'pickup' ? pickup : Math.min(pickup * 4, Math.sqrt(pickup * extents.currents.to));
  const timeS =
    grip === 'pickup'
      ? Math.min(timeOnChart(fn, pickup * 1.02, curve.factor), top)
      : timeOnChart(fn, currentA, curve.factor);
  if (!Number.isFinite(timeS) || currentA < extents.currents.from || currentA > extents.currents.to) return null;
  const field = fieldOf(fn.source, grip);
  const range = fn.source.ranges[field];
  const words = fieldWords[field];
  const step = (event: KeyboardEvent) => {
    const steps = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (steps === undefined) return;
    event.preventDefault();
    onEdit(stepBy(curve.relay, fn.source, field, steps));
  };
  return (
    <circle
      className={classes.handle}
      cx={x(currentA)}
      cy={y(Math.min(Math.max(timeS, extents.times.from), top))}
      r={grip === 'time' ? 6 : 5}
      stroke={color}
      style={{ cursor: grip === 'pickup' ? 'ew-resize' : 'ns-resize' }}
      tabIndex={0}
      role="slider"
      aria-label={`${curve.relay.name} ${fn.source.code} ${words}`}
      aria-valuemin={range.min}
      aria-valuemax={range.max}
      aria-valuenow={fn.source[field]}
      onPointerDown={onDown}
      onKeyDown={step}
    >
      <title>{`${fn.source.code} ${words} ${fn.source[field]} (${range.min} to ${range.max}, step ${range.step})`}</title>
    </circle>
  );
}
