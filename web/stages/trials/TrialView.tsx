'use client';

import { useEffect, useRef } from 'react';
import { ActionIcon, Button, SegmentedControl, Slider } from '@mantine/core';
import {
  IconPlayerPause,
  IconPlayerPlay,
  IconPlayerSkipBack,
  IconPlayerSkipForward,
  IconDeviceFloppy,
} from '@tabler/icons-react';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn, ofKind } from '@mesura/core/model/network';
import type { TrialAnswer } from '@mesura/core/trials/answer';
import { aboutOf, becauseText, eventText, verdictTitles } from '@mesura/core/trials/words';
import type { TrialEvent } from '@mesura/core/trials/event';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { report } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProject } from '../../project/ProjectContext';
import { OperatingCurves } from './OperatingCurves';
import { changeFaults, setTrials, useTrialsState, type TrialPicture } from './state';
import { Timeline } from './Timeline';
import { TrialFields, usePlaceText } from './TrialFields';
import { useTrialAnswer } from './useTrial';
import { Waves } from './Waves';
import bench from '../../card/bench.module.css';

const pictures: Readonly<Record<TrialPicture, string>> = {
  events: 'Events',
  timeline: 'Timeline',
  curves: 'Curves',
  waves: 'Waveforms',
};

/** A fault put by a click on the drawing, and what follows it. */
export function TrialView() {
  const { trial, picture, kept, adding } = useTrialsState();
  const { value, isCurrent } = useTrialAnswer();
  const placeText = usePlaceText();
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  if (!trial)
    return (
      <p className={bench.muted}>
        Click on a busbar, a line, a breaker or a current transformer on the drawing: the fault is put there. A second
        click on a line moves it towards its ends.
      </p>
    );
  const keep = () => {
    const before = ofKind(network, 'trial').find(({ id }) => id === kept);
    const id = before?.id ?? newId();
    const name = before?.name ?? nameFor(trial.faults.map(placeText).join(' and '), trial.faults[0].kind);
    const element = { ...trial, id, name };
    if (report(commit([{ op: before ? 'update' : 'add', element }], `Trial ${name}`)))
      setTrials({ trial: element, kept: id });
  };
  return (
    <>
      <div className={bench.head}>
        <h3 className={bench.title}>
          {trial.faults.map(placeText).join(' and ')}
          {kept && <span className={bench.kind}>{trial.name}</span>}
        </h3>
        <span className={bench.spacer} />
        {trial.faults.length > 1 ? (
          <Button size="compact-xs" variant="subtle" onClick={() => changeFaults(trial.faults.slice(0, 1))}>
            First fault alone
          </Button>
        ) : (
          <Button
            size="compact-xs"
            variant={adding ? 'light' : 'subtle'}
            aria-pressed={adding}
            onClick={() => setTrials({ adding: !adding })}
          >
            {adding ? 'Click where the second one is' : 'Second fault'}
          </Button>
        )}
        <Button size="compact-xs" variant="default" leftSection={<IconDeviceFloppy size={13} />} onClick={keep}>
          {kept ? 'Store changes' : 'Keep as a test'}
        </Button>
      </div>
      <TrialFields trial={trial} />
      {!value ? (
        <p className={bench.muted} role="status">
          Playing …
        </p>
      ) : !value.ok ? (
        value.problems.map(({ message }) => (
          <p key={message} className={bench.problem}>
            {message}
          </p>
        ))
      ) : (
        <div className={isCurrent ? undefined : bench.stale}>
          <VerdictLine answer={value.answer} />
          <Player answer={value.answer} />
          <SegmentedControl
            size="xs"
            mb={6}
            aria-label="Picture"
            value={picture}
            onChange={(next) => setTrials({ picture: next as TrialPicture })}
            data={Object.entries(pictures).map(([each, label]) => ({ value: each, label }))}
          />
          {picture === 'events' ? (
            <Events answer={value.answer} />
          ) : picture === 'timeline' ? (
            <Timeline answer={value.answer} />
          ) : picture === 'curves' ? (
            <OperatingCurves answer={value.answer} />
          ) : (
            <Waves answer={value.answer} />
          )}
        </div>
      )}
    </>
  );
}

const nameFor = (place: string, kind: string): string => `${kind} fault, ${place}`.slice(0, 120);

