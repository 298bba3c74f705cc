'use client';

import Link from 'next/link';
import { ActionIcon, Select, Tooltip, useComputedColorScheme, useMantineColorScheme } from '@mantine/core';
import { spotlight } from '@mantine/spotlight';
import { IconArrowBackUp, IconArrowForwardUp, IconMoon, IconSun } from '@tabler/icons-react';
import { useFaultTable } from '../features/faults/useFaults';
import { useProject, useProjectStore } from '../project/ProjectContext';
import { useDesk } from '../desk/deskState';
import { useFindings } from '../desk/findings';
import { Mark } from '../desk/Mark';
import classes from './desk.module.css';

export function TopLine() {
  const store = useProjectStore();
  const name = useProject((state) => state.name);
  const undo = useProject((state) => state.undo.at(-1)?.label);
  const redo = useProject((state) => state.redo.at(-1)?.label);
  const faultCase = useDesk((state) => state.faultCase);
  const set = useDesk((state) => state.set);
  const { setColorScheme } = useMantineColorScheme();
  const scheme = useComputedColorScheme('light');
  const bar = (label: string, icon: React.ReactNode, act: () => void, disabled = false) => (
    <Tooltip label={label} openDelay={300}>
      <ActionIcon
        variant="transparent"
        className={classes.barButton}
        size={26}
        aria-label={label}
        onClick={act}
        disabled={disabled}
        style={{ background: 'none', opacity: disabled ? 0.35 : 1 }}
      >
        {icon}
      </ActionIcon>
    </Tooltip>
  );
  return (
    <header className={classes.top}>
      <Link href="/" className={classes.brand} aria-label="Mesura: to the projects">
        <Mark />
        mesura
      </Link>
      <span className={classes.project} title={name}>
        {name}
      </span>
      <Select
        aria-label="Condition"
        size="xs"
        w={160}
        allowDeselect={false}
        value={faultCase}
        onChange={(value) => set({ faultCase: value as typeof faultCase })}
        data={[
          { value: 'max', label: 'Maximum sources' },
          { value: 'min', label: 'Minimum sources' },
        ]}
        styles={{
          input: {
            background: 'transparent',
            color: 'inherit',
            borderColor: 'color-mix(in srgb, var(--m-bar-text) 30%, transparent)',
          },
        }}
      />
      <CalculationState />
      <FindingsBadge />
      <span style={{ flex: 1 }} />
      {bar(
        undo ? `Undo: ${undo} (Ctrl+Z)` : 'Nothing to undo',
        <IconArrowBackUp size={17} />,
        () => store.getState().undoOne(),
        !undo,
      )}
      {bar(
        redo ? `Redo: ${redo} (Ctrl+Y)` : 'Nothing to redo',
        <IconArrowForwardUp size={17} />,
        () => store.getState().redoOne(),
        !redo,
      )}
      {bar(
        scheme === 'light' ? 'Dark' : 'Light',
        scheme === 'light' ? <IconMoon size={16} /> : <IconSun size={16} />,
        () => setColorScheme(scheme === 'light' ? 'dark' : 'light'),
      )}
      <button type="button" className={classes.search} onClick={spotlight.open}>
        Find or do… <span className="figure">Ctrl K</span>
      </button>
      <span className={classes.who} title="You work as: engineer">
        EN
      </span>
    </header>
  );
}

function CalculationState() {
  const { value, isCurrent, failed, progress } = useFaultTable();
  const text = failed
    ? 'calculation failed'
    : value && isCurrent
      ? `current · ${value.milliseconds < 10 ? value.milliseconds.toFixed(1) : Math.round(value.milliseconds)} ms`
      : `calculating…${progress ? ` ${Math.round(progress * 100)} %` : ''}`;
  return (
    <span
      className={`figure ${classes.state}`}
      role="status"
      aria-label="Calculation state"
      title={failed ?? undefined}
    >
      {text}
    </span>
  );
}

function FindingsBadge() {
  const { value } = useFindings();
  const set = useDesk((state) => state.set);
  const open = useDesk((state) => state.findingsOpen);
  if (!value) return null;
  return (
    <button
      type="button"
      className={classes.badge}
      data-clear={value.length === 0 || undefined}
      aria-expanded={open}
      onClick={() => set({ findingsOpen: !open })}
    >
      {value.length === 0 ? 'no findings' : `${value.length} finding${value.length === 1 ? '' : 's'}`}
    </button>
  );
}
