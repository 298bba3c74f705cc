'use client';

import { useState } from 'react';
import { ActionIcon, Button, Checkbox, Popover, Slider, TextInput, useComputedColorScheme } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { lookOf } from '@mesura/core/grading/chart/curves';
import { flaggedPartingS } from '@mesura/core/grading/chart/basis';
import { formatCurrent, parseQuantity } from '@mesura/core/fields/quantity';
import { bandOpacity, flagKinds, type FlagKind, type GradingChart } from '@mesura/core/model/chart';
import type { ElementId } from '@mesura/core/model/fields';
import { deviceOf } from '@mesura/core/protection/device';
import type { DrawnChart } from '../../plots/gradingChart';
import { useProject } from '../../project/ProjectContext';
import { deviceStyles } from '../../theme/tokens';
import { RangeFields } from './RangeFields';
import bench from '../../card/bench.module.css';
import classes from './grading.module.css';

const flagTitles: Readonly<Record<FlagKind, string>> = {
  maximum: 'largest fault close in',
  minimum: 'smallest fault at the far end',
  firstCycle: 'first half-cycle with its d.c. component, rms',
  breaking: `at contact parting, ${flaggedPartingS} s`,
  steady: 'steady',
};

interface Props {
  chart: GradingChart;
  update: (chart: GradingChart, what: string) => void;
}

/** How a chart is drawn: bands, flags, colours and dashes, range. */
export function LookMenu({ chart, drawn, update }: Props & { drawn: () => DrawnChart | null }) {
  return (
    <Popover position="bottom-start" withinPortal>
      <Popover.Target>
        <Button size="compact-xs" variant="default">
          Look
        </Button>
      </Popover.Target>
      <Popover.Dropdown style={{ maxHeight: 480, overflow: 'auto', width: 340 }}>
        <Choices chart={chart} drawn={drawn} update={update} />
      </Popover.Dropdown>
    </Popover>
  );
}

function Choices({ chart, drawn, update }: Props & { drawn: () => DrawnChart | null }) {
  const [opacity, setOpacity] = useState(chart.bandOpacity);
  const now = drawn();
  return (
    <>
      <Checkbox
        size="xs"
        label="Bands"
        checked={chart.bands}
        onChange={(event) => update({ ...chart, bands: event.currentTarget.checked }, 'bands')}
      />
      <Slider
        aria-label="Opacity of the bands"
        size="xs"
        mt={6}
        label={null}
        min={bandOpacity.least}
        max={bandOpacity.most}
        step={0.01}
        disabled={!chart.bands}
        value={opacity}
        onChange={setOpacity}
        onChangeEnd={(to) => update({ ...chart, bandOpacity: to }, 'opacity of the bands')}
      />
      <fieldset className={classes.group}>
        <legend className={bench.muted}>Flags of the pair looked at</legend>
        {flagKinds.map((kind) => (
          <Checkbox
            key={kind}
            size="xs"
            mt={4}
            label={flagTitles[kind]}
            checked={chart.flags.includes(kind)}
            onChange={(event) => {
              const on = event.currentTarget.checked;
              update(
                { ...chart, flags: flagKinds.filter((k) => (k === kind ? on : chart.flags.includes(k))) },
                'flags',
              );
            }}
          />
        ))}
        <OwnFlags chart={chart} update={update} />
      </fieldset>
      <Styles chart={chart} update={update} />
      {now && <RangeFields chart={chart} extents={now.extents} update={update} />}
    </>
  );
}

