'use client';

import { useMemo, useState } from 'react';
import { Button } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { curvePoints, type CurvePoint } from '@mesura/core/protection/curve';
import { currentOf, deviceFrom, deviceOf, timeCurrents, type Device } from '@mesura/core/protection/device';
import type { TimeCurrent } from '@mesura/core/protection/family';
import { intervalAt, type TrialAnswer } from '@mesura/core/trials/answer';
import { report } from '../../desk/report';
import { useProject } from '../../project/ProjectContext';
import { Marks } from '../../plots/Marks';
import { acrossOf, border, caption, gridOf, logAxis, upOf, type Mark, type Paper } from '../../plots/scene';
import { currentLabel, timeLabel } from '../../plots/ticks';
import { dragTo, settingOf, stepBy } from '../grading/dragging';
import { setTrials, useTrialsState } from './state';
import plots from '../../plots/plots.module.css';
import bench from '../../card/bench.module.css';
import { PictureLine } from '../../card/PictureMenu';

const most = 8;

interface Curve {
  readonly device: Device;
  readonly fn: TimeCurrent;
  readonly points: readonly CurvePoint[];
  /** What it sees now, in primary amperes. */
  readonly seenA: number;
}

const quantityA = (fn: TimeCurrent, answer: TrialAnswer, device: ElementId, atS: number): number => {
  const own = intervalAt(answer.intervals, atS).currents.find((each) => each.device === device);
  return own ? currentOf(own, fn.quantity) : 0;
};

/** Functions with a curve that picked up in the trial, the first to trip first. */
function curvesOf(network: Network, answer: TrialAnswer, tried: Device | null, atS: number): Curve[] {
  const picked = answer.events.filter(({ kind }) => kind === 'pickUp' || kind === 'melt');
  const order = [...new Set(picked.map(({ device, fn }) => `${device} ${fn}`))];
  const tripped = answer.events.filter(({ kind }) => kind === 'trip').map(({ device, fn }) => `${device} ${fn}`);
  return [...new Set([...tripped, ...order])]
    .flatMap((key): Curve[] => {
      const [id, fnId] = key.split(' ') as [ElementId, ElementId];
      const device = tried?.id === id ? tried : deviceOf(network, id);
      const fn = device && timeCurrents(device).find((each) => each.fn.id === fnId);
      if (!device || !fn) return [];
      const points = curvePoints({ device, functions: [fn] }, fn.quantity, 100 * fn.pickupA, 30);
      return [{ device, fn, points, seenA: quantityA(fn, answer, id, atS) }];
    })
    .slice(0, most);
}

