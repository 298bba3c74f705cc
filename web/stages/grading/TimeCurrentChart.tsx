'use client';

import { useRef, useState, type PointerEvent } from 'react';
import { useElementSize } from '@mantine/hooks';
import type { CurvePoint } from '@mesura/core/protection/curve';
import type { Device, DeviceElement } from '@mesura/core/protection/device';
import type { Grip, TimeCurrent } from '@mesura/core/protection/family';
import { Marks, useInk } from '../../plots/Marks';
import { frameOf, type Paper } from '../../plots/scene';
import { pathOf } from '../../plots/svg';
import type { Extent } from '../../plots/ticks';
import plots from '../../plots/plots.module.css';
import {
  placesOf,
  timeCurrentScene,
  type PlottedCurve,
  type PlottedLimit,
  type PlottedMargin,
  type PlottedNote,
} from '../../plots/timeCurrent';
import { formatCurrent, formatNumber } from '@mesura/core/fields/quantity';
import { DragNote, GripHandle, type Drag } from './chartGrips';
import { shortName, type ChartCurve, type Flag, type JudgedPair } from './curves';
import { dragTo } from './dragging';
import classes from './grading.module.css';

/** Pixels; the room under the plot is for flags. */
export const chartPaper = {
  height: 400,
  margin: { top: 8, right: 14, bottom: 80, left: 50 },
  text: 11,
  letter: 0.6,
} satisfies Partial<Paper>;

interface Props {
  curves: readonly ChartCurve[];
  flags: readonly Flag[];
  pair: JudgedPair | null;
  extents: { readonly currents: Extent; readonly times: Extent };
  referenceKv: number;
  limits: readonly PlottedLimit[];
  notes: readonly PlottedNote[];
  /** Current of a question. */
  asked: number | null;
  /** With all the height that it can have. */
  tall: boolean;
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
  limits,
  notes,
  asked,
  tall,
  active,
  onEdit,
  onPick,
  onReadout,
}: Props) {
  const { ref, width: measured } = useElementSize();
  const [drag, setDrag] = useState<Drag | null>(null);
  const frame = useRef(0);
  const ink = useInk();
  const sheet: Paper = { ...chartPaper, height: tall ? 640 : chartPaper.height, width: Math.max(measured, 320) };
  const { left, right, top, bottom } = frameOf(sheet);
  // The one that is taken hold of lies over the others.
  const ordered = [...curves].sort((p, q) => Number(p.device.id === active) - Number(q.device.id === active));
  const { x, y, under, over } = timeCurrentScene(
    {
      curves: ordered.map((curve) => plotted(curve, active)),
      flags,
      limits,
      notes,
      asked,
      margin: pair && marginOf(pair),
      extents,
      caption: `primary current referred to ${referenceKv} kV`,
    },
    sheet,
  );

  const placeOf = (event: PointerEvent) => {
    const box = chartOf(event).getBoundingClientRect();
    const clamp = (value: number, low: number, high: number) => Math.min(Math.max(value, low), high);
    return {
      chartA: x.valueAt(clamp(event.clientX - box.left, left, right)),
      timeS: y.valueAt(clamp(event.clientY - box.top, top, bottom)),
    };
  };
  const begin = (event: PointerEvent, curve: ChartCurve, fn: TimeCurrent, grip?: Grip) => {
    event.preventDefault();
    chartOf(event).setPointerCapture(event.pointerId);
    onPick(curve.device);
    const near = Math.abs(x.at(fn.pickupA * curve.factor) - x.at(placeOf(event).chartA)) < 9;
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
      if (source) onEdit(dragTo(now.device, source, drag.grip, place, drag.curve.factor, drag.fn.part));
    });
  };

  return (
    <div ref={ref}>
      <svg
        className={plots.plot}
        height={sheet.height}
        viewBox={`0 0 ${sheet.width} ${sheet.height}`}
        role="group"
        aria-label="Time–current chart"
        onPointerMove={moveTo}
        onPointerUp={() => setDrag(null)}
        onPointerCancel={() => setDrag(null)}
        onPointerLeave={() => !drag && onReadout('')}
      >
        <Marks scene={under} />
        {ordered.flatMap((curve) =>
          curve.functions.map(({ fn, points }) => (
            <path
              key={`${curve.device.id} ${fn.fn.id} ${fn.part ?? ''}`}
              className={classes.hit}
              d={pathOf(placesOf(withRise(points, extents.times), x, y))}
              style={{ cursor: 'grab' }}
              onPointerDown={(event) => begin(event, curve, fn)}
            />
          )),
        )}
        <Marks
          scene={over}
          onName={(id) => {
            const picked = curves.find((curve) => curve.device.id === id);
            if (picked) onPick(picked.device);
          }}
        />
        {ordered
          .filter((curve) => curve.device.id === active)
          .flatMap((curve) =>
            curve.functions.flatMap(({ fn }) =>
              (['pickup', 'time'] as const).map((grip) => (
                <GripHandle
                  key={`${fn.fn.id}${fn.part ?? ''}${grip}`}
                  curve={curve}
                  fn={fn}
                  grip={grip}
                  x={x}
                  y={y}
                  color={ink(curve.style)}
                  onDown={(event) => begin(event, curve, fn, grip)}
                  onEdit={onEdit}
                />
              )),
            ),
          )}
        {drag && <DragNote drag={drag} curves={curves} at={{ x: left + 10, y: bottom - 50 }} />}
      </svg>
    </div>
  );
}

/** A curve as the plot takes it. */
export const plotted = (
  { device, style, points, fast, band, ghost, isEdited }: ChartCurve,
  active: string | null,
): PlottedCurve => ({
  of: device.id,
  label: shortName(device),
  style,
  points,
  before: isEdited ? ghost : [],
  fast,
  ...(band && { band }),
  strong: device.id === active,
});

/** The chart that an event happened on, be it on the chart itself or on something drawn in it. */
function chartOf(event: PointerEvent): SVGSVGElement {
  const target = event.currentTarget as SVGElement;
  return target instanceof SVGSVGElement ? target : target.ownerSVGElement!;
}

/** The margin of a pair at its decisive currents; null where one of them has no place on this chart. */
export function marginOf({ margin: { decisive, verdict }, downX, upX }: JudgedPair): PlottedMargin | null {
  if (!decisive || downX === null || upX === null) return null;
  const { downstreamS, upstreamS } = decisive;
  return { downA: downX, upA: upX, downstreamS, upstreamS, holds: verdict === 'holds' };
}

/** A definite-time function rises straight at its pickup: that rise can be gripped too. */
const withRise = (points: readonly CurvePoint[], times: Extent): CurvePoint[] =>
  points.length === 0 ? [] : [{ currentA: points[0].currentA, timeS: times.to * 2 }, ...points];