/** Flags at currents of one's own. */
function OwnFlags({ chart, update }: Props) {
  const [text, setText] = useState('');
  const [amperes, setAmperes] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const add = () => {
    const current = parseQuantity(amperes, 'A');
    if (text.trim() === '') return setProblem('A name is needed here.');
    if (!current.ok || !(current.value > 0)) return setProblem('A current above 0 A is needed, such as 850 or 1.2k.');
    if (chart.ownFlags.length >= 20) return setProblem('At most 20 flags.');
    const flag = { text: text.trim().slice(0, 60), currentA: current.value };
    update({ ...chart, ownFlags: [...chart.ownFlags, flag] }, `flag ${flag.text}`);
    setText('');
    setAmperes('');
    setProblem(null);
  };
  return (
    <div role="group" aria-label="Own flags" style={{ marginTop: 8 }}>
      {chart.ownFlags.map((flag, k) => (
        <div key={`${flag.text}${k}`} className={bench.head}>
          <span>
            {flag.text} <span className="figure">{formatCurrent(flag.currentA, 3)}</span>
          </span>
          <ActionIcon
            variant="subtle"
            color="gray"
            size={18}
            aria-label={`Remove flag ${flag.text}`}
            onClick={() => update({ ...chart, ownFlags: chart.ownFlags.filter((_, j) => j !== k) }, 'remove a flag')}
          >
            <IconX size={11} />
          </ActionIcon>
        </div>
      ))}
      <div className={bench.head}>
        <TextInput
          size="xs"
          w={130}
          aria-label="Text of the flag"
          placeholder="flag of one's own"
          value={text}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <TextInput
          size="xs"
          w={80}
          aria-label="Current of the flag"
          placeholder="A"
          value={amperes}
          onChange={(event) => setAmperes(event.currentTarget.value)}
          onKeyDown={(event) => event.key === 'Enter' && add()}
        />
        <Button size="compact-xs" variant="light" onClick={add}>
          Add flag
        </Button>
      </div>
      {problem && (
        <span role="alert" className={classes.problem}>
          {problem}
        </span>
      )}
    </div>
  );
}

/** Colour and dash of each device: out of the set that stays apart for the colour-blind and in grey. */
function Styles({ chart, update }: Props) {
  const network = useProject((state) => state.network);
  const scheme = useComputedColorScheme('light');
  const [open, setOpen] = useState<ElementId | null>(null);
  const change = (device: ElementId, part: { colour?: number; dash?: number }) => {
    const now = lookOf(chart, device, chart.relays.indexOf(device));
    const look = { device, colour: now.colour, dash: now.dash, ...part };
    update({ ...chart, looks: [...chart.looks.filter((each) => each.device !== device), look] }, 'colours and dashes');
  };
  if (chart.relays.length === 0) return null;
  return (
    <fieldset className={classes.group}>
      <legend className={bench.muted}>Colours and dashes</legend>
      {chart.relays.map((id, k) => {
        const look = lookOf(chart, id, k);
        const name = deviceOf(network, id)?.name ?? '?';
        return (
          <div key={id}>
            <button
              type="button"
              className={bench.sort}
              aria-expanded={open === id}
              onClick={() => setOpen(open === id ? null : id)}
            >
              <Stroke colour={deviceStyles[look.colour][scheme]} dash={deviceStyles[look.dash].dash} /> {name}
            </button>
            {open === id && (
              <div style={{ display: 'flex', flexWrap: 'wrap', gap: 4, margin: '4px 0 8px' }}>
                {deviceStyles.map((style, n) => (
                  <button
                    key={`c${n}`}
                    type="button"
                    className={classes.swatch}
                    aria-pressed={look.colour === n}
                    aria-label={`${name} colour ${n + 1}`}
                    onClick={() => change(id, { colour: n })}
                  >
                    <Stroke colour={style[scheme]} dash="" wide />
                  </button>
                ))}
                {deviceStyles.map((style, n) => (
                  <button
                    key={`d${n}`}
                    type="button"
                    className={classes.swatch}
                    aria-pressed={look.dash === n}
                    aria-label={`${name} dash ${n + 1}`}
                    onClick={() => change(id, { dash: n })}
                  >
                    <Stroke colour="currentColor" dash={style.dash} />
                  </button>
                ))}
              </div>
            )}
          </div>
        );
      })}
      {chart.looks.length > 0 && (
        <Button
          size="compact-xs"
          variant="default"
          mt={4}
          onClick={() => update({ ...chart, looks: [] }, 'usual colours')}
        >
          As usual
        </Button>
      )}
    </fieldset>
  );
}

const Stroke = ({ colour, dash, wide = false }: { colour: string; dash: string; wide?: boolean }) => (
  <svg width={26} height={10} aria-hidden>
    <path d="M1 5H25" stroke={colour} strokeWidth={wide ? 6 : 2.4} strokeDasharray={dash} />
  </svg>
);
