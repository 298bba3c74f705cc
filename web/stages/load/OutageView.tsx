'use client';

import { outageVerdict, outageVerdicts, type Outage } from '@mesura/core/flow/outages';
import { formatNumber } from '@mesura/core/fields/quantity';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { useCondition } from '../../desk/condition';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { setLoad, useLoadState } from './state';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

const nameIn = (network: Network, id: ElementId): string => {
  const element = network.elements.get(id);
  return element ? nameOf(element) : id;
};

/** The worst first. */
const rankOf = (outage: Outage): number => outageVerdicts.indexOf(outageVerdict(outage));
const heaviestOf = ({ heaviest }: Outage): number => heaviest?.percent ?? 0;

const tones = { 'no solution': 'fail', overload: 'fail', voltage: 'fail', 'supply lost': 'warn', OK: 'pass' } as const;

const columnsFor = (network: Network): SortColumn<Outage>[] => [
  {
    id: 'verdict',
    head: 'Verdict',
    text: true,
    value: (row) => outageVerdict(row),
    cell: (row) => <Chip state={tones[outageVerdict(row)]}>{outageVerdict(row)}</Chip>,
  },
  { id: 'out', head: 'Out', text: true, value: (row) => row.name },
  {
    id: 'heaviest',
    head: 'Heaviest loaded',
    text: true,
    value: (row) => (row.heaviest ? nameIn(network, row.heaviest.element) : ''),
  },
  {
    id: 'percent',
    head: '% allowed',
    title: 'Of the emergency rating, else of what the project allows of the rated current',
    value: (row) => row.heaviest?.percent ?? null,
  },
  {
    id: 'lowestAt',
    head: 'Lowest at',
    text: true,
    value: (row) => (row.lowest ? nameIn(network, row.lowest.bus) : ''),
  },
  { id: 'lowest', head: '% Un', value: (row) => row.lowest?.percent ?? null },
  { id: 'lost', head: 'Lost MW', title: 'Load that is left without supply', value: (row) => row.lostMw },
];

/** Every single outage on top of the condition: overloads, voltages, supply. */
export function OutageView() {
  const condition = useCondition();
  const { scaled, outage } = useLoadState();
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const answer = useCore(`outages ${JSON.stringify([condition.id, scaled])}`, (service, ticket, onProgress) =>
    service.outages(condition.id, scaled, ticket, onProgress),
  );
  const rows = [...(answer.value ?? [])].sort((p, q) => rankOf(p) - rankOf(q) || heaviestOf(q) - heaviestOf(p));
  const chosen = rows.find(({ element }) => element === outage) ?? null;
  const count = (text: string) => rows.filter((row) => outageVerdict(row) === text).length;
  return (
    <>
      <p className={bench.muted} role="status" style={{ margin: '0 0 6px' }}>
        {answer.progress !== null ? (
          <Done of={answer.progress} w={160} label="Outages" />
        ) : answer.value ? (
          `${rows.length} outages: ${count('OK')} OK, ${count('overload')} with overload, ${count('voltage')} with voltage out of its band, ${count('supply lost')} leave something without supply. Taps stay; reactive limits are heeded.`
        ) : (
          'The load flow has no solution to take elements out of.'
        )}
      </p>
      <div className={chosen ? bench.short : undefined}>
        <SortTable
          label="Single outages"
          columns={columnsFor(network)}
          rows={rows}
          rowId={({ element }) => element}
          current={answer.isCurrent}
          chosen={outage}
          onChoose={({ element }) => {
            setLoad({ outage: element });
            select([element]);
          }}
        />
      </div>
      {chosen && <OutageCard outage={chosen} network={network} />}
    </>
  );
}

function OutageCard({ outage, network }: { outage: Outage; network: Network }) {
  const { name, overloads, beyondBand, unsupplied, limited, problems, lostMw } = outage;
  const list = (ids: readonly ElementId[]) => ids.map((id) => nameIn(network, id)).join(', ');
  return (
    <article className={bench.card} aria-label={`Without ${name}`}>
      <div className={bench.cardBody}>
        <h3 className={bench.title}>Without {name}</h3>
        {problems.map(({ message }) => (
          <p key={message} className={bench.problem}>
            {message}
          </p>
        ))}
        {overloads.map(({ element, ampere, percent }) => (
          <p key={element} className={bench.problem}>
            {nameIn(network, element)} carries {formatNumber(ampere)} A, {formatNumber(percent)} % of what it may
          </p>
        ))}
        {beyondBand.map(({ bus, percent }) => (
          <p key={bus} className={bench.problem}>
            {nameIn(network, bus)} stands at {formatNumber(percent)} % of Un
          </p>
        ))}
        {lostMw > 0 && <p className={bench.problem}>{formatNumber(lostMw)} MW of load are without supply</p>}
        {unsupplied.length > 0 && <p className={bench.problem}>Without supply: {list(unsupplied)}</p>}
        {limited.length > 0 && <p className={bench.problem}>At a reactive limit: {list(limited)}</p>}
        {outage.secure && <p className={bench.problem}>Nothing is overloaded, all voltages stay in their band.</p>}
      </div>
    </article>
  );
}
