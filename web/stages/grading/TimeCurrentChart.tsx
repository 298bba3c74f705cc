'use client';

import { useRef, useState, type PointerEvent } from 'react';
import { useElementSize } from '@mantine/hooks';
import type { CurvePoint } from '@mesura/core/protection/curve';
import type { DeviceElement } from '@mesura/core/protection/device';
import type { Grip, TimeCurrent } from '@mesura/core/protection/family';
import { Marks, useInk } from '../../plots/Marks';
import { frameOf, kept, type Paper } from '../../plots/scene';
import { pathOf } from '../../plots/svg';
import type { Extent } from '../../plots/ticks';
import plots from '../../plots/plots.module.css';
import { placesOf, timeCurrentScene, type TimeCurrentPlot } from '../../plots/timeCurrent';
import type { ChartCurve } from '@mesura/core/grading/chart/curves';
import type { GradingChart } from '@mesura/core/model/chart';
import { formatCurrent, formatNumber } from '@mesura/core/fields/quantity';
import { DragNote, GripHandle, type Drag } from './chartGrips';
import { dragTo } from './dragging';
import { useStable } from './useStable';
import classes from './grading.module.css';

/** Pixels; the room under the plot is for flags. */
export const chartPaper = {
  height: 400,
  margin: { top: 8, right: 14, bottom: 80, left: 50 },
  text: 11,
  letter: 0.6,
} satisfies Partial<Paper>;

/** Energies need more room than times. */
const energyLeft = 68;

interface Props {
  curves: readonly ChartCurve[];
  /** What is drawn; null while nothing is known of the network yet. */
  plot: TimeCurrentPlot | null;
  extents: { readonly currents: Extent; readonly times: Extent };
  chart: GradingChart;
  /** With all the height that it can have. */
  tall: boolean;
  /** Device whose grips are shown. */
  active: string | null;
  onEdit: (element: DeviceElement) => void;
  onPick: (curve: ChartCurve) => void;
  onReadout: (text: string) => void;
}

/** The chart: log–log, curves dragged by hand, snapping to what the device can be set to. Where no time stands upright nothing is dragged. */
export function TimeCurrentChart({ curves, plot, extents, chart, tall, active, onEdit, onPick, onReadout }: Props) {
  const { ref, width: measured } = useElementSize();
  const [drag, setDrag] = useState<Drag | null>(null);
  const frame = useRef(0);
  const ink = useInk();
  const isTime = chart.shows === 'time';
  const sheet: Paper = {
    ...chartPaper,
    margin: { ...chartPaper.margin, left: isTime ? chartPaper.margin.left : energyLeft },
    height: tall ? 640 : chartPaper.height,
    width: Math.max(measured, 320),
  };
  const { left, right, top, bottom } = frameOf(sheet);
  const empty: TimeCurrentPlot = { curves: [], flags: [], margin: null, extents, caption: '' };
  const { x, y, under, over } = timeCurrentScene(activeLast(plot ?? empty), sheet);
  const unitA = plot?.unitA ?? 1;
  const onName = useStable((key: string) => {
    const picked = curves.find((curve) => curve.key === key);
    if (picked) onPick(picked);
  });

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
    onPick(curve);
    const near = Math.abs(x.at(fn.pickupA * curve.factor) - x.at(placeOf(event).chartA)) < 9;
    setDrag({ curve, fn, grip: grip ?? (near ? 'pickup' : 'time') });
  };
  const moveTo = (event: PointerEvent) => {
    const place = placeOf(event);
    const across =
      unitA === 1
        ? `${formatCurrent(place.chartA, 3)} at ${chart.referenceKv} kV`
        : `${formatNumber(place.chartA / unitA, 3)} × pickup`;
    onReadout(`${across} · ${plot?.upright?.(place.timeS) ?? `${formatNumber(place.timeS, 3)} s`}`);
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
        {(isTime ? curves : []).flatMap((curve) =>
          curve.functions.map(({ fn, points }) => (
            <path
              key={`${curve.key} ${fn.fn.id} ${fn.part ?? ''}`}
              className={classes.hit}
              d={pathOf(placesOf(withRise(points, extents.times), x, y))}
              style={{ cursor: 'grab' }}
              onPointerDown={(event) => begin(event, curve, fn)}
            />
          )),
        )}
        <Marks scene={over} onName={onName} />
        {(isTime ? curves : [])
          .filter((curve) => curve.device.id === active)
          .flatMap((curve) =>
            curve.functions.flatMap(({ fn }) =>
              (['pickup', 'time'] as const).map((grip) => (
                <GripHandle
                  key={`${curve.key}${fn.fn.id}${fn.part ?? ''}${grip}`}
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

/** The one that is taken hold of lies over the others. */
const activeLast = (plot: TimeCurrentPlot): TimeCurrentPlot => ({
  ...plot,
  curves: [...plot.curves].sort((p, q) => Number(p.strong) - Number(q.strong)),
});

/** The chart that an event happened on, be it on the chart itself or on something drawn in it. */
function chartOf(event: PointerEvent): SVGSVGElement {
  const target = event.currentTarget as SVGElement;
  return target instanceof SVGSVGElement ? target : target.ownerSVGElement!;
}

const keptRise = kept<readonly CurvePoint[], CurvePoint[]>();

/** A definite-time function rises straight at its pickup: that rise can be gripped too. */
const withRise = (points: readonly CurvePoint[], times: Extent): CurvePoint[] =>
  keptRise(points, String(times.to), () =>
    points.length === 0 ? [] : [{ currentA: points[0].currentA, timeS: times.to * 2 }, ...points],
  );
