'use client';

import { useRef, useState, type PointerEvent } from 'react';
import { line } from 'd3';
import { useComputedColorScheme } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import type { CurvePoint } from '@mesura/core/protection/curve';
import type { Device, DeviceElement } from '@mesura/core/protection/device';
import type { Grip, TimeCurrent } from '@mesura/core/protection/family';
import { logScale } from '../../charts/scales';
import { deviceStyles } from '../../theme/tokens';
import { formatCurrent, formatNumber } from '../../card/quantity';
import { DragNote, GripHandle, type Drag } from './chartGrips';
import { Caliper, Flags, Grid, height, Labels, margin, type Extents } from './chartParts';
import type { ChartCurve, Flag, JudgedPair } from './curves';
import { dragTo } from './dragging';
import classes from './grading.module.css';

interface Props {
  curves: readonly ChartCurve[];
  flags: readonly Flag[];
  pair: JudgedPair | null;
  extents: Extents;
  referenceKv: number;
  /** Device whose grips are shown. */
  active: string | null;
  onEdit: (element: DeviceElement) => void;
  onPick: (device: Device) => void;
  onReadout: (text: string) => void;
}

/** The time–current chart: log–log, curves dragged by hand, snapping to what the device can be set to. */
export function TimeCurrentChart({
  curves,
  flags,
  pair,
  extents,
  referenceKv,
  active,
  onEdit,
  onPick,
  onReadout,
}: Props) {
  const { ref, width: measured } = useElementSize();
  const scheme = useComputedColorScheme('light');
  const [drag, setDrag] = useState<Drag | null>(null);
  const frame = useRef(0);
  const width = Math.max(measured, 320);
  const x = logScale(extents.currents, [margin.left, width - margin.right]);
  const y = logScale(extents.times, [height - margin.bottom, margin.top]);

  const placeOf = (event: PointerEvent) => {
    const box = chartOf(event).getBoundingClientRect();
    const clamp = (value: number, low: number, high: number) => Math.min(Math.max(value, low), high);
    return {
      chartA: x.invert(clamp(event.clientX - box.left, margin.left, width - margin.right)),
      timeS: y.invert(clamp(event.clientY - box.top, margin.top, height - margin.bottom)),
    };
  };
  const begin = (event: PointerEvent, curve: ChartCurve, fn: TimeCurrent, grip?: Grip) => {
    event.preventDefault();
    chartOf(event).setPointerCapture(event.pointerId);
    onPick(curve.device);
    const near = Math.abs(x(fn.pickupA * curve.factor) - x(placeOf(event).chartA)) < 9;
    setDrag({ curve, fn, grip: grip ?? (near ? 'pickup' : 'time') });
  };
  const moveTo = (event: PointerEvent) => {
    const place = placeOf(event);
    onReadout(`${formatCurrent(place.chartA, 3)} at ${referenceKv} kV · ${formatNumber(place.timeS, 3)} s`);
    if (!drag) return;
    cancelAnimationFrame(frame.current);
    frame.current = requestAnimationFrame(() => {
      const now = curves.find((curve) => curve.device.id === drag.curve.device.id) ?? drag.curve;
      const source = now.device.functions.find((fn) => fn.id === drag.fn.fn.id);
      if (source) onEdit(dragTo(now.device, source, drag.grip, place, drag.curve.factor));
    });
  };

  const path = line<CurvePoint>(
    (p) => x(p.currentA),
    (p) => y(p.timeS),
  );
  const inView = (points: readonly CurvePoint[]) => cut(points, extents);
  const color = (style: number) => deviceStyles[style % deviceStyles.length][scheme];
  const ordered = [...curves].sort((p, q) => Number(p.device.id === active) - Number(q.device.id === active));
  return (
    <div ref={ref}>
      <svg
        className={classes.chart}
        height={height}
        viewBox={`0 0 ${width} ${height}`}
        role="group"
        aria-label="Time–current chart"
        onPointerMove={moveTo}
        onPointerUp={() => setDrag(null)}
        onPointerCancel={() => setDrag(null)}
        onPointerLeave={() => !drag && onReadout('')}
      >
        <Grid x={x} y={y} extents={extents} width={width} referenceKv={referenceKv} />
        <Flags flags={flags} x={x} extent={extents.currents} color={color} />
        <clipPath id="plot">
          <rect
            x={margin.left}
            y={margin.top}
            width={width - margin.left - margin.right}
            height={height - margin.top - margin.bottom}
          />
        </clipPath>
        <g clipPath="url(#plot)">
          {ordered.map((curve) => {
            const { dash } = deviceStyles[curve.style % deviceStyles.length];
            return (
              <g key={curve.device.id}>
                {curve.isEdited && (
                  <path
                    d={path(inView(curve.ghost)) ?? ''}
                    fill="none"
                    stroke={color(curve.style)}
                    strokeWidth={1}
                    strokeDasharray="1.5 3"
                    opacity={0.8}
                  />
                )}
                <path
                  data-curve={curve.device.name}
                  d={path(inView(curve.points)) ?? ''}
                  fill="none"
                  stroke={color(curve.style)}
                  strokeWidth={curve.device.id === active ? 2.6 : 1.8}
                  strokeDasharray={dash}
                  strokeLinejoin="round"
                />
                {curve.functions.map(({ fn, points }) => (
                  <path
                    key={fn.fn.id}
                    className={classes.hit}
                    d={path(inView(withRise(points, extents))) ?? ''}
                    style={{ cursor: 'grab' }}
                    onPointerDown={(event) => begin(event, curve, fn)}
                  />
                ))}
              </g>
            );
          })}
        </g>
        <Labels curves={curves} x={x} y={y} extents={extents} color={color} onPick={onPick} />
        {pair && <Caliper pair={pair} x={x} y={y} extents={extents} />}
        {ordered
          .filter((curve) => curve.device.id === active)
          .flatMap((curve) =>
            curve.functions.flatMap(({ fn }) =>
              (['pickup', 'time'] as const).map((grip) => (
                <GripHandle
                  key={`${fn.fn.id}${grip}`}
                  curve={curve}
                  fn={fn}
                  grip={grip}
                  x={x}
                  y={y}
                  extents={extents}
                  color={color(curve.style)}
                  onDown={(event) => begin(event, curve, fn, grip)}
                  onEdit={onEdit}
                />
              )),
            ),
          )}
        {drag && <DragNote drag={drag} curves={curves} />}
      </svg>
    </div>
  );
}

/** The chart that an event happened on, be it on the chart itself or on something drawn in it. */
function chartOf(event: PointerEvent): SVGSVGElement {
  const target = event.currentTarget as SVGElement;
  return target instanceof SVGSVGElement ? target : target.ownerSVGElement!;
}

/** Points inside the chart; the line is led to its edge, so that clipping does not cut a step short. */
function cut(points: readonly CurvePoint[], { currents, times }: Extents): CurvePoint[] {
  return points
    .filter((p) => p.currentA <= currents.to * 1.5)
    .map((p) => ({ currentA: p.currentA, timeS: Math.min(Math.max(p.timeS, times.from / 2), times.to * 2) }));
}

/** A definite-time function rises straight at its pickup: that rise can be gripped too. */
const withRise = (points: readonly CurvePoint[], { times }: Extents): CurvePoint[] =>
  points.length === 0 ? [] : [{ currentA: points[0].currentA, timeS: times.to * 2 }, ...points];
