'use client';

import { useState } from 'react';
import { Button, Select, TextInput } from '@mantine/core';
import type { Batch, Script } from '@mesura/core/model/batch';
import type { ElementId } from '@mesura/core/model/fields';
import { report } from '../../desk/report';
import { may } from '../../project/who';
import { useProject } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

interface KeptListProps<E extends Batch | Script> {
  readonly what: 'batch' | 'script';
  readonly all: readonly E[];
  readonly chosen: E | null;
  readonly choose: (id: ElementId | null) => void;
  readonly make: () => E;
}

/** What is kept in the project under a name: chosen, renamed, begun anew, removed. */
export function KeptList<E extends Batch | Script>({ what, all, chosen, choose, make }: KeptListProps<E>) {
  const commit = useProject((state) => state.commit);
  const add = () => {
    const element = make();
    if (report(commit([{ op: 'add', element }], `Add ${what} ${element.name}`))) choose(element.id);
  };
  const mayChange = may('engineer');
  return (
    <div className={bench.head}>
      {all.length > 0 && (
        <Select
          size="xs"
          w={220}
          aria-label={`Which ${what}`}
          placeholder={`Choose a ${what}`}
          allowDeselect={false}
          value={chosen?.id ?? null}
          onChange={(id) => choose(id as ElementId | null)}
          data={all.map(({ id, name }) => ({ value: id as string, label: name }))}
        />
      )}
      {mayChange && (
        <Button size="compact-xs" variant="default" onClick={add}>
          New {what}
        </Button>
      )}
      <span className={bench.spacer} />
      {chosen && mayChange && <Named key={chosen.id} what={what} element={chosen} choose={choose} />}
    </div>
  );
}

function Named({ what, element, choose }: { what: string; element: Batch | Script; choose: (id: null) => void }) {
  const commit = useProject((state) => state.commit);
  const [name, setName] = useState(element.name);
  const rename = () => {
    const next = name.trim();
    if (next === '' || next === element.name) return setName(element.name);
    report(commit([{ op: 'update', element: { ...element, name: next } }], `Rename ${what} ${element.name}`));
  };
  const remove = () => {
    if (report(commit([{ op: 'remove', id: element.id }], `Remove ${what} ${element.name}`))) choose(null);
  };
  return (
    <>
      <TextInput
        size="xs"
        w={190}
        aria-label={`Name of the ${what}`}
        value={name}
        maxLength={120}
        onChange={(event) => setName(event.currentTarget.value)}
        onBlur={rename}
        onKeyDown={(event) => event.key === 'Enter' && rename()}
      />
      <Button size="compact-xs" variant="subtle" color="red" onClick={remove}>
        Remove
      </Button>
    </>
  );
}
