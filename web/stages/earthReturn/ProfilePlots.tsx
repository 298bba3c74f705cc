'use client';

import { useMemo, useState } from 'react';
import { Button, SegmentedControl, Select } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { formatNumber } from '@mesura/core/fields/quantity';
import { settingsOf } from '@mesura/core/model/network';
import type { EarthDetail, EarthProfile } from '@mesura/core/earthReturn/study';
import { Marks } from '../../plots/Marks';
import { profileScene, type PlottedLine } from '../../plots/profile';
import type { Mark, Paper } from '../../plots/scene';
import { extentFromNought } from '../../plots/ticks';
import { useProject } from '../../project/ProjectContext';
import { setEarth, useEarthState, type Plotted } from './state';
import bench from '../../card/bench.module.css';
import plots from '../../plots/plots.module.css';
import { PictureLine } from '../../card/PictureMenu';

const plottedTitles: Readonly<Record<Plotted, string>> = {
  volts: 'Potentials',
  towerA: 'Tower currents',
  wireA: 'Wire currents',
};
const units: Readonly<Record<Plotted, string>> = { volts: 'V', towerA: 'A', wireA: 'A' };
const sheet = { height: 250, margin: { top: 12, right: 14, bottom: 42, left: 58 }, text: 11 } satisfies Partial<Paper>;
/** Of what is held, one after the other. */
const keptDashes = ['6 4', '2 3', '9 3 2 3'];
const kmPerMile = 1.609344;

interface Side {
  readonly profile: EarthProfile;
  /** To the left the other way round, through the station. */
  readonly sign: 1 | -1;
}

interface Series {
  readonly label: string;
  readonly points: readonly { readonly x: number; readonly y: number }[];
}

/** What is drawn of a profile; wire currents stand in the middle of their spans. */
function seriesOf(
  { profile, sign }: Side,
  shown: Plotted,
  place: (profile: EarthProfile, position: number) => number,
  both: boolean,
): Series[] {
  const at = (position: number) => sign * place(profile, position);
  const suffix = both ? `, ${profile.name}` : '';
  if (shown === 'wireA')
    return profile.wires.map(({ name, ampere }) => ({
      label: `${name}${suffix}`,
      points: ampere.flatMap((y, k) => (y === null ? [] : [{ x: (at(k) + at(k + 1)) / 2, y }])),
    }));
  const values = shown === 'volts' ? profile.volts : profile.towerA;
  return [
    {
      label: both ? profile.name : shown === 'volts' ? 'potential' : 'into earth',
      points: values.flatMap((y, k) => (y === null ? [] : [{ x: at(k), y }])),
    },
  ];
}

