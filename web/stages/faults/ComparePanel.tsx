'use client';

import { useMemo, useState } from 'react';
import { Select } from '@mantine/core';
import { maximumSources, minimumSources } from '@mesura/core/model/condition';
import type { ElementId } from '@mesura/core/model/fields';
import type { BusDifference } from '@mesura/core/studies/compare';
import { useCondition, useConditions } from '../../desk/condition';
import { useVersions } from '../../desk/versions';
import { useProjectStore } from '../../project/ProjectContext';
import { setFaults, useFaultsState, type Against } from './state';
import { kilo, signedPercent, useCauses, useComparison } from './useComparison';
import bench from '../../card/bench.module.css';
import classes from './faults.module.css';
import { Done } from '../../workers/Done';

/** What to compare with at first: the other of the two conditions that always exist. */
export const firstAgainst = (condition: ElementId): Against => ({
  what: 'condition',
  condition: condition === minimumSources.id ? maximumSources.id : minimumSources.id,
});

type Order = 'name' | 'nominalKv' | 'beforeA' | 'afterA' | 'differenceA' | 'percent';

const heads: readonly { readonly order: Order; readonly text: string }[] = [
  { order: 'name', text: 'Bus' },
  { order: 'nominalKv', text: 'kV' },
  { order: 'beforeA', text: 'before kA' },
  { order: 'afterA', text: 'now kA' },
  { order: 'differenceA', text: 'difference kA' },
  { order: 'percent', text: '%' },
];

