'use client';

import { useEffect, useState } from 'react';
import { Button, Group, Menu, SegmentedControl } from '@mantine/core';
import { IconDownload, IconSignature } from '@tabler/icons-react';
import type { IssuableContent, SheetContent } from '@mesura/core/sheets/content';
import type { StoredContent } from '@mesura/core/sheets/digestible';
import { api } from '../../project/api';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { may } from '../../project/who';
import { useRegister } from '../../desk/register';
import { useCore } from '../../workers/useCore';
import type { RunDetail } from '../../server/sheets/register';
import { DifferenceList } from './DifferenceList';
import { DocumentView } from './DocumentView';
import { LifeView } from './LifeView';
import { ReadBackView } from './ReadBackView';
import { rowState, type RegisterRow } from './rows';
import { SheetView } from './SheetView';
import type { Asked } from './SignDialog';
import { prepare, step } from './steps';
import { Chip } from '../../desk/Chip';
import bench from '../../card/bench.module.css';
import { Percent } from '../../workers/Done';

type View = 'now' | 'prepared' | 'issued' | 'relay';

/** One subject: as it stands, as it was prepared, as it is issued, and what is in the relay. */
export function SheetCard({ row, ask }: { row: RegisterRow; ask: (asked: Asked) => void }) {
  const store = useProjectStore();
  const projectId = useProject((state) => state.id);
  const saved = useProject((state) => state.saving.status === 'saved');
  const { open, sheet, isWithdrawn, kind, id, name, differences } = row;
  const [chosen, setView] = useState<View | null>(null);
  const offered: View[] = [
    'now',
    ...(open ? (['prepared'] as const) : []),
    ...(sheet ? (['issued'] as const) : []),
    ...(sheet && !isWithdrawn && kind === 'device' ? (['relay'] as const) : []),
  ];
  const view = chosen && offered.includes(chosen) ? chosen : open ? 'prepared' : 'now';
  const now = useCore<IssuableContent | null>(
    view === 'now' ? `sheet ${row.key}` : null,
    (service, ticket, onProgress) => service.sheet({ kind, id }, ticket, onProgress),
  );
  const state = rowState(row);
  const file = view === 'prepared' && open ? `run-${open.id}` : view === 'now' ? draftName(row) : `${sheet!.id}`;
  const titles: Readonly<Record<View, string>> = {
    now: 'As it stands',
    prepared: open ? (open.state === 'rejected' ? 'Rejected' : 'Prepared') : '',
    issued: sheet ? `Revision ${sheet.number}` : '',
    relay: 'In the relay',
  };
  const askPrepare = () =>
    ask({
      title: `Prepare revision ${(sheet?.number ?? 0) + 1} of ${name}`,
      verb: 'Prepare',
      help: 'What the sheet says now is frozen under your signature, and waits to be checked.',
      words: { label: 'Reason of this revision', must: false },
      run: async ({ text, as }, onProgress, isWanted) => {
        const { revision } = store.getState();
        const count = await prepare(projectId, { subjects: [row], revision, reason: text, as }, onProgress, isWanted);
        if (count > 0) setView('prepared');
      },
    });
  return (
    <article className={bench.card} aria-label={`Sheet of ${name}`}>
      <div className={bench.cardBody}>
        <div className={bench.head}>
          <h3 className={bench.title}>{name}</h3>
          {state && <Chip state={state.tone}>{state.text}</Chip>}
          <span className={bench.spacer} />
          <Menu position="bottom-end">
            <Menu.Target>
              <Button size="compact-sm" variant="default" leftSection={<IconDownload size={14} />}>
                File
              </Button>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Item component="a" href={`/api/projects/${projectId}/sheets/${file}/pdf`}>
                PDF, {titles[view === 'relay' ? 'issued' : view].toLowerCase()}
              </Menu.Item>
              <Menu.Item component="a" href={`/api/projects/${projectId}/sheets/${file}/xlsx`}>
                Workbook with live formulas
              </Menu.Item>
            </Menu.Dropdown>
          </Menu>
          {may('engineer') && (
            <Button
              size="compact-sm"
              leftSection={<IconSignature size={14} />}
              disabled={!saved}
              onClick={askPrepare}
              variant={open && open.state !== 'rejected' ? 'default' : 'filled'}
            >
              Prepare
            </Button>
          )}
        </div>
        <SegmentedControl
          size="xs"
          mb={8}
          aria-label="Which state of the sheet"
          value={view}
          onChange={(value) => setView(value as View)}
          data={offered.map((value) => ({ value, label: titles[value] }))}
        />
        {view === 'now' && (
          <>
            {sheet && !isWithdrawn && differences && differences.length > 0 && (
              <DifferenceList title={`Not as in revision ${sheet.number}, which is issued`} differences={differences} />
            )}
            {now.value ? (
              <div className={now.isCurrent ? undefined : bench.stale}>
                <Content content={now.value} />
              </div>
            ) : (
              <p className={bench.muted}>
                {now.failed ??
                  (now.isCurrent ? (
                    'There is nothing to say about it: it is gone, or nothing feeds it.'
                  ) : (
                    <>
                      Computing … <Percent of={now.progress} />
                    </>
                  ))}
              </p>
            )}
          </>
        )}
        {view === 'prepared' && open && <PreparedView runId={open.id} ask={ask} />}
        {view === 'issued' && sheet && (
          <IssuedView key={sheet.id} row={row} ask={ask} withdraw={(text, as) => withdraw(text, as)} />
        )}
        {view === 'relay' && sheet && <ReadBackView sheet={sheet} name={name} ask={ask} />}
      </div>
    </article>
  );

  async function withdraw(text: string, as: string | undefined) {
    const run = useRegister.getState().runs.find(({ id: of }) => of === sheet?.runId);
    if (run) await step(projectId, [run], { step: 'withdrawn', text, as });
  }
}

