'use client';

import { useState } from 'react';
import { ActionIcon, Button, CopyButton, SegmentedControl, Tabs } from '@mantine/core';
import { IconCopy, IconDownload, IconX } from '@tabler/icons-react';
import { csv } from '@mesura/core/formats/csv';
import { faultKinds, faultKindTitles, type FaultKind } from '@mesura/core/faults/iec60909/kinds';
import type { FaultRow } from '@mesura/core/faults/report';
import { useDesk } from '../../desk/deskState';
import { useElementOf, useProject } from '../../project/ProjectContext';
import { ElementForm } from '../../card/ElementForm';
import { formatNumber } from '../../card/quantity';
import { Contributions } from './Contributions';
import { FaultTable } from './FaultTable';
import { useFaultDetail, useFaultTable } from './useFaults';
import { WorkingView } from './WorkingView';
import bench from '../bench.module.css';

const kindLabels: Record<FaultKind, string> = {
  '3ph': '3-phase',
  '2ph': '2-phase',
  '2phE': '2-phase-earth',
  '1ph': '1-phase',
};

/** Rows as a spreadsheet takes them: tabs, decimal point, full digits. */
function tableText(rows: readonly FaultRow[], separator: 'tab' | 'csv'): string {
  const cells = [
    ['Bus', 'kV', 'Kind', 'Condition', 'Ik" kA', 'ip kA', 'X/R', '3I0 kA', 'Sk" MVA'],
    ...rows.map(({ name, nominalKv, kind, faultCase, result: r }) => [
      name,
      nominalKv,
      faultKindTitles[kind],
      faultCase === 'max' ? 'maximum' : 'minimum',
      ...(r
        ? [r.ikA / 1000, r.ipA / 1000, r.xOverR, r.earthA / 1000, r.powerVa === null ? '' : r.powerVa / 1e6].map((v) =>
            typeof v === 'number' ? Number(v.toPrecision(6)) : v,
          )
        : ['', '', '', '', '']),
    ]),
  ];
  return separator === 'csv' ? csv(cells) : cells.map((row) => row.join('\t')).join('\n');
}

export function FaultsBench() {
  const kind = useDesk((state) => state.faultKind);
  const faultCase = useDesk((state) => state.faultCase);
  const set = useDesk((state) => state.set);
  const table = useFaultTable();
  const rows = table.value?.rows ?? [];
  return (
    <section aria-label="Fault currents">
      <div className={bench.head}>
        <h2 className={bench.title}>Fault currents</h2>
        <SegmentedControl
          size="xs"
          value={kind}
          onChange={(value) => set({ faultKind: value as FaultKind })}
          data={faultKinds.map((value) => ({ value, label: kindLabels[value] }))}
          aria-label="Kind of fault"
        />
        <span className={bench.spacer} />
        <CopyButton value={tableText(rows, 'tab')}>
          {({ copied, copy }) => (
            <Button size="compact-xs" variant="default" leftSection={<IconCopy size={13} />} onClick={copy}>
              {copied ? 'Copied' : 'Copy'}
            </Button>
          )}
        </CopyButton>
        <Button
          size="compact-xs"
          variant="default"
          leftSection={<IconDownload size={13} />}
          onClick={() => saveText(`faults-${kind}-${faultCase}.csv`, tableText(rows, 'csv'))}
        >
          CSV
        </Button>
      </div>
      <FaultTable rows={rows} current={table.isCurrent} />
      <p className={bench.muted} style={{ margin: '4px 8px 0' }}>
        IEC 60909-0:2016, {faultCase === 'max' ? 'maximum' : 'minimum'} currents; peak by the 20 Hz method
      </p>
      {table.failed && <p className={bench.muted}>The calculation failed: {table.failed}</p>}
      {table.value && rows.length === 0 && (
        <p className={bench.muted}>There is no bus yet. Place one in the Network stage.</p>
      )}
      <FaultCard rows={rows} />
    </section>
  );
}

function saveText(name: string, text: string): void {
  const url = URL.createObjectURL(new Blob([text], { type: 'text/csv;charset=utf-8' }));
  const link = Object.assign(document.createElement('a'), { href: url, download: name });
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10000);
}

function FaultCard({ rows }: { rows: readonly FaultRow[] }) {
  const chosen = useDesk((state) => state.faultBus);
  const set = useDesk((state) => state.set);
  const bus = useElementOf('bus', chosen);
  const detail = useFaultDetail(bus ? bus.id : null);
  const [tab, setTab] = useState<string | null>('faults');
  const row = rows.find((each) => each.bus === chosen);
  if (!bus || !row)
    return (
      <p className={bench.muted}>
        Choose a bus here or on the drawing to see where its current comes from, and the working.
      </p>
    );
  return (
    <article className={bench.card} aria-label={`Card of ${bus.name}`}>
      <Tabs value={tab} onChange={setTab} keepMounted={false}>
        <Tabs.List pl={14}>
          <strong style={{ alignSelf: 'center', marginRight: 12 }}>{bus.name}</strong>
          <Tabs.Tab value="data">Data</Tabs.Tab>
          <Tabs.Tab value="faults">Faults here</Tabs.Tab>
          <Tabs.Tab value="working">Working</Tabs.Tab>
          <ActionIcon
            variant="subtle"
            color="gray"
            size={22}
            ml="auto"
            mr={8}
            style={{ alignSelf: 'center' }}
            aria-label="Close card"
            onClick={() => set({ faultBus: null })}
          >
            <IconX size={14} />
          </ActionIcon>
        </Tabs.List>
        <div className={`${bench.cardBody} ${detail.isCurrent || tab === 'data' ? '' : bench.stale}`}>
          <Tabs.Panel value="data">
            <ElementForm element={bus} />
          </Tabs.Panel>
          <Tabs.Panel value="faults">
            {row.result ? detail.value && <Contributions row={row} detail={detail.value} /> : <Missing row={row} />}
          </Tabs.Panel>
          <Tabs.Panel value="working">
            {row.result ? detail.value && <WorkingView working={detail.value.working} /> : <Missing row={row} />}
          </Tabs.Panel>
        </div>
      </Tabs>
    </article>
  );
}

function Missing({ row }: { row: FaultRow }) {
  const select = useProject((state) => state.select);
  return (
    <>
      <p className={bench.muted}>This fault cannot be computed:</p>
      <ul className={bench.help}>
        {row.problems.map((problem) => (
          <li key={problem.message}>
            {problem.element ? (
              <button type="button" className={bench.input} onClick={() => select([problem.element!])}>
                {problem.message}
              </button>
            ) : (
              problem.message
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

export const kiloamperes = (amperes: number): string => formatNumber(amperes / 1000);
