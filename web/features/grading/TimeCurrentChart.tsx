'use client';

import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { line } from 'd3';
import { useComputedColorScheme } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import type { Relay } from '@mesura/core/model/protection';
import type { CurvePoint, PrimaryFunction } from '@mesura/core/protection/overcurrent/relay';
import { currentLabel, logScale, logTicks, timeLabel, type Extent, type LogScale } from '../../charts/scales';
import { deviceStyles } from '../../theme/tokens';
import { formatCurrent, formatNumber } from '../card/quantity';
import type { ChartCurve, Flag, JudgedPair } from './curves';
import { dragTo, fieldOf, stepBy, type Grip } from './dragging';
import { shortName, timeOnChart } from './curves';
import classes from './grading.module.css';

interface Props {
  curves: readonly ChartCurve[];
  flags: readonly Flag[];
  pair: JudgedPair | null;
  extents: { currents: Extent; times: Extent };
  referenceKv: number;
  /** Relay whose grips are shown. */
  active: string | null;
  ctPrimaryOf: (relay: Relay) => number;
  onEdit: (relay: Relay) => void;
  onPick: (relay: Relay) => void;
  onReadout: (text: string) => void;
}

interface Drag {
  curve: ChartCurve;
  fn: PrimaryFunction;
  grip: Grip;
}

const margin = { top: 8, right: 14, bottom: 80, left: 50 };
const height = 400;

