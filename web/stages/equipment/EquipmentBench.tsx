'use client';

import { useDeferredValue, useMemo } from 'react';
import { Button, Checkbox, FileButton, Select, TextInput } from '@mantine/core';
import { IconDownload, IconPlus, IconUpload } from '@tabler/icons-react';
import { entriesFor, entryFrom } from '@mesura/core/equipment/use';
import { FreeNames } from '@mesura/core/drawing/parts/fragment';
import { kinds, nameOf } from '@mesura/core/model/element';
import { libraryKinds, type LibraryKind } from '@mesura/core/model/library';
import { ofKind } from '@mesura/core/model/network';
import { saveText } from '../../card/saveText';
import { report } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { bytesOf } from '@mesura/core/formats/open';
import { typeSheets } from '@mesura/core/formats/types/exchange';
import { foundEntries } from '@mesura/core/formats/types/types';
import { bringIn } from '../../desk/exchange';
import { demandText, rowsOf, TypeCard, TypeTable } from './TypeChooser';
import { setEquipment, useEquipmentState } from './state';
import { useShared } from './useShared';
import bench from '../../card/bench.module.css';
import classes from '../faults/faults.module.css';

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
