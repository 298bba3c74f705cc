'use client';

import { useState } from 'react';
import { Button, Select } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { totalCurrent } from '@mesura/core/direct/currents';
import { approximated } from '@mesura/core/direct/iec61660';
import { longestFaultS, type DirectResult, type DirectRow } from '@mesura/core/direct/study';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import type { Section } from '@mesura/core/working/trace';
import { WorkingView } from '../../card/WorkingView';
import { Marks } from '../../plots/Marks';
import { profileScene } from '../../plots/profile';
import type { Paper } from '../../plots/scene';
import { extentFromNought } from '../../plots/ticks';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { setDirect, useDirectState } from './state';
import bench from '../../card/bench.module.css';
import plots from '../../plots/plots.module.css';
import { PictureLine } from '../../card/PictureMenu';

/** One place in one condition: what each source gives, the sum over time, what opens when, how it was found. */
export function DirectCard({ row, isCurrent }: { row: DirectRow; isCurrent: boolean }) {
  const network = useProject((state) => state.network);
  const { condition } = useDirectState();
  const [shown, setShown] = useState(false);
  const result = row.results.find((each) => each.condition === condition) ?? row.largest;
  const name = nameIn(network, row.element);
  if (!result) return <p className={bench.muted}>Nothing feeds a fault at {name}.</p>;
  const { fault, course } = result;
  return (
    <section aria-label={`Short circuit at ${name}`} className={isCurrent ? undefined : bench.stale}>
      <div className={bench.head} style={{ marginTop: 10 }}>
        <h3 className={bench.subtitle}>Short circuit at {name}</h3>
        <span className={bench.spacer} />
        <Select
          size="xs"
          w={190}
          aria-label="Condition of the short circuit"
          allowDeselect={false}
          value={result.condition}
          data={row.results.map((each) => ({
            value: each.condition,
            label: conditionOf(network, each.condition)?.name ?? each.condition,
          }))}
          onChange={(next) => setDirect({ condition: next as ElementId })}
        />
      </div>
      <p style={{ margin: '0 0 4px' }}>
        <strong>
          i<sub>p</sub> {formatNumber(fault.peakA, 4)} A
        </strong>{' '}
        after {formatNumber(1000 * fault.peakS, 3)} ms, quasi steady {formatNumber(fault.steadyA, 4)} A. By the
        resistances of the whole network at once: {formatNumber(fault.circuitA, 4)} A.
      </p>
      <table className={`${bench.table} figures`} aria-label="Sources of the short circuit">
        <thead>
          <tr>
            <th>Source</th>
            <th className="number" title="Resistance of the way to the fault">
              Rway mΩ
            </th>
            <th className="number" title="Alone">
              ip A
            </th>
            <th className="number">tp ms</th>
            <th className="number" title="Alone">
              Ik A
            </th>
            <th className="number" title="Share that remains where ways are shared">
              σ
            </th>
            <th className="number">σ·Ik A</th>
          </tr>
        </thead>
        <tbody>
          {fault.partials.map(({ element, pathOhm, alone, factor }) => (
            <tr key={element}>
              <td>{nameIn(network, element)}</td>
              <td className="number">{pathOhm < 1e-6 ? 0 : formatNumber(1000 * pathOhm, 4)}</td>
              <td className="number">{formatNumber(alone.peakA, 4)}</td>
              <td className="number">{alone.peakS < 1e-5 ? 0 : formatNumber(1000 * alone.peakS, 3)}</td>
              <td className="number">{formatNumber(alone.steadyA, 4)}</td>
              <td className="number">{formatNumber(factor, 3)}</td>
              <td className="number">{formatNumber(factor * alone.steadyA, 4)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <CourseChart name={name} result={result} />
      <p className={bench.muted} style={{ margin: '4px 0' }}>
        {course.openings.length === 0 ? 'Nothing opens' : 'Opens: '}
        {course.openings
          .map(
            ({ device, code, openedS, currentA }) =>
              `${nameIn(network, device)}, ${code}, after ${formatNumber(openedS, 3)} s at ${formatNumber(currentA, 4)} A`,
          )
          .join('; ')}
        {course.limited
          ? `; still ${formatNumber(course.stages.at(-1)?.amperes ?? 0, 4)} A after ${longestFaultS} s.`
          : `; nothing feeds the fault any more after ${formatNumber(course.burnsS, 3)} s.`}
      </p>
      <Button size="compact-xs" variant="subtle" onClick={() => setShown(!shown)}>
        {shown ? 'Hide the working' : 'Show the working'}
      </Button>
      {shown && <Working element={row.element} condition={result.condition} />}
    </section>
  );
}

const sheet = { height: 190, margin: { top: 10, right: 14, bottom: 42, left: 56 }, text: 11 } satisfies Partial<Paper>;

/** Standard approximation of the current over time: each source as it remains, and the sum. */
function CourseChart({ name, result: { fault } }: { name: string; result: DirectResult }) {
  const network = useProject((state) => state.network);
  const { ref, width } = useElementSize();
  const paper: Paper = { ...sheet, width: Math.max(width, 320) };
  const untilS = Math.max(0.06, 4 * Math.max(...fault.partials.map(({ alone }) => alone.peakS)));
  const times = Array.from({ length: 241 }, (_, k) => (k / 240) * untilS);
  const line = (label: string, of: (t: number) => number, style: number) => ({
    label,
    style,
    points: times.map((t) => ({ x: 1000 * t, y: of(t) })),
  });
  const lines = [
    line('sum', totalCurrent(fault), 0),
    ...(fault.partials.length > 1
      ? fault.partials.map(({ element, factor, alone }, k) => {
          const own = approximated(alone);
          return line(nameIn(network, element), (t) => factor * own(t), k + 1);
        })
      : []),
  ];
  const { scene } = profileScene(
    {
      lines,
      x: { extent: { from: 0, to: 1000 * untilS }, label: String },
      y: {
        extent: extentFromNought(
          lines[0].points.map(({ y }) => y),
          { from: 0, to: 1 },
        ),
        label: (value) => `${value} A`,
      },
      caption: 'ms after the short circuit',
    },
    paper,
  );
  return (
    <div ref={ref}>
      <svg
        className={plots.plot}
        height={paper.height}
        viewBox={`0 0 ${paper.width} ${paper.height}`}
        role="img"
        aria-label="Short-circuit current over time"
      >
        <Marks scene={scene} />
      </svg>
      <PictureLine name={`Direct current at ${name}`} scene={scene} />
    </div>
  );
}

function Working({ element, condition }: { element: ElementId; condition: ElementId }) {
  const network = useProject((state) => state.network);
  const { value } = useCore<readonly Section[]>(`d.c. working ${element} ${condition}`, (service) =>
    service.directWorking(element, condition),
  );
  if (!value) return null;
  return (
    <WorkingView
      working={{
        title: `${nameIn(network, element)}, ${conditionOf(network, condition)?.name ?? ''}`,
        sections: value,
        omitted: 0,
      }}
    />
  );
}
