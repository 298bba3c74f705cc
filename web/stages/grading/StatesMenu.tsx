'use client';

import { useState } from 'react';
import { ActionIcon, Button, Popover, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import {
  settingsShown,
  trialsOf,
  type Compared,
  type Edited,
  type JudgedPair,
} from '@mesura/core/grading/chart/curves';
import type { ChartState, GradingChart } from '@mesura/core/model/chart';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { deviceOf } from '@mesura/core/protection/device';
import type { DrawnChart } from '../../plots/gradingChart';
import { newId } from '../../project/newId';
import { today } from '../../desk/today';
import { useProject } from '../../project/ProjectContext';
import { discard, edit, setGrading, useGradingState } from './state';
import bench from '../../card/bench.module.css';
import classes from './grading.module.css';

/** A chart keeps so many states. */
const most = 8;

/** Settings of the state that a chart is compared with; undefined: with none. */
export function comparedWith({ states }: GradingChart, compared: ElementId | null): Compared | undefined {
  const state = states.find(({ id }) => id === compared);
  return state && new Map(state.settings.map(({ device, functions }) => [device, functions]));
}

/** Devices of the chart that are set otherwise now than in a state of it. */
export const differing = (network: Network, { relays }: GradingChart, state: ChartState, edited: Edited): ElementId[] =>
  relays.filter((id) => {
    const then = state.settings.find(({ device }) => device === id);
    const now = edited.get(id)?.functions ?? deviceOf(network, id)?.functions;
    return then !== undefined && JSON.stringify(then.functions) !== JSON.stringify(now);
  });

export type DrawnNow = DrawnChart & { readonly judged: readonly JudgedPair[] };

interface Props {
  chart: GradingChart;
  /** What is drawn just now; null while nothing is. */
  drawn: () => DrawnNow | null;
  update: (chart: GradingChart, what: string) => void;
}

/** States of the settings under names: variants that are tried side by side, and how things stood on a day; compared with, and taken over. */
export function StatesMenu(props: Props) {
  const { states } = props.chart;
  return (
    <Popover position="bottom-start" withinPortal>
      <Popover.Target>
        <Button size="compact-xs" variant="default">
          States{states.length > 0 ? ` (${states.length})` : ''}
        </Button>
      </Popover.Target>
      <Popover.Dropdown style={{ width: 360 }}>
        <States {...props} />
      </Popover.Dropdown>
    </Popover>
  );
}

function States({ chart, drawn, update }: Props) {
  const network = useProject((state) => state.network);
  const { compared, edited } = useGradingState();
  const [name, setName] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const keep = () => {
    const words = name.trim().slice(0, 60);
    if (words === '') return setProblem('A name is needed here.');
    if (chart.states.some((state) => state.name === words)) return setProblem('There is a state of this name.');
    if (chart.states.length >= most) return setProblem(`At most ${most} states: remove one first.`);
    const state: ChartState = {
      id: newId(),
      name: words,
      keptOn: today(),
      settings: settingsShown(network, chart, edited),
      margins: (drawn()?.judged ?? [])
        .filter(({ guest }) => guest === null)
        .slice(0, 120)
        .map(({ mode, margin }) => ({
          downstream: margin.pair.downstream,
          upstream: margin.pair.upstream,
          mode,
          marginS: margin.decisive?.marginS ?? null,
          holds: margin.verdict === 'holds',
        })),
    };
    update({ ...chart, states: [...chart.states, state] }, `keep ${words}`);
    setName('');
    setProblem(null);
  };
  const takeOver = (state: ChartState) => {
    const trials = trialsOf(network, state.settings);
    for (const id of chart.relays) {
      const trial = trials.get(id);
      const stored = deviceOf(network, id);
      if (trial && stored) edit(trial, stored.element);
      else discard(id);
    }
  };
  return (
    <>
      <p className={bench.muted} style={{ margin: 0 }}>
        A state keeps the settings of all devices of this chart, with what is under trial, and its margins.
      </p>
      <div className={bench.head} style={{ marginTop: 6 }}>
        <TextInput
          size="xs"
          w={200}
          aria-label="Name of the state"
          placeholder="Variant A, as issued …"
          value={name}
          error={problem}
          onChange={(event) => {
            setName(event.currentTarget.value);
            setProblem(null);
          }}
          onKeyDown={(event) => event.key === 'Enter' && keep()}
        />
        <Button size="compact-xs" variant="light" onClick={keep}>
          Keep this state
        </Button>
      </div>
      <ul className={classes.paths} aria-label="States of the chart">
        {chart.states.map((state) => {
          const count = differing(network, chart, state, edited).length;
          return (
            <li key={state.id} className={bench.head}>
              <span>
                {state.name}{' '}
                <span className={bench.muted}>
                  {state.keptOn}, {count === 0 ? 'as now' : `${count} set otherwise now`}
                </span>
              </span>
              <span className={bench.spacer} />
              <Button
                size="compact-xs"
                variant={compared === state.id ? 'light' : 'default'}
                aria-pressed={compared === state.id}
                aria-label={`Compare with ${state.name}`}
                onClick={() => setGrading({ compared: compared === state.id ? null : state.id })}
              >
                Compare
              </Button>
              <Button
                size="compact-xs"
                variant="default"
                disabled={count === 0}
                aria-label={`Take over ${state.name}`}
                onClick={() => takeOver(state)}
              >
                Take over
              </Button>
              <ActionIcon
                variant="subtle"
                color="gray"
                size={18}
                aria-label={`Remove state ${state.name}`}
                onClick={() => {
                  if (compared === state.id) setGrading({ compared: null });
                  update(
                    { ...chart, states: chart.states.filter(({ id }) => id !== state.id) },
                    `remove ${state.name}`,
                  );
                }}
              >
                <IconX size={11} />
              </ActionIcon>
            </li>
          );
        })}
      </ul>
    </>
  );
}

/** Says when devices are no longer set as in the state that was kept last. */
export function StateNotice({ chart, edited }: { chart: GradingChart; edited: Edited }) {
  const network = useProject((state) => state.network);
  const compared = useGradingState((state) => state.compared);
  const state = chart.states.find(({ id }) => id === compared) ?? chart.states[chart.states.length - 1];
  if (!state) return null;
  const names = differing(network, chart, state, edited).map((id) => deviceOf(network, id)?.name ?? '?');
  if (names.length === 0 && compared === null) return null;
  return (
    <div className={classes.notice} role="status" aria-label="Compared state">
      <span>
        {names.length === 0
          ? `Set as in “${state.name}” of ${state.keptOn}.`
          : `Since “${state.name}” of ${state.keptOn} changed: ${names.join(', ')}.`}
      </span>
      <Button
        size="compact-xs"
        variant="subtle"
        onClick={() => setGrading({ compared: compared === null ? state.id : null })}
      >
        {compared === null ? 'Show both' : 'Leave off'}
      </Button>
    </div>
  );
}
