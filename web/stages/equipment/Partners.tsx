'use client';

import { ActionIcon, Select } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import { entriesFor } from '@mesura/core/equipment/use';
import type { LibraryEntryElement, Partner } from '@mesura/core/model/library';
import { QuantityField } from '../../card/QuantityField';
import { report } from '../../desk/report';
import { useProject } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

const columns = [
  { field: 'selectiveKa', title: 'Selective up to' },
  { field: 'backupKa', title: 'Break together up to' },
] as const;

/** What tests have shown for a type of switch below others, from a maker's tables: taken where curves and ratings alone would not do. */
export function Partners({ type }: { type: LibraryEntryElement }) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const partners = type.partners ?? [];
  const types = entriesFor(network, 'switch').filter(
    ({ id, data }) => id !== type.id && (data.type === 'breaker' || data.type === 'fuse' || data.type === undefined),
  );
  const nameOf = (id: string) => types.find((each) => each.id === id)?.title ?? 'a type that is gone';
  const store = (next: readonly Partner[], what: string): string | null => {
    const result = commit(
      [{ op: 'update', element: { ...type, partners: next.length > 0 ? [...next] : undefined } }],
      `${type.name}: ${what}`,
    );
    return result.ok ? null : result.problems[0].message;
  };
  const change = (k: number, part: Partial<Partner>) =>
    store(
      partners.map((each, j) => (j === k ? { ...each, ...part } : each)),
      `with ${nameOf(partners[k].entry)}`,
    );
  return (
    <section aria-label="Partners above">
      <h4 className={bench.subtitle}>Together with a type above it</h4>
      <p className={bench.muted}>
        From the maker’s tables of tests (IEC 60947-2, Annex A). Used where this type and the one above stand in series.
      </p>
      {partners.length > 0 && (
        <table className={`${bench.table} figures`} aria-label="Partners above">
          <thead>
            <tr>
              <th>Type above</th>
              {columns.map(({ title }) => (
                <th key={title}>{title}</th>
              ))}
              <th aria-label="Remove" />
            </tr>
          </thead>
          <tbody>
            {partners.map((each, k) => (
              <tr key={each.entry}>
                <td>{nameOf(each.entry)}</td>
                {columns.map(({ field, title }) => (
                  <td key={field}>
                    <QuantityField
                      compact
                      optional
                      label={`${title}, with ${nameOf(each.entry)},`}
                      unit="kA"
                      value={each[field]}
                      onCommit={(value) => change(k, { [field]: value })}
                    />
                  </td>
                ))}
                <td>
                  <ActionIcon
                    variant="subtle"
                    color="gray"
                    size={20}
                    aria-label={`Remove ${nameOf(each.entry)}`}
                    onClick={() =>
                      store(
                        partners.filter((_, j) => j !== k),
                        `without ${nameOf(each.entry)}`,
                      )
                    }
                  >
                    <IconTrash size={13} />
                  </ActionIcon>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Select
        aria-label="Add a type above"
        placeholder="Add a type above…"
        size="xs"
        w={320}
        mt={6}
        searchable
        limit={60}
        value={null}
        data={types
          .filter(({ id }) => !partners.some(({ entry }) => entry === id))
          .map(({ id, title }) => ({ value: id, label: title }))}
        onChange={(entry) => {
          if (!entry) return;
          // The capacity of the type itself is where its list begins.
          const own = typeof type.data.breakingKa === 'number' ? type.data.breakingKa : 1;
          const next = [...partners, { entry, selectiveKa: null, backupKa: own }];
          report(
            commit([{ op: 'update', element: { ...type, partners: next } }], `${type.name}: with ${nameOf(entry)}`),
          );
        }}
      />
    </section>
  );
}
