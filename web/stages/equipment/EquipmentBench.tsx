'use client';

import { useDeferredValue, useMemo, useRef } from 'react';
import { Button, Checkbox, FileButton, Select, TextInput } from '@mantine/core';
import { IconDownload, IconPlus, IconUpload } from '@tabler/icons-react';
import type { LibraryEntry } from '@mesura/core/equipment/entry';
import { fitsOf, type Demands, type Fit } from '@mesura/core/equipment/fit';
import { largestPeak } from '@mesura/core/checks/equipment/withstand';
import { adopted, entriesFor, entryFrom, overridesOf, secondaryIn, withEntry } from '@mesura/core/equipment/use';
import { FreeNames } from '@mesura/core/drawing/parts/fragment';
import { kinds, nameOf, type Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { libraryKinds, type LibraryKind } from '@mesura/core/model/library';
import { find, ofKind } from '@mesura/core/model/network';
import { familyOf } from '@mesura/core/protection/registry';
import { saveText } from '../../card/saveText';
import { useRowWindow } from '../../card/useRowWindow';
import { Chip } from '../../desk/Chip';
import { report } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { bytesOf } from '@mesura/core/formats/open';
import { typeSheets } from '@mesura/core/formats/types/exchange';
import { chiefColumns, factsOf, foundEntries, sampleOf } from '@mesura/core/formats/types/types';
import { bringIn } from '../../desk/exchange';
import { Partners } from './Partners';
import { setEquipment, useEquipmentState } from './state';
import { useShared } from './useShared';
import bench from '../../card/bench.module.css';
import classes from '../faults/faults.module.css';

interface Row {
  readonly entry: LibraryEntry;
  readonly sample: Element;
  /** At the selected place; null where nothing of this kind is selected. */
  readonly fits: readonly Fit[] | null;
}

/** Types of equipment; beside each whether it fits at the place that is selected, before it is chosen. */
export function EquipmentBench() {
  const store = useProjectStore();
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const { kind: wanted, entry: chosen, filter, fitting } = useEquipmentState();
  const first = selection.length > 0 ? network.elements.get(selection[0]) : undefined;
  const kind = wanted ?? libraryKinds.find((each) => each === first?.kind) ?? 'switch';
  const selected = selection.flatMap((id) => {
    const element = network.elements.get(id);
    return element?.kind === kind ? [element] : [];
  });
  const place = selected[0];
  const demands = useCore(place ? `demands ${place.id}` : null, (service) => service.demands(place.id));
  const words = useDeferredValue(filter);
  const shared = useShared();
  const entries = useMemo(() => entriesFor(network, kind, shared.entries), [network, kind, shared.entries]);
  const rows = useMemo(
    () => rowsOf(foundEntries(entries, words), place ? demands.value : null),
    [entries, words, place, demands.value],
  );
  const shown = fitting && place ? rows.filter(({ fits }) => fits?.every((fit) => fit.fits)) : rows;
  const row = rows.find(({ entry }) => entry.id === chosen) ?? null;
  const keep = () => {
    if (!place) return;
    const names = new FreeNames(ofKind(network, 'libraryEntry'));
    const own = entryFrom(place, newId(), names.next(nameOf(place)));
    if (report(store.getState().commit([{ op: 'add', element: own }], `Type ${own.name}`)))
      setEquipment({ entry: own.id });
  };
  const sheets = () => typeSheets(shown.map(({ entry }) => entry));
  const save = async (extension: 'csv' | 'xlsx') =>
    saveText(
      `types ${kinds[kind].title.toLowerCase()}.${extension}`,
      await bytesOf(sheets(), extension),
      'application/octet-stream',
    );
  return (
    <section aria-label="Equipment">
      <div className={bench.head}>
        <h2 className={bench.title}>Equipment</h2>
        <Select
          size="xs"
          w={180}
          allowDeselect={false}
          aria-label="Kind of equipment"
          value={kind}
          data={libraryKinds.map((each) => ({ value: each, label: kinds[each].title }))}
          onChange={(value) => setEquipment({ kind: value as LibraryKind, entry: null })}
        />
        <TextInput
          size="xs"
          w={190}
          placeholder="12 kV 1250 A …"
          aria-label="Search the types"
          value={filter}
          onChange={(event) => setEquipment({ filter: event.currentTarget.value })}
        />
        {place && (
          <Checkbox
            size="xs"
            label="fitting only"
            checked={fitting}
            onChange={(event) => setEquipment({ fitting: event.currentTarget.checked })}
          />
        )}
      </div>
      <div className={bench.head}>
        <span className={bench.muted}>
          {place
            ? `For ${nameOf(place)}: ${demandText(demands.value)}`
            : 'Select an element of this kind on the drawing to see what fits there.'}
        </span>
        <span className={bench.spacer} />
        {place && (
          <Button size="compact-xs" variant="default" leftSection={<IconPlus size={13} />} onClick={keep}>
            Keep its data as a type
          </Button>
        )}
        {(['csv', 'xlsx'] as const).map((extension) => (
          <Button
            key={extension}
            size="compact-xs"
            variant="default"
            leftSection={<IconDownload size={13} />}
            onClick={() => void save(extension)}
          >
            {extension.toUpperCase()}
          </Button>
        ))}
        <FileButton accept=".csv,.txt,.xlsx,text/csv" onChange={(file) => file && void bringIn(file, kind)}>
          {(props) => (
            <Button {...props} size="compact-xs" variant="default" leftSection={<IconUpload size={13} />}>
              Import
            </Button>
          )}
        </FileButton>
      </div>
      <div className={row ? classes.short : undefined}>
        <TypeTable kind={kind} rows={shown} chosen={chosen} withFit={place !== undefined} />
      </div>
      {shown.length === 0 && (
        <p className={bench.muted}>
          {fitting ? 'No type found here fits at this place.' : 'No type has all of these words.'}
        </p>
      )}
      {shared.failed && <p className={bench.muted}>Shared types are not at hand: {shared.failed}</p>}
      {row && <TypeCard row={row} selected={selected} shared={shared} />}
    </section>
  );
}

const rowsOf = (entries: readonly LibraryEntry[], demands: Demands | null): Row[] =>
  entries.flatMap((entry): Row[] => {
    const sample = sampleOf(entry);
    return sample ? [{ entry, sample, fits: demands && fitsOf(entry, demands) }] : [];
  });

function demandText(demands: Demands | null): string {
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

function TypeTable({
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
function TypeCard({
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
