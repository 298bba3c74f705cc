'use client';

import { Alert, Button, Progress } from '@mantine/core';
import { newBatch, type Batch, type BatchRun } from '@mesura/core/model/batch';
import { ofKind } from '@mesura/core/model/network';
import { report } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { may } from '../../project/who';
import { BatchResult } from './BatchResult';
import { KeptList } from './KeptList';
import { RunCard } from './RunCard';
import { keepRun, setBatch, useBatchState } from './state';
import { cancelRun, runInThread, useRunning } from './running';
import bench from '../../card/bench.module.css';

/** A list of studies with their conditions, places and values; all answers as one table. */
export function BatchView() {
  const network = useProject((state) => state.network);
  const all = ofKind(network, 'batch');
  const id = useBatchState((state) => state.batch);
  const batch = all.find((each) => each.id === id) ?? all[0] ?? null;
  return (
    <>
      <KeptList
        what="batch"
        all={all}
        chosen={batch}
        choose={(next) => setBatch({ batch: next })}
        make={() => newBatch(newId(), `Batch ${all.length + 1}`)}
      />
      {batch ? (
        <OneBatch key={batch.id} batch={batch} />
      ) : (
        <p className={bench.muted}>
          No batch is kept yet. A batch is a list of studies that is run again at will: for each its conditions, places
          and values. All answers make one table, which is compared with the run before.
        </p>
      )}
    </>
  );
}

function OneBatch({ batch }: { batch: Batch }) {
  const commit = useProject((state) => state.commit);
  const store = useProjectStore();
  const running = useRunning(batch.id);
  const kept = useBatchState((state) => state.runs[batch.id]);
  const mayChange = may('engineer');
  const put = (runs: readonly BatchRun[], what: string) =>
    report(commit([{ op: 'update', element: { ...batch, runs: [...runs] } }], `Batch ${batch.name}: ${what}`));
  const run = async () => {
    const answer = await runInThread(batch.id, store, (service, project, tell) => service.batch(project, batch, tell));
    if (answer) keepRun(batch.id, answer);
  };
  return (
    <>
      {batch.runs.map((each, k) => (
        <RunCard
          key={k}
          k={k}
          run={each}
          outcome={kept?.last.answer.runs[k] ?? null}
          readOnly={!mayChange}
          change={(next) => put(batch.runs.with(k, next), `run ${k + 1}`)}
          copy={() => put(batch.runs.toSpliced(k + 1, 0, each), `run ${k + 1} once more`)}
          remove={() => put(batch.runs.toSpliced(k, 1), `without run ${k + 1}`)}
        />
      ))}
      <div className={bench.head} style={{ marginTop: 10 }}>
        {mayChange && (
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => put([...batch.runs, { study: 'faults', options: {} }], 'one more run')}
          >
            Add a run
          </Button>
        )}
        {running.progress === null ? (
          <Button size="compact-sm" disabled={batch.runs.length === 0} onClick={() => void run()}>
            Run all
          </Button>
        ) : (
          <>
            <Progress value={100 * running.progress} w={160} aria-label="Computing the batch" />
            <Button size="compact-xs" variant="default" onClick={() => cancelRun(batch.id)}>
              Cancel
            </Button>
          </>
        )}
      </div>
      {running.failure && (
        <Alert color="red" role="alert">
          {running.failure}
        </Alert>
      )}
      {kept && <BatchResult batch={batch} kept={kept} />}
    </>
  );
}
