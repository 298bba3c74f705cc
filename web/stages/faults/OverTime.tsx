'use client';

import { useState } from 'react';
import { Button, Checkbox, Menu, NumberInput, RangeSlider } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { IconDownload } from '@tabler/icons-react';
import type { Course } from '@mesura/core/faults/course/course';
import { comtrade } from '@mesura/core/formats/comtrade/write';
import { csv } from '@mesura/core/formats/tables/csv';
import type { FaultRow, PlaceQuery } from '@mesura/core/studies/engine';
import { formatNumber } from '@mesura/core/fields/quantity';
import { Marks } from '../../plots/Marks';
import { courseScene } from '../../plots/course';
import { frameOf, type Paper } from '../../plots/scene';
import { saveText } from '../../card/saveText';
import { useCore } from '../../workers/useCore';
import { useProject } from '../../project/ProjectContext';
import { useQueries } from './queries';
import bench from '../../card/bench.module.css';
import plots from '../../plots/plots.module.css';
import { PictureItems } from '../../card/PictureMenu';

const sheet = {
  height: 260,
  margin: { top: 12, right: 14, bottom: 42, left: 52 },
  text: 11,
} satisfies Partial<Paper>;

const samples = 4000;

/** The currents of the fault as an oscillograph would show them: phases, envelope, d.c. component, marks. */
export function OverTime({ place, row }: { place: PlaceQuery; row: FaultRow }) {
  const queries = useQueries();
  const name = useProject((state) => state.name);
  const [closingDeg, setClosing] = useState(0);
  const [partingMs, setParting] = useState(70);
  const [clearingMs, setClearing] = useState(120);
  const [phases, setPhases] = useState<readonly string[]>(['L1', 'L2', 'L3']);
  const [window, setWindow] = useState<[number, number] | null>(null);
  const [at, setAt] = useState<number | null>(null);
  const { ref, width } = useElementSize();
  const untilS = Math.max(clearingMs * 1.25, 60) / 1000;
  const options = { closingDeg, untilS, partingS: partingMs / 1000, clearingS: clearingMs / 1000, samples };
  const answer = useCore(
    `course ${JSON.stringify([place, queries, options])}`,
    async (service) => await service.course(queries.study, queries.fault, place, options),
  );
  if (!answer.value) return null;
  if (!answer.value.ok)
    return <p className={bench.muted}>{answer.value.problems.map(({ message }) => message).join('; ')}</p>;
  const { course } = answer.value;
  const shown = course.phases.filter(({ phase }) => phases.includes(phase));
  const untilMs = 1000 * untilS;
  const [fromMs, toMs] = window && window[1] <= untilMs ? window : [0, untilMs];
  const paper: Paper = { ...sheet, width: Math.max(width, 320) };
  const { x, scene } = courseScene({ course, phases, fromMs, toMs, atMs: at }, paper);
  const frame = frameOf(paper);
  const hover = (event: { clientX: number; currentTarget: Element }) => {
    const across = event.clientX - event.currentTarget.getBoundingClientRect().left;
    setAt(x.valueAt(Math.min(Math.max(across, frame.left), frame.right)));
  };
  const sampleAt = (ms: number) => Math.min(Math.round((ms / untilMs) * (samples - 1)), samples - 1);
  const title = `${row.name} over time`;
  return (
    <div>
      <div className={bench.head}>
        <NumberInput
          size="xs"
          w={118}
          label="Voltage angle °"
          min={-180}
          max={180}
          value={closingDeg}
          onChange={(value) => setClosing(Number(value) || 0)}
          title="Phase of the voltage of L1 when the fault begins; nought gives L1 the largest offset"
        />
        <NumberInput
          size="xs"
          w={118}
          label="Contacts part ms"
          min={1}
          max={1000}
          value={partingMs}
          onChange={(value) => Number(value) > 0 && setParting(Number(value))}
        />
        <NumberInput
          size="xs"
          w={118}
          label="Cleared ms"
          min={10}
          max={5000}
          value={clearingMs}
          onChange={(value) => Number(value) >= 10 && setClearing(Number(value))}
        />
        <Checkbox.Group value={[...phases]} onChange={setPhases}>
          <span className={bench.head} style={{ margin: 0, alignSelf: 'end' }}>
            {['L1', 'L2', 'L3'].map((phase) => (
              <Checkbox key={phase} size="xs" value={phase} label={phase} />
            ))}
          </span>
        </Checkbox.Group>
        <span className={bench.spacer} />
        <Menu withinPortal position="bottom-end">
          <Menu.Target>
            <Button size="compact-xs" variant="default" leftSection={<IconDownload size={13} />}>
              Save
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            <PictureItems name={title} scene={scene} />
            <Menu.Item onClick={() => saveText(`${title}.csv`, csv(cellsOf(course)))}>CSV</Menu.Item>
            <Menu.Item onClick={() => saveRecord(title, name, row.name, course)}>COMTRADE (two files)</Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </div>
      <div ref={ref} className={answer.isCurrent ? undefined : bench.stale}>
        <svg
          className={plots.plot}
          height={paper.height}
          viewBox={`0 0 ${paper.width} ${paper.height}`}
          role="slider"
          tabIndex={0}
          aria-label="Read-out of the currents, milliseconds after the fault"
          aria-valuemin={Math.round(fromMs)}
          aria-valuemax={Math.round(toMs)}
          aria-valuenow={Math.round(at ?? fromMs)}
          onPointerMove={hover}
          onPointerLeave={() => setAt(null)}
          onKeyDown={(event) => {
            const step = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10 }[event.key];
            if (step === undefined) return;
            event.preventDefault();
            setAt(Math.min(Math.max((at ?? fromMs) + step, fromMs), toMs));
          }}
        >
          <Marks scene={scene} />
        </svg>
      </div>
      <RangeSlider
        size="xs"
        min={0}
        max={untilMs}
        step={1}
        minRange={10}
        label={(value) => `${Math.round(value)} ms`}
        value={[fromMs, toMs]}
        onChange={setWindow}
        thumbFromLabel="Shown from"
        thumbToLabel="Shown to"
        mb={6}
      />
      <p className={`${bench.muted} figure`} style={{ whiteSpace: 'normal', margin: '0 0 6px' }} aria-live="off">
        {at === null
          ? 'The pointer, or the arrow keys, read the currents at an instant.'
          : `${formatNumber(at, 4)} ms: ${shown.map(({ phase, current, dc }) => `${phase} ${formatNumber(current[sampleAt(at)])} kA (d.c. ${formatNumber(dc[sampleAt(at)])} kA)`).join(' · ')}`}
      </p>
      <Instants course={course} />
    </div>
  );
}