/** What came of it beside what ought to have come. */
export function VerdictLine({ answer: { judged, clearedS } }: { answer: TrialAnswer }) {
  const network = useProject((state) => state.network);
  const names = (ids: readonly ElementId[]) => ids.map((id) => nameIn(network, id)).join(', ');
  const { verdict, wanted, opened, extra, missing, lost, lostVa } = judged;
  const said = [
    clearedS !== null && `cleared after ${formatNumber(clearedS, 3)} s of ${formatNumber(wanted.withinS, 3)} s`,
    opened.length > 0 && `opened: ${names(opened)}`,
    extra.length > 0 && `without need: ${names(extra)}`,
    missing.length > 0 && `not opened: ${names(missing)}`,
    lost.length > 0 && `lost beyond need: ${formatNumber(lostVa / 1e6, 3)} MVA (${names(lost)})`,
    opened.length === 0 && wanted.opens.length > 0 && `wanted: ${names(wanted.opens)}`,
  ].filter(Boolean);
  return (
    <p style={{ margin: '4px 0' }}>
      <Chip
        state={verdict === 'selective' ? 'pass' : verdict === 'tooSlow' || verdict === 'tooMuchLost' ? 'warn' : 'fail'}
      >
        {verdictTitles[verdict]}
      </Chip>{' '}
      {said.join('; ')}
    </p>
  );
}

/** From event to event, or as it runs. */
function Player({ answer }: { answer: TrialAnswer }) {
  const { atS, playing } = useTrialsState();
  const endS = Math.max(answer.endS, 0.001);
  const times = [...new Set(answer.events.map((event) => event.atS))];
  const frame = useRef<number | null>(null);
  useEffect(() => {
    if (!playing) return;
    const [startedAt, fromS] = [performance.now(), useTrialsState.getState().atS];
    // Long waits are played faster: the whole takes eight seconds at most.
    const speed = Math.max(0.25, endS / 8);
    const step = (now: number) => {
      const next = fromS + ((now - startedAt) / 1000) * speed;
      setTrials(next >= endS ? { atS: endS, playing: false } : { atS: next });
      if (next < endS) frame.current = requestAnimationFrame(step);
    };
    frame.current = requestAnimationFrame(step);
    return () => {
      if (frame.current !== null) cancelAnimationFrame(frame.current);
    };
  }, [playing, endS]);
  const go = (to: number | undefined) => setTrials({ atS: to ?? atS, playing: false });
  return (
    <div className={bench.head}>
      <ActionIcon
        variant="default"
        size={26}
        aria-label="One event back"
        onClick={() => go(times.filter((t) => t < atS - 1e-9).at(-1))}
      >
        <IconPlayerSkipBack size={14} />
      </ActionIcon>
      <ActionIcon
        variant="light"
        size={26}
        aria-label={playing ? 'Pause' : 'Play'}
        onClick={() => setTrials(playing ? { playing: false } : { playing: true, atS: atS >= endS ? 0 : atS })}
      >
        {playing ? <IconPlayerPause size={14} /> : <IconPlayerPlay size={14} />}
      </ActionIcon>
      <ActionIcon
        variant="default"
        size={26}
        aria-label="One event on"
        onClick={() => go(times.find((t) => t > atS + 1e-9))}
      >
        <IconPlayerSkipForward size={14} />
      </ActionIcon>
      <Slider
        style={{ flex: 1 }}
        size="sm"
        thumbLabel="Time"
        min={0}
        max={endS}
        step={endS / 1000}
        value={Math.min(atS, endS)}
        label={(value) => `${formatNumber(value, 4)} s`}
        onChange={(value) => go(value)}
      />
      <span className="figures" style={{ width: 74, textAlign: 'right' }}>
        {formatNumber(Math.min(atS, endS), 4)} s
      </span>
    </div>
  );
}

interface Row {
  readonly key: string;
  readonly event: TrialEvent;
  readonly about: string;
  readonly text: string;
  readonly because: string;
}

const columns: SortColumn<Row>[] = [
  { id: 't', head: 't s', digits: 4, value: ({ event }) => event.atS },
  { id: 'about', head: 'What', text: true, value: ({ about }) => about },
  { id: 'text', head: 'Does', text: true, value: ({ text }) => text },
  { id: 'because', head: 'Because', text: true, width: 300, value: ({ because }) => because },
];

function Events({ answer: { events } }: { answer: TrialAnswer }) {
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const atS = useTrialsState((state) => state.atS);
  const rows = events.map((event, k): Row => ({
    key: String(k),
    event,
    about: aboutOf(network, event),
    text: eventText(network, event),
    because: becauseText(network, events, event),
  }));
  const now = rows.filter(({ event }) => event.atS <= atS + 1e-9).at(-1);
  return (
    <SortTable
      label="Events"
      columns={columns}
      rows={rows}
      rowId={({ key }) => key}
      current
      chosen={now?.key ?? null}
      rowTitle={({ because }) => because || undefined}
      onChoose={({ event }) => {
        setTrials({ atS: event.atS, playing: false });
        const id = event.device ?? event.element;
        if (id && network.elements.has(id)) select([id]);
      }}
    />
  );
}