const draftName = ({ kind, id }: RegisterRow): string =>
  `draft-${kind === 'device' ? '' : `${kind}-`}${id.replace(' ', '--at--')}`;

function Content({ content, comment }: { content: StoredContent; comment?: (key: string, title: string) => void }) {
  if ('report' in content) return <DocumentView content={content} />;
  if (content.form === 3) return <SheetView content={content as SheetContent} comment={comment} />;
  return (
    <p className={bench.muted}>
      This sheet was issued by a former version of Mesura. Its PDF stands as it was, with its digest and its seal.
    </p>
  );
}

/** What was frozen, with its signatures, comments, and what is to be done next. */
function PreparedView({ runId, ask }: { runId: string; ask: (asked: Asked) => void }) {
  const projectId = useProject((state) => state.id);
  const run = useRegister((state) => state.runs.find(({ id }) => id === runId));
  const [detail, setDetail] = useState<RunDetail | null>(null);
  useEffect(() => {
    let stale = false;
    api<RunDetail>(`/projects/${projectId}/sheets/run-${runId}`).then(
      (read) => !stale && setDetail(read),
      () => undefined,
    );
    return () => {
      stale = true;
    };
  }, [projectId, runId]);
  if (!run) return null;
  const comment = (about: string, title: string) =>
    ask({
      title: about ? `Comment on ${title}` : `Comment on ${run.name}`,
      verb: 'Comment',
      help: 'A sheet is not checked while comments are open: whoever prepared it answers, or it is rejected.',
      words: { label: 'Comment', must: true },
      run: ({ text, as }) => step(projectId, [run], { step: 'comment', text, about, as }),
    });
  return (
    <>
      <LifeView run={run} values={detail ? valuesOf(detail) : new Map()} ask={ask} comment={() => comment('', '')} />
      {detail && detail.since.length > 0 && (
        <DifferenceList title="Changed since the revision before" differences={detail.since} />
      )}
      {detail ? (
        <Content content={detail.content} comment={run.state === 'rejected' ? undefined : comment} />
      ) : (
        <p className={bench.muted}>Reading …</p>
      )}
    </>
  );
}

/** Titles of values by their keys, for comments. */
const valuesOf = ({ content }: Pick<RunDetail, 'content'>): ReadonlyMap<string, string> =>
  'values' in content
    ? new Map(
        content.values.map(({ functionId, field, code, setting }) => [
          `${functionId}.${field}`,
          `${code} ${setting.toLowerCase()}`,
        ]),
      )
    : new Map();

function IssuedView({
  row: { sheet, name, isWithdrawn, differences },
  ask,
  withdraw,
}: {
  row: RegisterRow;
  ask: (asked: Asked) => void;
  withdraw: (text: string, as: string | undefined) => Promise<void>;
}) {
  const projectId = useProject((state) => state.id);
  const sheets = useRegister((state) => state.sheets);
  const known = useRegister((state) => state.contents.get(sheet!.id));
  const [read, setRead] = useState<StoredContent | null>(null);
  const content = known ?? read;
  const id = sheet!.id;
  useEffect(() => {
    if (known) return;
    let stale = false;
    api<{ content: StoredContent }>(`/projects/${projectId}/sheets/${id}`).then(
      (answer) => !stale && setRead(answer.content),
      () => undefined,
    );
    return () => {
      stale = true;
    };
  }, [projectId, id, known]);
  const history = sheets.filter(({ relayId }) => relayId === sheet!.relayId);
  return (
    <>
      <ul className={bench.help} style={{ marginBottom: 8 }} aria-label="Issued revisions">
        {history.map((head, k) => (
          <li key={head.id}>
            <a href={`/api/projects/${projectId}/sheets/${head.id}/pdf`}>Revision {head.number}</a> ·{' '}
            {head.issuedAt.slice(0, 16).replace('T', ' ')} by {head.issuedBy}
            {head.signatures
              ?.filter(({ step: of }) => of !== 'approved')
              .map(({ step: of, name: who }) => `, ${of} by ${who}`)}{' '}
            · project revision {head.projectRevision} ·{' '}
            <span className="figure" title={`Digest ${head.digest}, seal ${head.seal || 'none'}`}>
              {head.digest.slice(0, 12)}
            </span>
            {head.reason && ` · ${head.reason}`}
            {k > 0 && ' · superseded'} {!head.sound && <Chip state="fail">seal does not fit</Chip>}
          </li>
        ))}
      </ul>
      <Group gap={6} mb={8}>
        {isWithdrawn ? (
          <Chip state="fail">withdrawn</Chip>
        ) : (
          may('approver') &&
          sheet!.runId && (
            <Button
              size="compact-sm"
              variant="default"
              onClick={() =>
                ask({
                  title: `Withdraw revision ${sheet!.number} of ${name}`,
                  verb: 'Withdraw',
                  help: 'Nothing is set by a withdrawn sheet. It stays in the register as it is.',
                  words: { label: 'Why', must: true },
                  run: ({ text, as }) => withdraw(text, as),
                })
              }
            >
              Withdraw
            </Button>
          )
        )}
      </Group>
      {differences && differences.length > 0 && (
        <DifferenceList title="What of it no longer is as it was signed" differences={differences} />
      )}
      {content ? <Content content={content} /> : <p className={bench.muted}>Reading …</p>}
    </>
  );
}
