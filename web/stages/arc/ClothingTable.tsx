'use client';

import { ActionIcon, Button } from '@mantine/core';
import { IconPlus, IconTrash } from '@tabler/icons-react';
import type { Clothing } from '@mesura/core/model/arc';
import { settingsId } from '@mesura/core/model/element';
import { settingsOf } from '@mesura/core/model/network';
import { QuantityField } from '../../card/QuantityField';
import { TextField } from '../../card/TextField';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

/** What is worn up to which energy: a table of the project. */
export function ClothingTable() {
  const store = useProjectStore();
  const { clothing } = useProject((state) => settingsOf(state.network).arc);
  const put = (list: readonly Clothing[], what: string): string | null => {
    const { network, commit } = store.getState();
    const settings = { ...settingsOf(network), id: settingsId };
    const sorted = [...list].sort((p, q) => p.upToCal - q.upToCal);
    const element = { ...settings, arc: { ...settings.arc, clothing: sorted } };
    const op = network.elements.has(settingsId) ? ('update' as const) : ('add' as const);
    const result = commit([{ op, element }], `Clothing: ${what}`);
    return result.ok ? null : result.problems[0].message;
  };
  const changed = (k: number, part: Partial<Clothing>) =>
    clothing.map((each, at) => (at === k ? { ...each, ...part } : each));
  const most = clothing.at(-1)?.upToCal ?? 0;
  return (
    <section aria-label="Clothing">
      <h3 className={bench.subtitle} style={{ marginTop: 10 }}>
        Clothing by energy
      </h3>
      <table className={`${bench.table} figures`} aria-label="Clothing by energy">
        <tbody>
          {clothing.map(({ upToCal, wear }, k) => (
            <tr key={`${upToCal} ${k}`}>
              <td style={{ width: 130 }}>
                <QuantityField
                  compact
                  label="Up to"
                  unit="cal/cm²"
                  value={upToCal}
                  onCommit={(value) => put(changed(k, { upToCal: value! }), `up to ${value} cal/cm²`)}
                />
              </td>
              <td>
                <TextField
                  compact
                  label="Clothing"
                  value={wear}
                  onCommit={(text) => put(changed(k, { wear: text }), 'what is worn')}
                />
              </td>
              <td style={{ width: 34 }}>
                <ActionIcon
                  size="sm"
                  variant="subtle"
                  color="gray"
                  aria-label={`Remove the step up to ${upToCal} cal/cm²`}
                  onClick={() =>
                    put(
                      clothing.filter((_, at) => at !== k),
                      `step up to ${upToCal} cal/cm² removed`,
                    )
                  }
                >
                  <IconTrash size={14} />
                </ActionIcon>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className={bench.muted} style={{ margin: '4px 0' }}>
        Above the last step nobody works on it energised. The steps to begin with: NFPA 70E, Table 130.5(G), as
        remembered.
      </p>
      <Button
        size="compact-xs"
        variant="light"
        leftSection={<IconPlus size={13} />}
        disabled={clothing.length >= 20}
        onClick={() =>
          put([...clothing, { upToCal: most < 900 ? most + 10 : 1000, wear: 'to be decided' }], 'another step')
        }
      >
        Add step
      </Button>
    </section>
  );
}