/** Along one line, or along two through the station; others that are held lie beside, dashed. */
export function ProfilePlots({ detail, label }: { detail: EarthDetail; label: string }) {
  const { shown, over, right, left, held } = useEarthState();
  const { units: lengths, limitV } = useProject((state) => settingsOf(state.network).earthReturn);
  const { ref, width } = useElementSize();
  const paper: Paper = { ...sheet, width: Math.max(width, 320) };
  const [zoom, setZoom] = useState<{ from: number; to: number } | null>(null);
  const [drag, setDrag] = useState<{ from: number; to: number } | null>(null);
  const [cursor, setCursor] = useState<number | null>(null);
  const perUnit = lengths === 'imperial' ? kmPerMile : 1;
  const place = (profile: EarthProfile, position: number): number =>
    over === 'tower' ? position : profile.km[position] / perUnit;
  const near = detail.profiles.filter(({ from }) => from === detail.hub);
  const first =
    detail.profiles.find(({ line }) => line === (right ?? detail.fault?.line)) ??
    near.find(({ wires }) => wires.length > 0) ??
    detail.profiles[0];
  const second = near.find(({ line }) => line === left && line !== first?.line);
  const plot = useMemo(() => {
    if (!first) return null;
    const sides: Side[] = [...(second ? [{ profile: second, sign: -1 } as const] : []), { profile: first, sign: 1 }];
    const own = sides.flatMap((side) => seriesOf(side, shown, place, sides.length > 1));
    const kept = held.flatMap(({ label: of, profiles }) =>
      sides.flatMap(({ profile, sign }) => {
        const same = profiles.find(({ line }) => line === profile.line);
        return same
          ? seriesOf({ profile: same, sign }, shown, place, sides.length > 1).map((series) => ({
              label: `${of}: ${series.label}`,
              points: series.points,
              of: series.label,
            }))
          : [];
      }),
    );
    const from = second ? -place(second, second.km.length - 1) : 0;
    const to = place(first, first.km.length - 1);
    return { own, kept, whole: { from, to } };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- place is made of over and perUnit
  }, [first, second, shown, over, perUnit, held]);
  if (!first || !plot) return null;
  const extent = zoom ?? plot.whole;
  const lines: PlottedLine[] = [
    ...plot.own.map(({ label: name, points }, k) => ({
      label: name,
      points,
      style: k,
      isQuiet: plot.own.length === 1,
    })),
    ...plot.kept.map(({ label: name, points, of }, k) => ({
      label: name,
      points,
      // In the colour of what it is held against.
      style: Math.max(
        0,
        plot.own.findIndex(({ label: own }) => own === of),
      ),
      dash: keptDashes[Math.floor(k / plot.own.length) % keptDashes.length],
      isQuiet: true,
    })),
  ];
  const inside = lines.flatMap(({ points }) =>
    points.filter(({ x }) => x >= extent.from && x <= extent.to).map(({ y }) => y),
  );
  const { touch } = detail.figures;
  const thresholds =
    shown === 'volts'
      ? [
          { y: touch.metV, label: `${formatNumber(touch.metV, 3)} V: nothing more to be shown` },
          ...(limitV === null ? [] : [{ y: limitV, label: `own limit ${formatNumber(limitV, 3)} V` }]),
        ]
      : [];
  const most = Math.max(...inside, 1e-6);
  // A threshold far above all values would flatten them.
  const seen = thresholds.filter(({ y }) => y < 2.5 * most);
  const { x, y, scene } = profileScene(
    {
      lines,
      x: { extent, label: (value) => String(Math.abs(Number(value.toPrecision(5)))) },
      y: {
        extent: extentFromNought([...inside, ...seen.map((each) => 1.05 * each.y)], { from: 0, to: 1 }),
        label: (value) => `${Number(value.toPrecision(4))} ${units[shown]}`,
      },
      caption: caption(detail, first, second, over === 'tower' ? 'tower' : lengths === 'imperial' ? 'mi' : 'km'),
      ...(cursor !== null && { at: cursor }),
    },
    paper,
  );
  const [leftEdge, rightEdge] = [x.at(extent.from), x.at(extent.to)];
  const extra: Mark[] = [
    ...seen.flatMap((each): Mark[] => [
      {
        kind: 'line',
        points: [
          { x: leftEdge, y: y.at(each.y) },
          { x: rightEdge, y: y.at(each.y) },
        ],
        ink: 'fail',
        width: 1,
        dash: '6 3',
      },
      { kind: 'text', at: { x: leftEdge + 6, y: y.at(each.y) - 4 }, text: each.label, size: 10.5, ink: 'fail' },
    ]),
    ...(drag
      ? [
          {
            kind: 'area',
            points: [
              { x: x.at(drag.from), y: paper.margin.top },
              { x: x.at(drag.to), y: paper.margin.top },
              { x: x.at(drag.to), y: paper.height - paper.margin.bottom },
              { x: x.at(drag.from), y: paper.height - paper.margin.bottom },
            ],
            ink: 'accent',
            opacity: 0.15,
          } satisfies Mark,
        ]
      : []),
  ];
  const valueAt = (event: React.PointerEvent<SVGSVGElement>): number => {
    const box = event.currentTarget.getBoundingClientRect();
    const value = x.valueAt(((event.clientX - box.left) / box.width) * paper.width);
    return Math.min(extent.to, Math.max(extent.from, value));
  };
  const step = (extent.to - extent.from) / 50;
  return (
    <>
      <div className={bench.head} style={{ marginTop: 8 }}>
        <SegmentedControl
          size="xs"
          aria-label="Plotted"
          value={shown}
          onChange={(next) => setEarth({ shown: next as Plotted })}
          data={Object.entries(plottedTitles).map(([value, title]) => ({ value, label: title }))}
        />
        <Select
          size="xs"
          w={150}
          aria-label="Line to the right"
          allowDeselect={false}
          value={first.line}
          data={detail.profiles.map(({ line, name }) => ({ value: line, label: name }))}
          onChange={(next) => {
            setZoom(null);
            setEarth({ right: next });
          }}
        />
        <Select
          size="xs"
          w={150}
          aria-label="Line to the left, through the station"
          placeholder="and through to …"
          clearable
          value={second?.line ?? null}
          data={near.filter(({ line }) => line !== first.line).map(({ line, name }) => ({ value: line, label: name }))}
          onChange={(next) => {
            setZoom(null);
            setEarth({ left: next });
          }}
        />
        <SegmentedControl
          size="xs"
          aria-label="Over"
          value={over}
          onChange={(next) => {
            setZoom(null);
            setEarth({ over: next as 'km' | 'tower' });
          }}
          data={[
            { value: 'km', label: lengths === 'imperial' ? 'mi' : 'km' },
            { value: 'tower', label: 'towers' },
          ]}
        />
        <Button
          size="compact-xs"
          variant="subtle"
          onClick={() =>
            setEarth({ held: [...held.slice(-4), { label: `${held.length + 1} ${label}`, profiles: detail.profiles }] })
          }
        >
          Hold
        </Button>
        {held.length > 0 && (
          <Button size="compact-xs" variant="subtle" onClick={() => setEarth({ held: [] })}>
            Let go
          </Button>
        )}
        {zoom && (
          <Button size="compact-xs" variant="subtle" onClick={() => setZoom(null)}>
            Whole line
          </Button>
        )}
      </div>
      <div ref={ref}>
        <svg
          className={plots.plot}
          height={paper.height}
          viewBox={`0 0 ${paper.width} ${paper.height}`}
          role="img"
          tabIndex={0}
          style={{ cursor: 'crosshair', touchAction: 'none' }}
          aria-label={`${plottedTitles[shown]} along ${first.name}${second ? ` and ${second.name}` : ''}`}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            const at = valueAt(event);
            setDrag({ from: at, to: at });
          }}
          onPointerMove={(event) => {
            const at = valueAt(event);
            setCursor(at);
            if (drag) setDrag({ ...drag, to: at });
          }}
          onPointerUp={() => {
            if (drag && Math.abs(drag.to - drag.from) > step)
              setZoom({ from: Math.min(drag.from, drag.to), to: Math.max(drag.from, drag.to) });
            setDrag(null);
          }}
          onPointerLeave={() => !drag && setCursor(null)}
          onDoubleClick={() => setZoom(null)}
          onKeyDown={(event) => {
            const move = { ArrowLeft: -step, ArrowRight: step }[event.key];
            if (move) {
              event.preventDefault();
              setCursor(Math.min(extent.to, Math.max(extent.from, (cursor ?? extent.from) + move)));
            }
            if (event.key === 'Escape') setZoom(null);
          }}
        >
          <Marks scene={scene} />
          <Marks scene={{ paper, marks: extra }} />
        </svg>
        <PictureLine
          name={`${plottedTitles[shown]} along ${first.name}`}
          scene={{ paper, marks: [...scene.marks, ...extra] }}
        />
      </div>
      <p
        className={bench.muted}
        role="status"
        aria-label="Values at the pointer"
        style={{ margin: '2px 0', minHeight: 18 }}
      >
        {cursor === null
          ? 'Drag across to enlarge a part; point, or use the arrow keys, to read values.'
          : readOut(lines, cursor, units[shown], over === 'tower' ? 'tower' : lengths === 'imperial' ? 'mi' : 'km')}
      </p>
    </>
  );
}

function caption(detail: EarthDetail, first: EarthProfile, second: EarthProfile | undefined, unit: string): string {
  const { names } = detail;
  return second
    ? `${unit}: ${names[second.to]} – ${names[detail.hub]} – ${names[first.to]}`
    : `${unit} from ${names[first.from]} to ${names[first.to]}`;
}

/** The nearest point of every line. */
function readOut(lines: readonly PlottedLine[], at: number, unit: string, of: string): string {
  const values = lines.flatMap(({ label, points }) => {
    const [start, end] = [points.at(0), points.at(-1)];
    if (!start || !end) return [];
    // A line that goes the other way says nothing here.
    const reach = 1.01 * Math.max(Math.abs(start.x), Math.abs(end.x));
    if (at < Math.min(start.x, end.x) - 0.02 * reach || at > Math.max(start.x, end.x) + 0.02 * reach) return [];
    const nearest = points.reduce((p, q) => (Math.abs(q.x - at) < Math.abs(p.x - at) ? q : p));
    return [`${label} ${formatNumber(nearest.y, 4)} ${unit}`];
  });
  return `${of} ${formatNumber(Math.abs(at), 3)}: ${values.join(', ')}`;
}
