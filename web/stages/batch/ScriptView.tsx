'use client';

import dynamic from 'next/dynamic';
import { useEffect, useState } from 'react';
import { Alert, Button, Menu, Progress } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { IconDownload } from '@tabler/icons-react';
import type { Script } from '@mesura/core/model/batch';
import { ofKind } from '@mesura/core/model/network';
import { scriptExamples } from '@mesura/core/scripts/examples';
import type { Said } from '@mesura/core/scripts/sandbox';
import { csv } from '@mesura/core/formats/tables/csv';
import { PictureMenu } from '../../card/PictureMenu';
import { saveText } from '../../card/saveText';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { report } from '../../desk/report';
import { linesScene } from '../../plots/lines';
import { Marks } from '../../plots/Marks';
import type { Paper } from '../../plots/scene';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { may } from '../../project/who';
import type { ScriptAnswer } from '../../workers/programs.worker';
import { KeptList } from './KeptList';
import { setBatch, useBatchState } from './state';
import { cancelRun, runInThread, useRunning } from './running';
import bench from '../../card/bench.module.css';
import plots from '../../plots/plots.module.css';

const ScriptEditor = dynamic(() => import('./ScriptEditor').then((module) => module.ScriptEditor), { ssr: false });

const firstText = `// What scripts can say: docs/scripts.md, and Ctrl Space.
const rows = project.table('faults', { kind: '3ph' });
table(rows, 'Three-phase faults');
`;

const newScript = (name: string, text: string): Script => ({ kind: 'script', id: newId(), name, note: '', text });