function Instants({ course }: { course: Course }) {
  const fell = course.sources.filter(({ by }) => by !== 'does not fall');
  return (
    <>
      <table className={`${bench.table} figures`} aria-label="Peak and contact parting">
        <thead>
          <tr>
            <th>Phase</th>
            <th className="number">Peak kA</th>
            <th className="number">at ms</th>
            <th className="number">a.c. at parting kA</th>
            <th className="number">d.c. kA</th>
            <th className="number">d.c. %</th>
            <th className="number">total rms kA</th>
          </tr>
        </thead>
        <tbody>
          {course.phases.map(({ phase, peak, parting }) => (
            <tr key={phase}>
              <td>{phase}</td>
              <td className="number">{formatNumber(peak.value)}</td>
              <td className="number">{formatNumber(1000 * peak.t)}</td>
              <td className="number">{formatNumber(parting.acKa)}</td>
              <td className="number">{formatNumber(parting.dcKa)}</td>
              <td className="number">{formatNumber(parting.dcPercent, 3)}</td>
              <td className="number">{formatNumber(parting.totalKa)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className={bench.muted} style={{ margin: '6px 0 0' }}>
        Time constant of the d.c. component {formatNumber(1000 * course.tauS)} ms, from R/X of the equivalent frequency;
        ip by IEC 60909-0 {formatNumber(course.ipKa)} kA.{' '}
        {fell.length > 0
          ? `Falling: ${fell.map(({ name, by }) => `${name} (${by})`).join(', ')}.`
          : 'The a.c. component does not fall.'}
      </p>
    </>
  );
}

const cellsOf = ({ timeS, phases }: Course): (string | number)[][] => [
  ['t s', ...phases.flatMap(({ phase }) => [`i ${phase} kA`, `d.c. ${phase} kA`])],
  ...timeS.map((t, k) => [
    Number(t.toPrecision(7)),
    ...phases.flatMap(({ current, dc }) => [Number(current[k].toPrecision(7)), Number(dc[k].toPrecision(7))]),
  ]),
];

/** Evenly sampled, in amperes. */
function saveRecord(title: string, station: string, device: string, { timeS, phases, frequencyHz }: Course): void {
  const rateHz = Math.round((timeS.length - 1) / timeS[timeS.length - 1]);
  const { cfg, dat } = comtrade({
    station,
    device,
    frequencyHz,
    rateHz,
    triggerSample: 0,
    channels: phases.map(({ phase, current }, k) => ({
      name: `I ${phase}`,
      phase: 'ABC'[k],
      unit: 'A',
      values: current.map((kA) => 1000 * kA),
    })),
  });
  saveText(`${title}.cfg`, cfg, 'text/plain');
  saveText(`${title}.dat`, dat, 'text/plain');
}
