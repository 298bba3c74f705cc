/** The still parts of the chart: axes, flags, names, caliper. */
import type { Device } from '@mesura/core/protection/device';
import { currentLabel, logTicks, timeLabel, type Extent, type LogScale } from '../../charts/scales';
import { formatCurrent } from '../../card/quantity';
import { shortName, type ChartCurve, type Flag, type JudgedPair } from './curves';
import classes from './grading.module.css';

/** Room around the plot for labels and flags, in pixels. */
export const margin = { top: 8, right: 14, bottom: 80, left: 50 };
export const height = 400;

export interface Extents {
  currents: Extent;
  times: Extent;
}

export function Grid({
  x,
  y,
  extents,
  width,
  referenceKv,
}: {
  x: LogScale;
  y: LogScale;
  extents: Extents;
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

export function Flags({
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
export function Labels({
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
  extents: Extents;
  color: (style: number) => string;
  onPick: (device: Device) => void;
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
          const name = shortName(curve.device);
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
              key={curve.device.id}
              className={classes.curveLabel}
              x={place.left}
              y={place.y + 4}
              fill={color(curve.style)}
              onClick={() => onPick(curve.device)}
            >
              {name}
            </text>
          );
        })}
    </g>
  );
}

export function Caliper({ pair, x, y, extents }: { pair: JudgedPair; x: LogScale; y: LogScale; extents: Extents }) {
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