/** Curves of what picked up, each over the current that it sees itself; a curve dragged up or down plays the trial anew. */
export function OperatingCurves({ answer }: { answer: TrialAnswer }) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const { atS, tried } = useTrialsState();
  const { ref, width } = useElementSize();
  const [held, setHeld] = useState<string | null>(null);
  const [chosen, setChosen] = useState<string | null>(null);
  const triedDevice = useMemo(() => (tried ? deviceFrom(network, tried) : null), [network, tried]);
  const curves = curvesOf(network, answer, triedDevice, atS);
  if (curves.length === 0) return <p className={bench.muted}>Nothing with a time–current curve picked up.</p>;
  const paper: Paper = {
    width: Math.max(width, 320),
    height: 330,
    margin: { top: 10, right: 14, bottom: 34, left: 52 },
    text: 11,
  };
  const currents = curves.flatMap(({ points, seenA }) => [
    ...points.slice(0, 1).map(({ currentA }) => currentA),
    seenA,
  ]);
  const x = logAxis(
    {
      extent: {
        from: Math.max(1, 0.7 * Math.min(...currents.filter((each) => each > 0))),
        to: 2 * Math.max(...currents, 10),
      },
      label: currentLabel,
    },
    acrossOf(paper),
  );
  const y = logAxis({ extent: { from: 0.01, to: 30 }, label: timeLabel }, upOf(paper));
  const keyOf = ({ device, fn }: Curve) => `${device.id} ${fn.fn.id}`;
  const place = ({ currentA, timeS }: CurvePoint) => ({ x: x.at(currentA), y: y.at(Math.max(timeS, y.extent.from)) });
  const marks: Mark[] = [
    ...gridOf(paper, x, y),
    ...curves.flatMap((curve, k): Mark[] => {
      const operating = curve.seenA > 0 ? curve.fn.at(curve.seenA).latestS : Infinity;
      const strong = [held, chosen].includes(keyOf(curve));
      return [
        {
          kind: 'line',
          of: keyOf(curve),
          points: curve.points.map(place),
          ink: k,
          width: strong ? 3 : 1.8,
          clipped: true,
        },
        ...(operating < Infinity
          ? [{ kind: 'dot' as const, at: place({ currentA: curve.seenA, timeS: operating }), radius: 4.5, ink: k }]
          : []),
      ];
    }),
    border(paper),
    caption(paper, 'primary current at the device'),
  ];
  const curveNear = (event: React.PointerEvent<SVGSVGElement>): Curve | null => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const at = { x: event.clientX - left, y: event.clientY - top };
    let best: { curve: Curve; distance: number } | null = null;
    for (const curve of curves)
      for (const [k, point] of curve.points.entries()) {
        const [p, q] = [place(point), place(curve.points[k + 1] ?? point)];
        const distance = toSegment(at, p, q);
        if (distance < (best?.distance ?? 9)) best = { curve, distance };
      }
    return best?.curve ?? null;
  };
  const drag = (event: React.PointerEvent<SVGSVGElement>) => {
    const curve = curves.find((each) => keyOf(each) === held);
    if (!curve) return;
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const to = { chartA: x.valueAt(event.clientX - left), timeS: Math.max(y.valueAt(event.clientY - top), 0.001) };
    setTrials({ tried: dragTo(curve.device, curve.fn.fn, 'time', to, 1, curve.fn.part) });
  };
  const store = () => {
    setHeld(null);
    // The last move may not have been drawn yet.
    const last = useTrialsState.getState().tried;
    if (!last) return;
    report(commit([{ op: 'update', element: last }], `${last.name}: set on a trial`));
    setTrials({ tried: null });
  };
  const step = (curve: Curve, steps: number) => {
    const setting = settingOf(curve.fn.fn, 'time', curve.fn.part);
    if (!setting) return;
    const element = stepBy(curve.device, curve.fn.fn, setting, steps);
    report(commit([{ op: 'update', element }], `${curve.device.name}: ${setting.title.toLowerCase()}`));
  };
  return (
    <div ref={ref}>
      <svg
        className={plots.plot}
        height={paper.height}
        viewBox={`0 0 ${paper.width} ${paper.height}`}
        role="img"
        aria-label="Curves of what picked up, with what each sees"
        style={{ touchAction: 'none', cursor: held ? 'ns-resize' : 'default' }}
        onPointerDown={(event) => {
          const curve = curveNear(event);
          if (!curve) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          setHeld(keyOf(curve));
          setChosen(keyOf(curve));
        }}
        onPointerMove={(event) => held && event.buttons === 1 && drag(event)}
        onPointerUp={store}
        onPointerCancel={() => {
          setHeld(null);
          setTrials({ tried: null });
        }}
      >
        <Marks scene={{ paper, marks }} />
      </svg>
      <PictureLine name="Curves of what picked up" scene={{ paper, marks }} />
      <table className={`${bench.table} figures`} aria-label="Curves">
        <tbody>
          {curves.map((curve, k) => {
            const setting = settingOf(curve.fn.fn, 'time', curve.fn.part);
            const timeS = curve.seenA > 0 ? curve.fn.at(curve.seenA).latestS : Infinity;
            return (
              <tr key={keyOf(curve)} data-active={chosen === keyOf(curve) || undefined}>
                <td>
                  <svg width={16} height={10} aria-hidden>
                    <Marks
                      scene={{
                        paper: { ...paper, width: 16, height: 10, margin: { top: 0, right: 0, bottom: 0, left: 0 } },
                        marks: [
                          {
                            kind: 'line',
                            points: [
                              { x: 0, y: 5 },
                              { x: 16, y: 5 },
                            ],
                            ink: k,
                            width: 3,
                          },
                        ],
                      }}
                    />
                  </svg>{' '}
                  {curve.device.name}, {curve.fn.code}
                </td>
                <td className="number">{curve.seenA > 0 ? currentLabel(curve.seenA) : 'sees nothing'}</td>
                <td className="number">{timeS < Infinity ? `${formatNumber(timeS, 3)} s` : 'does not trip'}</td>
                <td>
                  {setting && (
                    <>
                      {setting.title} {formatNumber(setting.value, 4)} {setting.unit}{' '}
                      <Button
                        size="compact-xs"
                        variant="default"
                        aria-label={`${curve.device.name}, ${curve.fn.code}: one step faster`}
                        onClick={() => step(curve, -1)}
                      >
                        −
                      </Button>{' '}
                      <Button
                        size="compact-xs"
                        variant="default"
                        aria-label={`${curve.device.name}, ${curve.fn.code}: one step slower`}
                        onClick={() => step(curve, 1)}
                      >
                        +
                      </Button>
                    </>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className={bench.muted}>
        The dot is what the device sees at this moment. Drag a curve up or down: the trial is played anew as it moves.
      </p>
    </div>
  );
}

/** Distance of a place from a stretch. */
function toSegment(at: { x: number; y: number }, p: { x: number; y: number }, q: { x: number; y: number }): number {
  const [dx, dy] = [q.x - p.x, q.y - p.y];
  const length = dx * dx + dy * dy;
  const along = length === 0 ? 0 : Math.max(0, Math.min(1, ((at.x - p.x) * dx + (at.y - p.y) * dy) / length));
  return Math.hypot(at.x - p.x - along * dx, at.y - p.y - along * dy);
}
