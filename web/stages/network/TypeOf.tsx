'use client';

import { Button } from '@mantine/core';
import { entryNamed, overridesOf, secondaryIn, withEntry } from '@mesura/core/equipment/use';
import { columnsOf } from '@mesura/core/fields/cells';
import { plainNumber } from '@mesura/core/fields/quantity';
import { nameOf, type Element } from '@mesura/core/model/element';
import type { LibraryKind } from '@mesura/core/model/library';
import { goTo } from '../../desk/deskState';
import { report } from '../../desk/report';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { setEquipment } from '../equipment/state';
import bench from '../../card/bench.module.css';

/** The type that an element's values come from, and where it has values of its own. */
export function TypeOf({ element }: { element: Element }) {
  const store = useProjectStore();
  const network = useProject((state) => state.network);
  const id = 'entry' in element ? element.entry : undefined;
  if (id === undefined) return null;
  const entry = entryNamed(network, id);
  if (!entry) return <p className={bench.muted}>Its type is not in the library any more; its values stay.</p>;
  const secondaryOf = element.kind === 'relay' ? secondaryIn(network, element) : undefined;
  const own = overridesOf(element, entry, secondaryOf);
  const titles = new Map(columnsOf(element.kind).map((column) => [column.id, column]));
  const text = (value: unknown) => (typeof value === 'number' ? plainNumber(value) : String(value ?? 'not known'));
  const again = () => {
    const reset = withEntry(element, entry, secondaryOf);
    if (reset)
      report(store.getState().commit([{ op: 'update', element: reset }], `${nameOf(element)}: values of its type`));
  };
  return (
    <p className={bench.muted} style={{ margin: '0 0 6px' }}>
      Type:{' '}
      <button
        type="button"
        className={bench.input}
        onClick={() => {
          setEquipment({ kind: element.kind as LibraryKind, entry: entry.id, filter: '', fitting: false });
          goTo('equipment');
        }}
      >
        {entry.title}
      </button>
      {own.length > 0 && (
        <>
          {' · own values: '}
          {own.map(({ path, ofType }, k) => {
            const column = titles.get(path);
            const unit = column?.unit ? ` ${column.unit}` : '';
            return (
              <span key={path}>
                {k > 0 && ', '}
                {column?.title ?? path} (type: {text(ofType)}
                {unit})
              </span>
            );
          })}{' '}
          <Button size="compact-xs" variant="subtle" onClick={again}>
            Take those of the type
          </Button>
        </>
      )}
    </p>
  );
}
