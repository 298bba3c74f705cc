'use client';

import { installationSchema, type Installation } from '@mesura/core/model/circuit';
import type { ElementId } from '@mesura/core/model/fields';
import { find, nameIn } from '@mesura/core/model/network';
import { ObjectFields } from '../../card/ObjectFields';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { layingWords } from './words';
import bench from '../../card/bench.module.css';

/** What holds for all circuits of a board. */
export function InstallationForm({ board, installation }: { board: ElementId; installation: Installation }) {
  const network = useProject((state) => state.network);
  const store = useProjectStore();
  const name = nameIn(network, board);
  const hasElectrode = installation.system === 'TT' || installation.system === 'IT';
  const put = (part: Partial<Installation>, what: string): string | null => {
    const bus = find(store.getState().network, 'bus', board);
    if (!bus) return 'the board is not there any more';
    const element = { ...bus, installation: { ...installation, ...part } };
    const result = store.getState().commit([{ op: 'update', element }], `${name}: ${what}`);
    return result.ok ? null : result.problems[0].message;
  };
  return (
    <section aria-label={`Installation of ${name}`}>
      <h3 className={bench.subtitle}>For all circuits of {name}</h3>
      <div className={bench.head} style={{ alignItems: 'flex-end' }}>
        <ObjectFields
          schema={installationSchema}
          value={installation}
          fields={[
            'system',
            'rules',
            ...(hasElectrode ? (['raOhm', 'rbOhm'] as const) : []),
            'dropPercent',
            'startDropPercent',
            'coincidencePercent',
          ]}
          words={layingWords}
          of={name}
          store={put}
        />
      </div>
    </section>
  );
}
