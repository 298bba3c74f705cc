'use client';

import { useState } from 'react';
import { Button, Checkbox } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { shortKindTitles } from '@mesura/core/faults/kinds';
import { formatNumber } from '@mesura/core/fields/quantity';
import { placeIn } from '@mesura/core/faults/names';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import type { PlanePoint } from '@mesura/core/differential/plane';
import type { DifferentialRow } from '@mesura/core/differential/summary';
import { deviceFrom, deviceOf, withFunction } from '@mesura/core/protection/device';
import { characteristicOf } from '@mesura/core/protection/differential/measured';
import { thresholdAt } from '@mesura/core/protection/differential/characteristic';
import type { DifferentialFunction } from '@mesura/core/protection/differential/schema';
import { familyOf } from '@mesura/core/protection/registry';
import { snap } from '@mesura/core/protection/settings/range';
import { report } from '../../desk/report';
import { Marks } from '../../plots/Marks';
import { acrossOf, border, caption, gridOf, linearAxis, upOf, type Mark, type Paper } from '../../plots/scene';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { useKept } from '../../workers/useKept';
import type { PlaneAnswer } from '../../workers/coreService';
import { stepBy } from '../grading/dragging';
import { setDifferential, useDifferentialState } from './state';
import plots from '../../plots/plots.module.css';
import bench from '../../card/bench.module.css';
import { PictureLine } from '../../card/PictureMenu';

/** What is held: the level of the pickup, the knee with the first slope, the second slope far out. */
type Handle = 'pickup' | 'knee' | 'far';

const handleTitles: Readonly<Record<Handle, string>> = {
  pickup: 'Pickup',
  knee: 'Knee and first slope',
  far: 'Second slope',
};