/** The time–current chart: log–log, curves dragged by hand, snapping to what the device can be set to. */
export function TimeCurrentChart({
  curves,
  flags,
  pair,
  extents,
  referenceKv,
  active,
  ctPrimaryOf,
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
  const begin = (event: PointerEvent, curve: ChartCurve, fn: PrimaryFunction, grip?: Grip) => {
    event.preventDefault();
    chartOf(event).setPointerCapture(event.pointerId);
    onPick(curve.relay);
    const near = Math.abs(x(fn.pickupA * curve.factor) - x(placeOf(event).chartA)) < 9;
    setDrag({ curve, fn, grip: grip ?? (near ? 'pickup' : 'time') });
  };
  const moveTo = (event: PointerEvent) => {
    const place = placeOf(event);
    onReadout(`${formatCurrent(place.chartA, 3)} at ${referenceKv} kV · ${formatNumber(place.timeS, 3)} s`);
    if (!drag) return;
    cancelAnimationFrame(frame.current);
    frame.current = requestAnimationFrame(() => {
      const now = curves.find((curve) => curve.relay.id === drag.curve.relay.id) ?? drag.curve;
      const source = now.relay.functions.find((fn) => fn.id === drag.fn.source.id);
      if (source) onEdit(dragTo(now.relay, source, drag.grip, place, drag.curve.factor, ctPrimaryOf(now.relay)));
    });
  };

  const path = line<CurvePoint>(
    (p) => x(p.currentA),
    (p) => y(p.timeS),
  );
  const inView = (points: readonly CurvePoint[]) => cut(points, extents);
  const color = (style: number) => deviceStyles[style % deviceStyles.length][scheme];
  const ordered = [...curves].sort((p, q) => Number(p.relay.id === active) - Number(q.relay.id === active));
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
              <g key={curve.relay.id}>
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
                  data-curve={curve.relay.name}
                  d={path(inView(curve.points)) ?? ''}
                  fill="none"
                  stroke={color(curve.style)}
                  strokeWidth={curve.relay.id === active ? 2.6 : 1.8}
                  strokeDasharray={dash}
                  strokeLinejoin="round"
                />
                {curve.functions.map(({ fn, points }) => (
                  <path
                    key={fn.source.id}
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
          .filter((curve) => curve.relay.id === active)
          .flatMap((curve) =>
            curve.functions.flatMap(({ fn }) =>
              (['pickup', 'time'] as const).map((grip) => (
                <GripHandle
                  key={`${fn.source.id}${grip}`}
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
        {drag && <DragNote drag={drag} curves={curves} x={x} width={width} />}
      </svg>
    </div>
  );
}

/** The chart that an event happened on, be it on the chart itself or on something drawn in it. */
function chartOf(event: PointerEvent): SVGSVGElement {
  const target = event.currentTarget as SVGElement;
  return target instanceof SVGSVGElement ? target : target.ownerSVGElement!;
}

/** What the hand is setting, beside the curve: value, range and step of the device. */
function DragNote({
  drag,
  curves,
  x,
  width,
}: {
  drag: Drag;
  curves: readonly ChartCurve[];
  x: LogScale;
  width: number;
}) {
  const now = curves
    .find((curve) => curve.relay.id === drag.curve.relay.id)
    ?.relay.functions.find((fn) => fn.id === drag.fn.source.id);
  if (!now) return null;
  const field = fieldOf(now, drag.grip);
  const { min, max, step } = now.ranges[field];
  const left = Math.min(
    x(now.pickup * (drag.fn.pickupA / drag.fn.source.pickup) * drag.curve.factor) + 40,
    width - margin.right - 190,
  );
  return (
    <g pointerEvents="none" transform={`translate(${left} ${margin.top + 6})`}>
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

/** Points inside the chart; the line is led to its edge, so that clipping does not cut a step short. */
function cut(points: readonly CurvePoint[], { currents, times }: Props['extents']): CurvePoint[] {
  return points
    .filter((p) => p.currentA <= currents.to * 1.5)
    .map((p) => ({ currentA: p.currentA, timeS: Math.min(Math.max(p.timeS, times.from / 2), times.to * 2) }));
}

/** A definite-time function rises straight at its pickup: that rise can be gripped too. */
const withRise = (points: readonly CurvePoint[], { times }: Props['extents']): CurvePoint[] =>
  points.length === 0 ? [] : [{ currentA: points[0].currentA, timeS: times.to * 2 }, ...points];

function Grid({
  x,
  y,
  extents,
  width,
  referenceKv,
}: {
  x: LogScale;
  y: LogScale;
  extents: Props['extents'];
  width: number;
  referenceKv: number;
}) {
  const bottom = height - margin.bottom;
  const labels = extents.currents.to / extents.currents.from > 2e3 ? [1, 3] : [1, 2, 5];
  return (
    <g>
      {logTicks(extents.currents, labels).map(({ value, major, decade }) => (
        <g key={value}>
          <line
            x1={x(value)}
            x2={x(value)}
            y1={margin.top}
            y2={bottom}
            stroke={decade ? 'var(--m-grid-strong)' : 'var(--m-grid)'}
          />
          {major && (
            <text
              x={x(value)}
              y={bottom + 15}
              textAnchor={x(value) > width - margin.right - 18 ? 'end' : 'middle'}
              fontSize={11}
              fill="var(--m-ink)"
            >
              {currentLabel(value)}
            </text>
          )}
        </g>
      ))}
      {logTicks(extents.times, [1]).map(({ value, decade }) => (
        <g key={value}>
          <line
            x1={margin.left}
            x2={width - margin.right}
            y1={y(value)}
            y2={y(value)}
            stroke={decade ? 'var(--m-grid-strong)' : 'var(--m-grid)'}
          />
          {decade && (
            <text x={margin.left - 6} y={y(value) + 4} textAnchor="end" fontSize={11} fill="var(--m-ink)">
              {timeLabel(value)} s
            </text>
          )}
        </g>
      ))}
      <text x={width - margin.right} y={height - 3} textAnchor="end" fontSize={11} fill="var(--m-muted)">
        primary current referred to {referenceKv} kV
      </text>
    </g>
  );
}

function Flags({
  flags,
  x,
  extent,
  color,
}: {
  flags: readonly Flag[];
  x: LogScale;
  extent: Extent;
  color: (style: number) => string;
}) {
  const bottom = height - margin.bottom;
  const shown = flags
    .filter((flag) => flag.currentA >= extent.from && flag.currentA <= extent.to)
    .sort((p, q) => p.currentA - q.currentA);
  const ends = [-Infinity, -Infinity, -Infinity];
  return (
    <g fontSize={10.5}>
      {shown.map((flag) => {
        const text = `${flag.label} ${formatCurrent(flag.currentA, 3)}`;
        const width = text.length * 6.35 + 8;
        const at = Math.max(x(flag.currentA) - width, 0);
        // Rows of flags: the next one takes what those above have no room for.
        const row = Math.max(
          ends.findIndex((end) => at > end),
          0,
        );
        ends[row] = at + width + 2;
        return (
          <g key={flag.label}>
            <line
              x1={x(flag.currentA)}
              x2={x(flag.currentA)}
              y1={margin.top}
              y2={bottom + 19 + row * 15}
              stroke={color(flag.style)}
              strokeDasharray="4 3"
              opacity={0.8}
            />
            <rect x={at} y={bottom + 19 + row * 15} width={width} height={14} fill={color(flag.style)} />
            <text x={at + width / 2} y={bottom + 29.5 + row * 15} textAnchor="middle" fill="var(--m-panel)">
              {text}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** Each curve is named where it enters the chart from above; names that would meet step down along their curves. */
function Labels({
  curves,
  x,
  y,
  extents,
  color,
  onPick,
}: {
  curves: readonly ChartCurve[];
  x: LogScale;
  y: LogScale;
  extents: Props['extents'];
  color: (style: number) => string;
  onPick: (relay: Relay) => void;
}) {
  const taken: { left: number; right: number; y: number }[] = [];
  return (
    <g>
      {[...curves]
        .sort((p, q) => (p.points[0]?.currentA ?? 0) - (q.points[0]?.currentA ?? 0))
        .map((curve) => {
          const inside = curve.points.filter(
            (p) =>
              p.timeS <= extents.times.to * 0.8 && p.timeS >= extents.times.from && p.currentA <= extents.currents.to,
          );
          if (inside.length === 0) return null;
          const name = shortName(curve.relay);
          const width = name.length * 7;
          const free = inside.find((p) => {
            const left = x(p.currentA) + 8;
            return (
              left + width < x.range()[1] &&
              !taken.some((t) => Math.abs(t.y - y(p.timeS)) < 15 && left < t.right && left + width > t.left)
            );
          });
          const at = free ?? inside[0];
          const place = { left: x(at.currentA) + 8, right: x(at.currentA) + 8 + width, y: y(at.timeS) };
          taken.push(place);
          return (
            <text
              key={curve.relay.id}
              className={classes.curveLabel}
              x={place.left}
              y={place.y + 4}
              fill={color(curve.style)}
              onClick={() => onPick(curve.relay)}
            >
              {name}
            </text>
          );
        })}
    </g>
  );
}

function Caliper({ pair, x, y, extents }: { pair: JudgedPair; x: LogScale; y: LogScale; extents: Props['extents'] }) {
  const { decisive, verdict } = pair.margin;
  if (!decisive || pair.downX === null || pair.upX === null) return null;
  const clampY = (timeS: number) => y(Math.min(Math.max(timeS, extents.times.from), extents.times.to));
  const [x1, x2, y1, y2] = [x(pair.downX), x(pair.upX), clampY(decisive.downstreamS), clampY(decisive.upstreamS)];
  const stroke = verdict === 'holds' ? 'var(--m-pass)' : 'var(--m-fail)';
  const text = `Δt ${decisive.marginS.toFixed(3)} s`;
  const width = text.length * 7 + 12;
  const left = Math.min(x1, x2) - width - 10 > margin.left ? Math.min(x1, x2) - width - 10 : Math.max(x1, x2) + 10;
  return (
    <g pointerEvents="none" aria-label={`margin ${text}`}>
      <path
        d={`M${x1} ${y1}V${y2}H${x2}M${x1 - 5} ${y1}H${x1 + 5}M${x1 - 5} ${y2}H${x1 + 5}`}
        fill="none"
        stroke={stroke}
        strokeWidth={2}
      />
      <circle cx={x1} cy={y1} r={3} fill={stroke} />
      <circle cx={x2} cy={y2} r={3} fill={stroke} />
      <rect
        x={left}
        y={(y1 + y2) / 2 - 11}
        width={width}
        height={21}
        rx={4}
        fill={verdict === 'holds' ? 'var(--m-pass-soft)' : 'var(--m-fail-soft)'}
        stroke={stroke}
        strokeWidth={0.8}
      />
      <text x={left + width / 2} y={(y1 + y2) / 2 + 4} textAnchor="middle" fontSize={12} fill={stroke}>
        {text}
      </text>
    </g>
  );
}

function GripHandle({
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
  extents: Props['extents'];
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