/** Scripts of the project: written, run in a sandbox, what they say and write. */
export function ScriptView() {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const all = ofKind(network, 'script');
  const id = useBatchState((state) => state.script);
  const script = all.find((each) => each.id === id) ?? all[0] ?? null;
  const add = (element: Script) => {
    if (report(commit([{ op: 'add', element }], `Add script ${element.name}`))) setBatch({ script: element.id });
  };
  return (
    <>
      <KeptList
        what="script"
        all={all}
        chosen={script}
        choose={(next) => setBatch({ script: next })}
        make={() => newScript(`Script ${all.length + 1}`, firstText)}
      />
      {may('engineer') && (
        <Menu withinPortal position="bottom-start">
          <Menu.Target>
            <Button size="compact-xs" variant="default" mb={8}>
              From an example
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            {scriptExamples.map(({ name, text }) => (
              <Menu.Item key={name} onClick={() => add(newScript(name, text))}>
                {name}
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
      )}
      {script ? (
        <OneScript key={script.id} script={script} />
      ) : (
        <p className={bench.muted}>
          No script is kept yet. A script is TypeScript against this project: it reads and changes elements, runs
          studies, prints tables and plots, and writes files. It runs in a sandbox and reaches nothing else.
        </p>
      )}
    </>
  );
}

function OneScript({ script }: { script: Script }) {
  const commit = useProject((state) => state.commit);
  const store = useProjectStore();
  const running = useRunning(script.id);
  const [text, setText] = useState(script.text);
  const [stored, setStored] = useState(script.text);
  const kept = useBatchState((state) => state.scriptAnswer);
  const answer = kept?.script === script.id ? kept.answer : null;
  const mayChange = may('engineer');
  // Somebody else, or an undo, changed it: what is typed here stays unless nothing was typed.
  if (script.text !== stored) {
    setStored(script.text);
    if (text === stored) setText(script.text);
  }
  const isChanged = text !== script.text;
  const keep = () =>
    !isChanged || report(commit([{ op: 'update', element: { ...script, text } }], `Script ${script.name}`));
  useEffect(() => {
    if (!isChanged) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [isChanged]);
  const run = async () => {
    if (mayChange && !keep()) return;
    const found = await runInThread(script.id, store, (service, project, tell) => service.script(project, text, tell));
    if (found) setBatch({ scriptAnswer: { script: script.id, answer: found } });
  };
  return (
    <>
      <ScriptEditor
        text={text}
        readOnly={!mayChange}
        failedLine={answer?.failure?.line ?? null}
        onChange={setText}
        onRun={() => void run()}
        onLeave={() => mayChange && void keep()}
      />
      <div className={bench.head} style={{ marginTop: 8 }}>
        {running.progress === null ? (
          <Button size="compact-sm" onClick={() => void run()}>
            Run
          </Button>
        ) : (
          <>
            <Progress value={100 * running.progress} w={160} aria-label="Running the script" />
            <Button size="compact-xs" variant="default" onClick={() => cancelRun(script.id)}>
              Cancel
            </Button>
          </>
        )}
        {mayChange && (
          <Button size="compact-xs" variant="default" disabled={!isChanged} onClick={() => void keep()}>
            Keep
          </Button>
        )}
        <span className={bench.muted}>
          {isChanged ? 'changed, not kept yet' : 'Ctrl Enter runs, Ctrl Space completes'}
        </span>
      </div>
      {running.failure && (
        <Alert color="red" role="alert">
          {running.failure}
        </Alert>
      )}
      {answer && <Outcome script={script} answer={answer} />}
    </>
  );
}

function Outcome({ script, answer: { said, files, failure, changes } }: { script: Script; answer: ScriptAnswer }) {
  const commit = useProject((state) => state.commit);
  const [taken, setTaken] = useState<ScriptAnswer['changes'] | null>(null);
  return (
    <section aria-label="What the script says">
      {failure && (
        <Alert
          color="red"
          role="alert"
          title={failure.line === null ? 'It broke off' : `It broke off in line ${failure.line}`}
          mb={8}
        >
          {failure.message}
        </Alert>
      )}
      {files.length > 0 && (
        <div className={bench.head}>
          {files.map(({ name, bytes }) => (
            <Button
              key={name}
              size="compact-xs"
              variant="default"
              leftSection={<IconDownload size={13} />}
              onClick={() => saveText(name, bytes, 'application/octet-stream')}
            >
              {name}
            </Button>
          ))}
        </div>
      )}
      {changes.length > 0 && taken !== changes && (
        <Alert
          color="verdigris"
          mb={8}
          title={`The script changed ${changes.length} ${changes.length === 1 ? 'element' : 'elements'}`}
        >
          <Button
            size="compact-xs"
            disabled={!may('engineer')}
            onClick={() => report(commit([...changes], `By script ${script.name}`)) && setTaken(changes)}
          >
            Take over, as one step
          </Button>
        </Alert>
      )}
      {said.map((each, k) => (
        <Shown key={k} said={each} />
      ))}
      {said.length === 0 && !failure && <p className={bench.muted}>It ran to its end and said nothing.</p>}
    </section>
  );
}

function Shown({ said }: { said: Said }) {
  if (said.what === 'text') return <pre style={{ margin: 0, whiteSpace: 'pre-wrap', fontSize: 12.5 }}>{said.text}</pre>;
  return said.what === 'table' ? <SaidTable said={said} /> : <SaidPlot said={said} />;
}

function SaidTable({ said: { title, columns, rows } }: { said: Extract<Said, { what: 'table' }> }) {
  const lines = rows.map((cells, k) => ({ cells, id: String(k) }));
  const shown = columns.map((head, k): SortColumn<(typeof lines)[number]> => ({
    id: String(k),
    head,
    text: !rows.some((cells) => typeof cells[k] === 'number'),
    value: ({ cells }) => (typeof cells[k] === 'boolean' ? String(cells[k]) : (cells[k] as string | number | null)),
    digits: 5,
    width: 220,
  }));
  const name = title || 'Table';
  return (
    <>
      <div className={bench.head} style={{ marginTop: 10 }}>
        <h3 className={bench.subtitle} style={{ margin: 0 }}>
          {title}
        </h3>
        <span className={bench.spacer} />
        <Button
          size="compact-xs"
          variant="subtle"
          onClick={() =>
            saveText(
              `${name}.csv`,
              csv([
                columns,
                ...rows.map((row) => row.map((value) => (typeof value === 'boolean' ? String(value) : value))),
              ]),
            )
          }
        >
          CSV
        </Button>
      </div>
      <div style={{ overflowX: 'auto' }}>
        <SortTable label={name} columns={shown} rows={lines} rowId={({ id }) => id} current />
      </div>
    </>
  );
}

const sheet = { height: 280, margin: { top: 26, right: 14, bottom: 42, left: 64 }, text: 11 } satisfies Partial<Paper>;

function SaidPlot({ said: { plot } }: { said: Extract<Said, { what: 'plot' }> }) {
  const { ref, width } = useElementSize();
  const paper: Paper = { ...sheet, width: Math.max(width, 320) };
  const scene = linesScene(plot, paper);
  return (
    <div ref={ref} style={{ marginTop: 10 }}>
      <div className={bench.head}>
        <span className={bench.spacer} />
        <PictureMenu name={plot.title || 'Plot'} scene={scene} />
      </div>
      <svg
        className={plots.plot}
        height={paper.height}
        viewBox={`0 0 ${paper.width} ${paper.height}`}
        role="img"
        aria-label={plot.title || 'Plot'}
      >
        <Marks scene={scene} />
      </svg>
    </div>
  );
}
