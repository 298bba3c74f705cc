'use client';

import { Button } from '@mantine/core';
import type { Check } from '@mesura/core/checks/check';
import { faultKindTitles } from '@mesura/core/faults/kinds';
import { conditionOf } from '@mesura/core/model/state';
import { useGoToProblem } from '../desk/findings';
import { useProject } from '../project/ProjectContext';
import { useCore } from '../workers/useCore';
import { Proposal } from './Proposal';
import { WorkingView } from './WorkingView';
import bench from './bench.module.css';

/** What was compared, where, and the calculation behind it. */
export function CheckCard({ check }: { check: Check }) {
  const network = useProject((state) => state.network);
  const go = useGoToProblem();
  const { id, rule, code, message, severity, subject, field, deciding } = check;
  const working = useCore(`working ${id}`, (service) => service.checkWorking({ id, rule }));
  const place = deciding?.place ? network.elements.get(deciding.place) : undefined;
  return (
    <article className={bench.card} aria-label={`Check ${check.title}`} style={{ marginTop: 10 }}>
      <div className={bench.cardBody}>
        <div className={bench.head}>
          <h3 className={bench.title}>{check.title}</h3>
          <span className={bench.spacer} />
          {check.proposal && <Proposal element={subject} proposal={check.proposal} />}
          <Button
            size="compact-xs"
            variant="light"
            onClick={() => go({ severity, code, message, element: subject, field })}
          >
            Go there
          </Button>
        </div>
        <p style={{ margin: '0 0 6px', fontSize: 13 }}>{message}</p>
        {deciding && (
          <p className={bench.muted} style={{ margin: '0 0 6px' }}>
            Decided in {conditionOf(network, deciding.condition)?.name ?? 'a condition that is gone'}
            {deciding.kind && `, ${faultKindTitles[deciding.kind]} fault`}
            {place && 'name' in place && ` at ${place.name}`}
          </p>
        )}
        {working.value && working.value.sections.length > 0 ? (
          <div className={working.isCurrent ? undefined : bench.stale}>
            <WorkingView working={{ ...working.value, omitted: 0 }} />
          </div>
        ) : (
          working.isCurrent && <p className={bench.muted}>There is nothing to calculate here.</p>
        )}
      </div>
    </article>
  );
}
