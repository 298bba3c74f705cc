'use client';

import { boxKinds, usualBox } from '@mesura/core/arc/directStudy';
import { equipment } from '@mesura/core/arc/equipment';
import type { ArcBox } from '@mesura/core/model/arc';
import { settingsId } from '@mesura/core/model/element';
import { settingsOf } from '@mesura/core/model/network';
import { QuantityField } from '../../card/QuantityField';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

/** How enclosures throw back what an arc of direct current radiates: a table of the project over what is usual. */
export function BoxTable() {
  const store = useProjectStore();
  const { boxes } = useProject((state) => settingsOf(state.network).arc);
  const put = (kind: ArcBox['equipment'], part: Partial<ArcBox>): string | null => {
    const { network, commit } = store.getState();
    const settings = { ...settingsOf(network), id: settingsId };
    const usual = { equipment: kind, ...usualBox(kind) };
    const before = settings.arc.boxes.find((each) => each.equipment === kind) ?? usual;
    const next = { ...before, ...part };
    const others = settings.arc.boxes.filter((each) => each.equipment !== kind);
    const isUsual = next.aMm === usual.aMm && next.k === usual.k;
    const element = { ...settings, arc: { ...settings.arc, boxes: isUsual ? others : [...others, next] } };
    const op = network.elements.has(settingsId) ? ('update' as const) : ('add' as const);
    const result = commit([{ op, element }], `Enclosure of d.c. arcs: ${equipment[kind].title}`);
    return result.ok ? null : result.problems[0].message;
  };
  return (
    <section aria-label="Enclosures">
      <h3 className={bench.subtitle} style={{ marginTop: 10 }}>
        Enclosures of d.c. arcs
      </h3>
      <table className={`${bench.table} figures`} aria-label="Enclosures of d.c. arcs">
        <tbody>
          {boxKinds.map((kind) => {
            const usual = usualBox(kind);
            const own = boxes.find((each) => each.equipment === kind);
            return (
              <tr key={kind}>
                <td>{equipment[kind].title}</td>
                <td style={{ width: 130 }}>
                  <QuantityField
                    compact
                    optional
                    label={`a, ${equipment[kind].title}`}
                    unit="mm"
                    value={own?.aMm ?? null}
                    placeholder={String(usual.aMm)}
                    onCommit={(value) => put(kind, { aMm: value ?? usual.aMm })}
                  />
                </td>
                <td style={{ width: 130 }}>
                  <QuantityField
                    compact
                    optional
                    label={`k, ${equipment[kind].title}`}
                    unit=""
                    value={own?.k ?? null}
                    placeholder={String(usual.k)}
                    onCommit={(value) => put(kind, { k: value ?? usual.k })}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className={bench.muted} style={{ margin: '4px 0' }}>
        E = k·W/(a² + d²); empty: Wilkins 2004, as remembered.
      </p>
    </section>
  );
}