/** The condition of the desk against another one, or against an earlier version of the project: the difference at each bus, and what caused it. */
export function ComparePanel() {
  const store = useProjectStore();
  const { name } = useCondition();
  const { value, isCurrent, progress, failed } = useComparison();
  const chosen = useFaultsState((state) => state.comparedBus);
  const [order, setOrder] = useState<{ by: Order; down: boolean }>({ by: 'percent', down: true });
  const rows = useMemo(() => sorted(value ?? [], order), [value, order]);
  return (
    <section aria-label="Comparison">
      <div className={bench.head} style={{ marginTop: 4 }}>
        <span className={bench.muted}>{name} (now) against</span>
        <AgainstSelect />
        <Done of={progress} w={120} label="Comparing" />
      </div>
      {failed && <p className={bench.muted}>The comparison failed: {failed}</p>}
      <div className={`${isCurrent ? '' : bench.stale} ${chosen ? classes.short : ''}`}>
        <table className={`${bench.table} figures`} aria-label="Differences of the fault currents">
          <thead>
            <tr>
              {heads.map(({ order: by, text }) => (
                <th
                  key={by}
                  className={by === 'name' ? undefined : 'number'}
                  aria-sort={order.by === by ? (order.down ? 'descending' : 'ascending') : undefined}
                >
                  <button
                    type="button"
                    className={bench.sort}
                    onClick={() => setOrder({ by, down: order.by === by ? !order.down : by !== 'name' })}
                  >
                    {text}
                  </button>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr
                key={row.bus}
                data-clickable
                data-active={row.bus === chosen || undefined}
                tabIndex={0}
                onClick={() => look(row.bus)}
                onKeyDown={(event) => event.key === 'Enter' && look(row.bus)}
              >
                <td>{row.name}</td>
                <td className="number">{row.nominalKv}</td>
                <td className="number">{kilo(row.beforeA)}</td>
                <td className="number">{kilo(row.afterA)}</td>
                <td className="number">
                  <strong>{kilo(row.differenceA)}</strong>
                </td>
                <td className="number">{signedPercent(row.percent)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {chosen && <CausesCard name={rows.find(({ bus }) => bus === chosen)?.name ?? ''} />}
    </section>
  );

  function look(bus: ElementId): void {
    setFaults({ comparedBus: bus });
    store.getState().select([bus]);
  }
}

function sorted(rows: readonly BusDifference[], { by, down }: { by: Order; down: boolean }): BusDifference[] {
  const { compare } = new Intl.Collator('en', { numeric: true });
  const key = (row: BusDifference): number => {
    const value = row[by] as number | null;
    return value === null ? -Infinity : by === 'percent' || by === 'differenceA' ? Math.abs(value) : value;
  };
  const ordered = [...rows].sort((p, q) => (by === 'name' ? compare(p.name, q.name) : key(p) - key(q)));
  return down ? ordered.reverse() : ordered;
}

/** Other conditions, and the named versions of the project. */
function AgainstSelect() {
  const against = useFaultsState((state) => state.against);
  const conditions = useConditions();
  const { id } = useCondition();
  const versions = useVersions();
  const value =
    against?.what === 'condition' ? `condition ${against.condition}` : against ? `version ${against.revision}` : null;
  return (
    <Select
      size="xs"
      w={230}
      allowDeselect={false}
      aria-label="Compared with"
      value={value}
      data={[
        {
          group: 'Conditions',
          items: conditions
            .filter((each) => each.id !== id || value === `condition ${each.id}`)
            .map((each) => ({ value: `condition ${each.id}`, label: each.name })),
        },
        {
          group: 'Versions of the project',
          items: versions.map((each) => ({ value: `version ${each.revision}`, label: each.name })),
        },
      ]}
      onChange={(key) => {
        const [what, which] = key!.split(' ');
        if (what === 'condition') return setFaults({ against: { what, condition: which as ElementId } });
        const version = versions.find((each) => each.revision === Number(which))!;
        setFaults({ against: { what: 'version', revision: version.revision, name: version.name } });
      }}
    />
  );
}

/** The changes one at a time, averaged over the orders in which they can come. */
function CausesCard({ name }: { name: string }) {
  const store = useProjectStore();
  const { value, isCurrent, progress, failed } = useCauses();
  return (
    <article className={bench.card} aria-label={`Causes at ${name}`} style={{ marginTop: 8 }}>
      <div className={bench.cardBody}>
        <h3 className={bench.title}>What caused it: {name}</h3>
        <Done of={progress} label="Looking for causes" />
        {failed && <p className={bench.muted}>The causes cannot be told: {failed}</p>}
        {value === null && isCurrent && (
          <p className={bench.muted}>There is no fault current here on one of the two sides.</p>
        )}
        {value && (
          <div className={isCurrent ? undefined : bench.stale}>
            <table className={`${bench.table} figures`} aria-label="Causes of the difference">
              <thead>
                <tr>
                  <th>Change</th>
                  <th className="number">kA</th>
                  <th className="number">% of before</th>
                </tr>
              </thead>
              <tbody>
                {value.causes.map(({ key, text, element, share, uncertainty }) => (
                  <tr key={key}>
                    <td>
                      {element ? (
                        <button
                          type="button"
                          className={bench.input}
                          onClick={() => store.getState().select([element])}
                        >
                          {text}
                        </button>
                      ) : (
                        text
                      )}
                    </td>
                    <td className="number">
                      {kilo(share)}
                      {uncertainty > 0 && <span className={bench.muted}> ± {kilo(uncertainty)}</span>}
                    </td>
                    <td className="number">{signedPercent(value.before ? (100 * share) / value.before : null)}</td>
                  </tr>
                ))}
                <tr>
                  <td>
                    <strong>together</strong>
                  </td>
                  <td className="number">
                    <strong>{kilo(value.after - value.before)}</strong>
                  </td>
                  <td className="number">
                    {signedPercent(value.before ? (100 * (value.after - value.before)) / value.before : null)}
                  </td>
                </tr>
              </tbody>
            </table>
            <p className={bench.muted}>
              {value.causes.length === 0
                ? 'Nothing that currents depend on differs.'
                : value.sampled
                  ? `Each change by itself, averaged over ${value.orders} of the orders in which they can come.`
                  : value.causes.length === 1
                    ? 'One change makes all of it.'
                    : `Each change by itself, averaged over all ${value.orders} orders in which they can come.`}
            </p>
          </div>
        )}
      </div>
    </article>
  );
}
