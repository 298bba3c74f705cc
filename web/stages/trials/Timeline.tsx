'use client';

import { useElementSize } from '@mantine/hooks';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn } from '@mesura/core/model/network';
import type { TrialAnswer } from '@mesura/core/trials/answer';
import { linearTicks } from '../../plots/ticks';
import { useProject } from '../../project/ProjectContext';
import { setTrials, useTrialsState } from './state';
import plots from '../../plots/plots.module.css';
import bench from '../../card/bench.module.css';

const [rowHeight, names, top] = [20, 150, 22];

interface Bar {
  readonly from: number;
  readonly to: number;
  readonly what: 'picked' | 'tripped' | 'open' | 'fault';
  readonly title: string;
}

interface Lane {
  readonly id: ElementId | null;
  readonly name: string;
  readonly bars: readonly Bar[];
}

/** A row for each device and breaker that took part: picked up, tripped, opened; the fault itself above them. */
function lanesOf(answer: TrialAnswer, name: (id: ElementId) => string): Lane[] {
  const { events, endS, intervals } = answer;
  const fed = intervals.flatMap(({ fromS, toS, fed: isFed }): Bar[] =>
    isFed ? [{ from: fromS, to: toS, what: 'fault', title: 'fed' }] : [],
  );
  const lanes: Lane[] = [{ id: null, name: 'Fault', bars: fed }];
  const trips = new Map(
    events.filter(({ kind }) => kind === 'trip' || kind === 'melt').map((event) => [event.device, event.atS]),
  );
  // Those that trip come first, by their times.
  const order = [...answer.devices].sort((p, q) => (trips.get(p) ?? Infinity) - (trips.get(q) ?? Infinity) || 0);
  for (const device of order) {
    const bars: Bar[] = [];
    const open = new Map<string, { from: number; code: string; trippedS: number | null }>();
    const close = (fn: string, to: number) => {
      const begun = open.get(fn);
      if (!begun) return;
      open.delete(fn);
      const turned = begun.trippedS ?? to;
      bars.push({ from: begun.from, to: turned, what: 'picked', title: `${begun.code} picked up` });
      if (begun.trippedS !== null) bars.push({ from: turned, to, what: 'tripped', title: `${begun.code} tripped` });
    };
    for (const event of events) {
      if (event.device !== device || !event.fn) continue;
      const { kind, fn, atS, code = '' } = event;
      if (kind === 'pickUp') open.set(fn, { from: atS, code, trippedS: null });
      if (kind === 'trip' || kind === 'melt') {
        const begun = open.get(fn) ?? { from: atS, code, trippedS: null };
        open.set(fn, { ...begun, code, trippedS: begun.trippedS ?? atS });
      }
      if (kind === 'dropOut') close(fn, atS);
    }
    for (const fn of [...open.keys()]) close(fn, endS);
    if (bars.length > 0) lanes.push({ id: device, name: name(device), bars });
  }
  const switched = [...new Set(events.flatMap(({ kind, element }) => (kind === 'open' && element ? [element] : [])))];
  for (const id of switched) {
    const bars: Bar[] = [];
    let from: number | null = null;
    for (const { kind, element, atS } of events) {
      if (element !== id) continue;
      if (kind === 'open') from ??= atS;
      if (kind === 'close' && from !== null) {
        bars.push({ from, to: atS, what: 'open', title: 'open' });
        from = null;
      }
    }
    if (from !== null) bars.push({ from, to: endS, what: 'open', title: 'open' });
    lanes.push({ id, name: name(id), bars });
  }
  return lanes;
}

const looks = {
  fault: { fill: 'var(--m-fail)', opacity: 0.35, inset: 5 },
  picked: { fill: 'var(--m-accent)', opacity: 0.35, inset: 6 },
  tripped: { fill: 'var(--m-accent)', opacity: 1, inset: 4 },
  open: { fill: 'var(--m-ink)', opacity: 0.75, inset: 7 },
} as const;

export function Timeline({ answer }: { answer: TrialAnswer }) {
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const atS = useTrialsState((state) => state.atS);
  const { ref, width } = useElementSize();
  const lanes = lanesOf(answer, (id) => nameIn(network, id));
  const endS = Math.max(answer.endS * 1.05, 0.01);
  const across = Math.max(width - names - 16, 120);
  const x = (t: number) => names + (Math.min(t, endS) / endS) * across;
  const height = top + lanes.length * rowHeight + 6;
  const scrub = (event: React.PointerEvent<SVGSVGElement>) => {
    const left = event.currentTarget.getBoundingClientRect().left;
    const t = ((event.clientX - left - names) / across) * endS;
    if (t >= 0) setTrials({ atS: Math.min(t, answer.endS), playing: false });
  };
  return (
    <div ref={ref}>
      <svg
        className={plots.plot}
        width={Math.max(width, 300)}
        height={height}
        role="img"
        aria-label="Timeline of devices and breakers"
        onPointerDown={scrub}
        onPointerMove={(event) => {
          if (event.buttons === 1) scrub(event);
        }}
      >
        {linearTicks({ from: 0, to: endS }, 6).map(({ value }) => (
          <g key={value}>
            <line x1={x(value)} x2={x(value)} y1={top - 4} y2={height} stroke="var(--m-grid)" />
            <text x={x(value)} y={12} fontSize={11} textAnchor="middle" fill="var(--m-muted)">
              {Number(value.toPrecision(4))} s
            </text>
          </g>
        ))}
        {lanes.map(({ id, name, bars }, k) => {
          const y = top + k * rowHeight;
          return (
            <g key={id ?? 'fault'}>
              <text
                x={names - 8}
                y={y + 14}
                fontSize={12}
                textAnchor="end"
                fill="var(--m-ink)"
                style={{ cursor: id ? 'pointer' : undefined }}
                onPointerDown={(event) => {
                  event.stopPropagation();
                  if (id) select([id]);
                }}
              >
                {name.length > 22 ? `${name.slice(0, 21)}…` : name}
              </text>
              {bars.map((bar, n) => {
                const { fill, opacity, inset } = looks[bar.what];
                return (
                  <rect
                    key={n}
                    x={x(bar.from)}
                    y={y + inset}
                    width={Math.max(x(bar.to) - x(bar.from), 2)}
                    height={rowHeight - 2 * inset}
                    fill={fill}
                    opacity={opacity}
                  >
                    <title>{`${bar.title}, ${Number(bar.from.toPrecision(4))} to ${Number(bar.to.toPrecision(4))} s`}</title>
                  </rect>
                );
              })}
            </g>
          );
        })}
        <line x1={x(atS)} x2={x(atS)} y1={top - 6} y2={height} stroke="var(--m-accent)" strokeWidth={1.5} />
      </svg>
      <p className={bench.muted}>
        Pale: picked up; full: tripped; dark: open. Drag over the picture to move the time; a click on a name selects it
        on the drawing.
      </p>
    </div>
  );
}
