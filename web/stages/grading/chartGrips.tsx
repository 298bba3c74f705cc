/** The parts of the chart that one takes hold of: grips, and the note on what they are set to. */
import type { KeyboardEvent, PointerEvent } from 'react';
import type { DeviceElement } from '@mesura/core/protection/device';
import type { Grip, TimeCurrent } from '@mesura/core/protection/family';
import type { Axis, Point } from '../../plots/scene';
import type { ChartCurve } from '@mesura/core/grading/chart/curves';
import { rangeWords, settingOf, stepBy } from './dragging';
import classes from './grading.module.css';

/** Time of one function at a current on the chart. */
const timeOnChart = (fn: TimeCurrent, chartA: number, factor: number): number => fn.at(chartA / factor).latestS;

export interface Drag {
  curve: ChartCurve;
  fn: TimeCurrent;
  grip: Grip;
}

/** What the hand is setting, beside the curve: value, range and step of the device. */
export function DragNote({ drag, curves, at }: { drag: Drag; curves: readonly ChartCurve[]; at: Point }) {
  const now = curves
    .find((curve) => curve.device.id === drag.curve.device.id)
    ?.device.functions.find((fn) => fn.id === drag.fn.fn.id);
  const setting = now && settingOf(now, drag.grip, drag.fn.part);
  if (!setting) return null;
  return (
    <g pointerEvents="none" transform={`translate(${at.x} ${at.y})`}>
      <rect width={186} height={40} rx={4} fill="var(--m-bar)" />
      <text
        x={10}
        y={17}
        fontSize={12.5}
        fill="var(--m-bar-text)"
      >{`${drag.fn.code} ${setting.title.toLowerCase()} ${setting.value}`}</text>
      <text x={10} y={33} fontSize={11} fill="var(--m-bar-muted)">
        {rangeWords(setting)}
      </text>
    </g>
  );
}

export function GripHandle({
  curve,
  fn,
  grip,
  x,
  y,
  color,
  onDown,
  onEdit,
}: {
  curve: ChartCurve;
  fn: TimeCurrent;
  grip: Grip;
  x: Axis;
  y: Axis;
  color: string;
  onDown: (event: PointerEvent) => void;
  onEdit: (element: DeviceElement) => void;
}) {
  const pickup = fn.pickupA * curve.factor;
  const top = y.extent.to;
  const currentA = grip === 'pickup' ? pickup : Math.min(pickup * 4, Math.sqrt(pickup * x.extent.to));
  const timeS =
    grip === 'pickup'
      ? Math.min(timeOnChart(fn, pickup * 1.02, curve.factor), top)
      : timeOnChart(fn, currentA, curve.factor);
  if (!Number.isFinite(timeS) || currentA < x.extent.from || currentA > x.extent.to) return null;
  const setting = settingOf(fn.fn, grip, fn.part);
  if (!setting) return null;
  const { range, sizes, value } = setting;
  const [least, most] = range
    ? [range.min, range.max]
    : sizes
      ? [sizes[0], sizes[sizes.length - 1]]
      : [value / 10, value * 10];
  const words = setting.title.toLowerCase();
  const step = (event: KeyboardEvent) => {
    const steps = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (steps === undefined) return;
    event.preventDefault();
    onEdit(stepBy(curve.device, fn.fn, setting, steps));
  };
  return (
    <circle
      className={classes.handle}
      cx={x.at(currentA)}
      cy={y.at(Math.min(Math.max(timeS, y.extent.from), top))}
      r={grip === 'time' ? 6 : 5}
      stroke={color}
      style={{ cursor: grip === 'pickup' ? 'ew-resize' : 'ns-resize' }}
      tabIndex={0}
      role="slider"
      aria-label={`${curve.device.name} ${fn.code} ${words}`}
      aria-valuemin={least}
      aria-valuemax={most}
      aria-valuenow={value}
      onPointerDown={onDown}
      onKeyDown={step}
    >
      <title>{`${fn.code} ${words} ${value} (${rangeWords(setting)})`}</title>
    </circle>
  );
}
