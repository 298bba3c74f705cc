'use client';

import { useRef } from 'react';
import { Button } from '@mantine/core';
import type { LibraryEntry } from '@mesura/core/equipment/entry';
import { fitsOf, type Demands, type Fit } from '@mesura/core/equipment/fit';
import { largestPeak } from '@mesura/core/checks/equipment/withstand';
import { adopted, overridesOf, secondaryIn, withEntry } from '@mesura/core/equipment/use';
import { nameOf, type Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { LibraryKind } from '@mesura/core/model/library';
import { find } from '@mesura/core/model/network';
import { familyOf } from '@mesura/core/protection/registry';
import { useRowWindow } from '../../card/useRowWindow';
import { Chip } from '../../desk/Chip';
import { report } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { chiefColumns, factsOf, sampleOf } from '@mesura/core/formats/types/types';
import { Partners } from './Partners';
import { setEquipment } from './state';
import type { useShared } from './useShared';
import bench from '../../card/bench.module.css';

/** A type, and at the place that is looked at whether it fits. */
export interface Row {
  readonly entry: LibraryEntry;
  readonly sample: Element;
  /** At the selected place; null where nothing of this kind is selected. */
  readonly fits: readonly Fit[] | null;
}

export const rowsOf = (entries: readonly LibraryEntry[], demands: Demands | null): Row[] =>
  entries.flatMap((entry): Row[] => {
    const sample = sampleOf(entry);
    return sample ? [{ entry, sample, fits: demands && fitsOf(entry, demands) }] : [];
  });

export function demandText(demands: Demands | null): string {
  if (!demands) return '…';
  const { nominalKv, service, fault, withstands, relay } = demands;
  if (relay) {
    const used = relay.element.functions.filter(({ enabled }) => enabled);
    return `${used.map((fn) => familyOf(fn).code(fn)).join(', ') || 'no function'} in use`;
  }
  const digits = (value: number) => String(Number(value.toPrecision(4)));
  const levels = [...new Set(nominalKv.filter((kv) => kv !== null))].map((kv) => `${kv} kV`);
  return [
    levels.join(' / ') || 'voltage not known',
    ...(service ? [`${digits(service.ampere)} A (${service.of})`] : []),
    ...(fault ? [`Ik″ ${digits(fault.kA)} kA`] : []),
    ...(withstands ? [`ip ${digits(largestPeak(withstands.faults).kA)} kA`] : []),
  ].join(', ');
}

export function TypeTable({
  kind,
  rows,
  chosen,
  withFit,
}: {
  kind: LibraryKind;
  rows: readonly Row[];
  chosen: string | null;
  withFit: boolean;
}) {
  const columns = chiefColumns(kind);
  const body = useRef<HTMLTableSectionElement>(null);
  const { from, to, above, below } = useRowWindow(body, rows.length);
  return (
    <table className={`${bench.table} figures`} aria-label="Types" aria-rowcount={rows.length}>
      <thead>
        <tr>
          <th>Type</th>
          {columns.map(({ id, title, unit }) => (
            <th key={id} className={`number ${bench.wrapped}`}>
              {title} <span className={bench.muted}>{unit}</span>
            </th>
          ))}
          {withFit && <th>Fits</th>}
        </tr>
      </thead>
      <tbody ref={body}>
        {above > 0 && <tr aria-hidden style={{ height: above }} />}
        {rows.slice(from, to).map(({ entry, sample, fits }) => (
          <tr
            key={entry.id}
            data-clickable
            data-active={entry.id === chosen || undefined}
            tabIndex={0}
            onClick={() => setEquipment({ entry: entry.id })}
            onKeyDown={(event) => event.key === 'Enter' && setEquipment({ entry: entry.id })}
          >
            <td className={bench.whole}>
              {entry.title}{' '}
              {(entry.own || entry.shared) && <span className={bench.muted}>{entry.own ? 'own' : 'shared'}</span>}
            </td>
            {columns.map((column) => (
              <td key={column.id} className="number">
                {column.text(entry, sample)}
              </td>
            ))}
            {withFit && <td>{fits && <FitChip fits={fits} />}</td>}
          </tr>
        ))}
        {below > 0 && <tr aria-hidden style={{ height: below }} />}
      </tbody>
    </table>
  );
}

function FitChip({ fits }: { fits: readonly Fit[] }) {
  const misfits = fits.filter((fit) => !fit.fits);
  if (misfits.length > 0) return <Chip state="fail">{[...new Set(misfits.map(({ what }) => what))].join(', ')}</Chip>;
  return fits.length > 0 ? <Chip state="pass">fits</Chip> : null;
}

/** All values of a type, why it fits or not, and the button that uses it. */
export function TypeCard({
  row: { entry, sample, fits },
  selected,
  shared,
}: {
  row: Row;
  selected: readonly Element[];
  shared: ReturnType<typeof useShared>;
}) {
  const store = useProjectStore();
  const network = useProject((state) => state.network);
  const secondaryOf = (element: Element) => (element.kind === 'relay' ? secondaryIn(network, element) : undefined);
  const use = () => {
    // The project stands for itself: of a shared type it keeps a copy.
    const { entry: own, added } = entry.shared ? adopted(network, entry, newId) : { entry, added: null };
    const changes = selected.flatMap((element) => {
      const changed = withEntry(element, own, secondaryOf(element));
      return changed ? [{ op: 'update' as const, element: changed }] : [];
    });
    const copy = added ? [{ op: 'add' as const, element: added }] : [];
    report(store.getState().commit([...copy, ...changes], `${selected.map(nameOf).join(', ')}: ${own.title}`));
  };
  const remove = () => {
    if (report(store.getState().commit([{ op: 'remove', id: entry.id as ElementId }], `Delete type ${entry.title}`)))
      setEquipment({ entry: null });
  };
  const isShared = shared.entries.some((each) => each.for === entry.for && each.title === entry.title);
  const misfit = fits?.some((fit) => !fit.fits) ?? false;
  const here = selected.length === 1 && selected[0];
  const overrides =
    here && 'entry' in here && here.entry === entry.id ? overridesOf(here, entry, secondaryOf(here)) : [];
  return (
    <article className={bench.card} aria-label={`Type ${entry.title}`} style={{ marginTop: 10 }}>
      <div className={bench.cardBody}>
        <div className={bench.head}>
          <h3 className={bench.title}>{entry.title}</h3>
          <span className={bench.spacer} />
          {entry.own && (
            <>
              <Button
                size="compact-xs"
                variant="default"
                disabled={isShared}
                onClick={() => void shared.share(find(network, 'libraryEntry', entry.id as ElementId)!)}
              >
                {isShared ? 'Shared' : 'Share with all projects'}
              </Button>
              <Button size="compact-xs" variant="subtle" color="red" onClick={remove}>
                Delete type
              </Button>
            </>
          )}
          {entry.shared && (
            <Button
              size="compact-xs"
              variant="subtle"
              color="red"
              onClick={() => void shared.unshare(entry.id).then((done) => done && setEquipment({ entry: null }))}
            >
              Stop sharing
            </Button>
          )}
          {selected.length > 0 && (
            <Button size="compact-xs" color={misfit ? 'orange' : undefined} onClick={use}>
              {misfit ? 'Use all the same for' : 'Use for'}{' '}
              {selected.length === 1 ? nameOf(selected[0]) : `${selected.length} selected`}
            </Button>
          )}
        </div>
        {fits?.map(({ what, fits: holds, message, next }) => (
          <p key={`${what}${message}`} style={{ margin: '2px 0', fontSize: 13 }}>
            <Chip state={holds ? 'pass' : 'fail'}>{holds ? 'fits' : 'does not fit'}</Chip> {message}
            {next && <span className={bench.muted}> Next standard size: {next}.</span>}
          </p>
        ))}
        {overrides.length > 0 && (
          <p className={bench.muted}>
            Values of its own here:{' '}
            {overrides
              .map(({ path, ofType, here: own }) => `${path} ${String(own)} (type: ${String(ofType)})`)
              .join(', ')}
          </p>
        )}
        <dl className={bench.facts} style={entry.for === 'relay' ? { gridTemplateColumns: '1fr' } : undefined}>
          {factsOf(entry).map((column) => {
            const text = column.text(entry, sample);
            return text === '' ? null : (
              <div key={column.id}>
                <dt>{column.title}</dt>
                <dd className="figure">
                  {text}
                  {column.unit && ` ${column.unit}`}
                </dd>
              </div>
            );
          })}
        </dl>
        {entry.own && entry.for === 'switch' && (
          <Partners type={find(network, 'libraryEntry', entry.id as ElementId)!} />
        )}
        <p className={bench.muted} style={{ margin: '6px 0 0' }}>
          {entry.own ? 'A type of this project' : entry.shared ? 'Shared by all projects' : 'Generic type'}
          {entry.source && `: ${entry.source}`}
          {entry.recalled && ' (as remembered)'}
        </p>
      </div>
    </article>
  );
}
