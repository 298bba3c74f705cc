'use client';

import { useState } from 'react';
import { SegmentedControl } from '@mantine/core';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { ReachRow } from '@mesura/core/reach/plan';
import type { SweepLine } from '@mesura/core/reach/sweep';
import { useDesk } from '../../desk/deskState';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { RouteDiagram } from './RouteDiagram';
import { SweepDiagram } from './SweepDiagram';
import { ConditionField, KindField, ResistanceFields } from './FaultFields';
import { useReachState } from './state';
import { wayOf } from './ways';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

/** Time over distance, both directions: by the impedances of the lines alone, or by faults moved along them. Lines selected on the drawing are the route. */
export function RouteView({ row, rows }: { row: ReachRow; rows: readonly ReachRow[] }) {
  const network = useProject((state) => state.network);
  const selection = useProject((state) => state.selection);
  const condition = useDesk((state) => state.condition);
  const { kind, resistance, arc } = useReachState();
  const [by, setBy] = useState<'impedance' | 'faults'>('impedance');
  const [state, setState] = useState<string>(condition ?? 'maximum');
  const picked = selection.filter((id) => network.elements.get(id)?.kind === 'line');
  const lines = picked.length > 1 ? picked : wayOf(row);
  const back = [...lines].reverse();
  const first = picked.length > 1 ? undefined : row.end.terminal;
  const forward = useCore(`way ${lines.join()} ${first}`, (service) => service.wayAlong(lines, first));
  // Back from where it ends: of a single line the other end.
  const last = back.length === 1 && first !== undefined ? 1 - first : undefined;
  const backward = useCore(`way ${back.join()} ${last}`, (service) => service.wayAlong(back, last));
  const sweep = useCore<readonly SweepLine[] | null>(
    by === 'faults' ? JSON.stringify(['sweep', lines, first, kind, resistance, arc, state]) : null,
    (service, ticket, onProgress) =>
      service.routeSweep(
        { lines, first, kind, resistance, arc, state: { condition: state as ElementId } },
        ticket,
        onProgress,
      ),
  );
  const name = (id: ElementId) => nameOf(network.elements.get(id)!);
  const titles = [lines.map(name).join(' – '), back.map(name).join(' – ')];
  if (forward.isCurrent && forward.value === null)
    return <p className={bench.problem}>The lines that are selected do not follow each other.</p>;
  return (
    <>
      <div className={bench.head}>
        <SegmentedControl
          size="xs"
          aria-label="Route by"
          value={by}
          onChange={(next) => setBy(next as typeof by)}
          data={[
            { value: 'impedance', label: 'by impedance' },
            { value: 'faults', label: 'by faults' },
          ]}
        />
        {by === 'faults' && (
          <>
            <KindField />
            <ResistanceFields />
            <ConditionField value={state} onChange={setState} />
            <Done of={sweep.progress} w={80} label="Moving the fault" />
          </>
        )}
      </div>
      <p className={bench.muted} style={{ margin: '0 0 6px' }}>
        {picked.length > 1
          ? 'The route is what is selected on the drawing.'
          : 'The own line and the longest that follows. Select lines on the drawing one after the other for another route.'}
      </p>
      {!forward.value || !backward.value ? (
        <p className={bench.muted} role="status">
          Following the lines …
        </p>
      ) : by === 'impedance' ? (
        [forward.value.route, backward.value.route].map((route, k) => (
          <RouteDiagram key={titles[k]} route={route} rows={rows} title={titles[k]} way={k === 0 ? 'there' : 'back'} />
        ))
      ) : sweep.value ? (
        <SweepDiagram list={sweep.value} lengthKm={forward.value.route.lengthKm} titles={titles} />
      ) : (
        <p className={bench.muted} role="status">
          Moving the fault along the lines …
        </p>
      )}
    </>
  );
}