/** Operating over restraining current: characteristic, faults inside and outside, cores that saturate. */
export function PlaneView({ row }: { row: DifferentialRow }) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const { tried, saturation } = useDifferentialState();
  const { ref, width } = useElementSize();
  const [held, setHeld] = useState<Handle | null>(null);
  const [looked, setLooked] = useState<string | null>(null);
  const device = tried ? deviceFrom(network, tried) : deviceOf(network, row.device);
  const fn = device?.functions.find(
    (each): each is DifferentialFunction => each.id === row.fn && each.family === 'differential',
  );
  const { value, isCurrent } = useKept(
    useCore<PlaneAnswer | null>(
      `differential plane ${row.device} ${row.fn} ${JSON.stringify(tried?.functions ?? null)}`,
      (service, ticket, onProgress) => service.differentialPlane(row.device, row.fn, tried, ticket, onProgress),
    ),
  );
  if (!device || !fn) return null;
  const name = (id: ElementId) => nameIn(network, id);
  const settings = familyOf(fn)
    .settings(fn)
    .filter(({ more }) => !more);
  const step = (field: string, steps: number) => {
    const setting = settings.find((each) => each.field === field)!;
    report(
      commit(
        [{ op: 'update', element: stepBy(device, fn, setting, steps) }],
        `${device.name}: ${setting.title.toLowerCase()}`,
      ),
    );
  };
  const points = value?.study.points ?? [];
  const c = characteristicOf(fn);
  const shown = points.flatMap((point) =>
    point.points.filter(({ element }) => element === 'phase').map((each) => ({ point, each })),
  );
  const most = Math.max(
    3 * c.knee,
    2 * c.pickup,
    ...shown.filter(({ point }) => point.where !== 'inside').map(({ each }) => each.restraining),
  );
  const toRes = Math.min(Math.max(6, 1.15 * most), 40);
  const toOp = Math.max(1.3 * thresholdAt(c, toRes), 3 * c.pickup);
  const paper: Paper = {
    width: Math.max(width, 320),
    height: 360,
    margin: { top: 12, right: 14, bottom: 34, left: 46 },
    text: 11,
  };
  const plain = (each: number) => String(Number(each.toPrecision(3)));
  const x = linearAxis({ extent: { from: 0, to: toRes }, label: plain }, acrossOf(paper));
  const y = linearAxis({ extent: { from: 0, to: toOp }, label: plain }, upOf(paper));
  const start = c.slope1 > 0 ? Math.min(c.pickup / c.slope1, c.knee) : c.knee;
  const far = 0.9 * toRes;
  const at = (res: number, op: number) => ({ x: x.at(res), y: y.at(op) });
  const steps = Array.from({ length: 121 }, (_, k) => (k / 120) * toRes);
  const curve = [...new Set([...steps, start, c.knee])]
    .sort((p, q) => p - q)
    .map((res) => at(res, thresholdAt(c, res)));
  const handles: readonly { readonly of: Handle; readonly x: number; readonly y: number }[] =
    fn.scheme === 'highImpedance'
      ? []
      : [
          { of: 'pickup', ...at(0, c.pickup) },
          { of: 'knee', ...at(c.knee, thresholdAt(c, c.knee)) },
          { of: 'far', ...at(far, thresholdAt(c, far)) },
        ];
  const track = saturation
    ? (value?.stability ?? []).map((each) => each.track.map(({ operating, restraining }) => at(restraining, operating)))
    : [];
  const marks: Mark[] = [
    ...gridOf(paper, x, y),
    { kind: 'area', points: [...curve, at(toRes, toOp), at(0, toOp)], ink: 'fail', opacity: 0.07, clipped: true },
    { kind: 'line', points: curve, ink: 'ink', width: 2, clipped: true, of: 'characteristic' },
    ...(fn.unrestrained !== null
      ? [
          {
            kind: 'line' as const,
            points: [at(0, fn.unrestrained), at(toRes, fn.unrestrained)],
            ink: 'ink' as const,
            width: 1.2,
            dash: '5 3',
            clipped: true,
          },
        ]
      : []),
    ...track.map((path): Mark => ({ kind: 'line', points: path, ink: 1, width: 1.5, dash: '3 2', clipped: true })),
    border(paper),
    caption(paper, 'restraining current, × base'),
  ];
  const told = ({ place, kind, condition, faultA, multiple, leastA, where, tap }: PlanePoint) =>
    `${where === 'inside' ? 'Inside' : where === 'tapped' ? 'Behind the tap' : 'Outside'}: ${shortKindTitles[kind]} at ${placeIn(network, place)}, ${formatNumber(faultA / 1000, 3)} kA (${conditionOf(network, condition)?.name ?? ''}${tap === null ? '' : `, tap ${tap > 0 ? '+' : ''}${tap} %`}): ${formatNumber(multiple, 3)} × threshold${
      leastA !== null ? `, seen from ${formatNumber(leastA, 3)} A on` : ''
    }`;
  const moved = (event: React.PointerEvent<SVGSVGElement>): DifferentialFunction => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const res = Math.max(x.valueAt(event.clientX - left), 0.01);
    const op = Math.max(y.valueAt(event.clientY - top), 0.01);
    const { perUnit, slopePercent } = fn.ranges;
    if (held === 'pickup') return { ...fn, pickup: snap(perUnit, op) };
    if (held === 'knee')
      return { ...fn, knee: snap(perUnit, res), slope1Percent: snap(slopePercent, (100 * op) / res) };
    const above = op - c.slope1 * c.knee;
    return { ...fn, slope2Percent: snap(slopePercent, (100 * above) / Math.max(far - c.knee, 0.1)) };
  };
  const store = () => {
    setHeld(null);
    // The last move may not have been drawn yet.
    const last = useDifferentialState.getState().tried;
    if (!last) return;
    report(commit([{ op: 'update', element: last }], `${last.name}, ${row.code}: set in its plane`));
    setDifferential({ tried: null });
  };
  const { weakest, nearest } = value?.study ?? {};
  const worst = value?.stability.reduce<PlaneAnswer['stability'][number] | null>(
    (p, q) => (p && p.multiple >= q.multiple ? p : q),
    null,
  );
  /** What the screen draws over the plane, for a picture of it. */
  const inPrint = (): Mark[] => [
    {
      kind: 'text',
      at: { x: paper.margin.left + 8, y: paper.margin.top + 14 },
      text: 'operating current, × base',
      size: paper.text,
      ink: 'muted',
    },
    ...shown.flatMap(({ point, each }): Mark[] => {
      const p = at(Math.min(each.restraining, toRes), Math.min(each.operating, toOp));
      const off = (dx: number, dy: number) => ({ x: p.x + dx, y: p.y + dy });
      if (point.where === 'inside') return [{ kind: 'dot', at: p, radius: 3.2, ink: 'accent' }];
      if (point.where === 'tapped')
        return [{ kind: 'area', points: [off(-4, 3), off(4, 3), off(0, -4)], ink: 'fail', opacity: 1 }];
      return [4, -4].map((d) => ({ kind: 'line', points: [off(-4, -d), off(4, d)], ink: 'fail', width: 1.6 }));
    }),
  ];
  return (
    <div ref={ref} className={isCurrent ? undefined : bench.stale}>
      <svg
        className={plots.plot}
        height={paper.height}
        viewBox={`0 0 ${paper.width} ${paper.height}`}
        role="img"
        aria-label="Operating over restraining current"
        style={{ touchAction: 'none' }}
        onPointerMove={(event) => {
          if (held && event.buttons === 1) setDifferential({ tried: withFunction(device.element, moved(event)) });
        }}
        onPointerUp={store}
        onPointerCancel={() => {
          setHeld(null);
          setDifferential({ tried: null });
        }}
      >
        <Marks scene={{ paper, marks }} />
        <text x={paper.margin.left + 8} y={paper.margin.top + 14} fontSize={11} fill="var(--m-muted)">
          operating current, × base
        </text>
        {shown.map(({ point, each }, k) => {
          const p = at(Math.min(each.restraining, toRes), Math.min(each.operating, toOp));
          const isInside = point.where === 'inside';
          const key = `${k}`;
          return isInside ? (
            <circle
              key={key}
              cx={p.x}
              cy={p.y}
              r={3.2}
              fill="var(--m-accent)"
              onPointerEnter={() => setLooked(told(point))}
            >
              <title>{told(point)}</title>
            </circle>
          ) : (
            <path
              key={key}
              d={point.where === 'tapped' ? `M${p.x - 4},${p.y + 3}h8l-4,-7z` : `M${p.x - 4},${p.y - 4}l8,8m0,-8l-8,8`}
              stroke="var(--m-fail)"
              fill={point.where === 'tapped' ? 'var(--m-fail)' : 'none'}
              strokeWidth={1.6}
              onPointerEnter={() => setLooked(told(point))}
            >
              <title>{told(point)}</title>
            </path>
          );
        })}
        {handles.map(({ of, x: cx, y: cy }) => (
          <circle
            key={of}
            cx={cx}
            cy={cy}
            r={6}
            fill="var(--m-panel)"
            stroke="var(--m-ink)"
            strokeWidth={2}
            style={{ cursor: of === 'knee' ? 'move' : 'ns-resize' }}
            aria-label={handleTitles[of]}
            onPointerDown={(event) => {
              event.currentTarget.ownerSVGElement!.setPointerCapture(event.pointerId);
              setHeld(of);
            }}
          >
            <title>{handleTitles[of]}: drag</title>
          </circle>
        ))}
      </svg>
      <PictureLine
        name={`Differential plane of ${row.code}, ${device.name}`}
        scene={{ paper, marks: [...marks, ...inPrint()] }}
      />
      <p className={bench.muted} style={{ minHeight: 20 }}>
        {looked ??
          'Dots: faults inside, by phase; crosses: outside; triangles: behind a tap. Point at one to be told which.'}
      </p>
      <div className={bench.head}>
        <Checkbox
          size="xs"
          label="current transformers that saturate"
          checked={saturation}
          onChange={(event) => setDifferential({ saturation: event.currentTarget.checked })}
        />
        {worst && (
          <span className={bench.muted}>
            {worst.unknown.length > 0
              ? `taken as ideal, data missing: ${worst.unknown.map(name).join(', ')}`
              : `largest through-fault: ${formatNumber(worst.multiple < 1e-6 ? 0 : worst.multiple, 3)} × threshold${
                  worst.saturationS === null
                    ? ', no core saturates'
                    : `, first core saturates after ${formatNumber(1000 * worst.saturationS, 3)} ms`
                }; bears ${worst.bearsA === null ? 'none' : worst.bearsA === Infinity ? 'any fault here' : `${formatNumber(worst.bearsA / 1000, 3)} kA`}`}
          </span>
        )}
      </div>
      <p style={{ margin: '2px 0 6px' }}>
        {weakest && `Inside at least ${formatNumber(weakest.multiple, 3)} × threshold (${told(weakest)}). `}
        {nearest &&
          `Outside at most ${nearest.multiple < 0.0005 ? '0' : formatNumber(nearest.multiple, 3)} × threshold.`}
      </p>
      <table className={`${bench.table} figures`} aria-label="Settings">
        <tbody>
          {settings.map(({ field, title, value: of, unit }) => (
            <tr key={field}>
              <td>{title}</td>
              <td className="number">
                {formatNumber(of, 5)} {unit}
              </td>
              <td>
                <Button
                  size="compact-xs"
                  variant="default"
                  aria-label={`${title}: one step down`}
                  onClick={() => step(field, -1)}
                >
                  −
                </Button>{' '}
                <Button
                  size="compact-xs"
                  variant="default"
                  aria-label={`${title}: one step up`}
                  onClick={() => step(field, 1)}
                >
                  +
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
