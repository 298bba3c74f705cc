'use client';

import Link from 'next/link';
import type { ElementId } from '@mesura/core/model/fields';
import { useEffect, useState } from 'react';
import {
  ActionIcon,
  Menu,
  Popover,
  Select,
  TextInput,
  Tooltip,
  useComputedColorScheme,
  useMantineColorScheme,
} from '@mantine/core';
import { IconArrowBackUp, IconArrowForwardUp, IconHistory, IconMoon, IconSun, IconTransfer } from '@tabler/icons-react';
import { knownExporters } from '@mesura/core/formats/known';
import { useFaultTable } from '../stages/faults/useFaults';
import { useProject, useProjectStore } from '../project/ProjectContext';
import { initials, useHere, who, workAs } from '../project/who';
import { useCondition, useConditions } from '../desk/condition';
import { useDesk } from '../desk/deskState';
import { openSearch } from '../desk/search';
import { useFindings } from '../desk/findings';
import { Mark } from '../desk/Mark';
import { PersonMenu } from '../desk/PersonMenu';
import { chooseFile, drawOut } from '../desk/exchange';
import { exportAs } from './actions';
import { Others } from './Others';
import person from '../desk/person.module.css';
import classes from './desk.module.css';
import { Percent } from '../workers/Done';

export function TopLine() {
  const store = useProjectStore();
  const name = useProject((state) => state.name);
  const undo = useProject((state) => state.undo.at(-1)?.label);
  const redo = useProject((state) => state.redo.at(-1)?.label);
  const condition = useCondition();
  const conditions = useConditions();
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
        value={condition.id}
        onChange={(value) => set({ condition: value as ElementId })}
        data={conditions.map(({ id, name: label }) => ({ value: id, label }))}
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
      <Others />
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
      <ExchangeMenu />
      {bar('History: changes and versions', <IconHistory size={17} />, () => set({ historyOpen: true }))}
      {bar(
        scheme === 'light' ? 'Dark' : 'Light',
        scheme === 'light' ? <IconMoon size={16} /> : <IconSun size={16} />,
        () => setColorScheme(scheme === 'light' ? 'dark' : 'light'),
      )}
      <button type="button" className={classes.search} onClick={openSearch}>
        Find or do… <span className="figure">Ctrl K</span>
      </button>
      <Who />
    </header>
  );
}

/** Files into the project and out of it. */
function ExchangeMenu() {
  const store = useProjectStore();
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <ActionIcon
          variant="transparent"
          className={classes.barButton}
          size={26}
          aria-label="Import and export"
          title="Import and export"
        >
          <IconTransfer size={17} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={chooseFile}>Import a file…</Menu.Item>
        <Menu.Divider />
        <Menu.Label>Export</Menu.Label>
        {knownExporters.map(({ id, title, extension }) => (
          <Menu.Item key={id} onClick={() => exportAs(store, id)} rightSection={extension.toUpperCase()}>
            {title}
          </Menu.Item>
        ))}
        <Menu.Divider />
        <Menu.Label>This page of the drawing</Menu.Label>
        {(['svg', 'png', 'pdf', 'dxf'] as const).map((form) => (
          <Menu.Item key={form} onClick={() => drawOut(form)} rightSection={form.toUpperCase()}>
            {{ svg: 'Vectors', png: 'Picture', pdf: 'Print', dxf: 'For drawing programs' }[form]}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

/** Who works here: the name beside each change in the history. */
function Who() {
  const here = useHere();
  return here.ownDesk ? <WhoOnOwnDesk /> : <PersonMenu here={here} />;
}

function WhoOnOwnDesk() {
  const [name, setName] = useState<string | null>(null);
  useEffect(() => {
    // Known to the browser only: the server's page cannot show it.
    // eslint-disable-next-line react-hooks/set-state-in-effect
    setName(who());
  }, []);
  return (
    <Popover width={240} position="bottom-end" withArrow trapFocus>
      <Popover.Target>
        <button type="button" className={person.who} aria-label={`You work as: ${name ?? 'engineer'}`}>
          {initials(name ?? 'engineer')}
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        <TextInput
          label="You work as"
          description="Stands beside your changes in the history"
          size="xs"
          defaultValue={name === 'engineer' ? '' : (name ?? '')}
          placeholder="engineer"
          maxLength={80}
          onChange={(event) => {
            workAs(event.currentTarget.value);
            setName(who());
          }}
        />
      </Popover.Dropdown>
    </Popover>
  );
}

function CalculationState() {
  const { value, isCurrent, failed, progress } = useFaultTable();
  const text = failed
    ? 'calculation failed'
    : value && isCurrent
      ? `current · ${value.milliseconds < 10 ? value.milliseconds.toFixed(1) : Math.round(value.milliseconds)} ms`
      : 'calculating…';
  return (
    <span
      className={`figure ${classes.state}`}
      role="status"
      aria-label="Calculation state"
      title={failed ?? undefined}
    >
      {text}
      <Percent of={isCurrent ? null : progress} before=" " />
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
