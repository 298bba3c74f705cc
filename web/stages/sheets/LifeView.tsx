'use client';

import { Button, Group } from '@mantine/core';
import { openComments, signatureOf, whyNot, type LifeStep, type SheetEvent } from '@mesura/core/sheets/life';
import { Chip } from '../../desk/Chip';
import { useProject } from '../../project/ProjectContext';
import { may, useHere, who } from '../../project/who';
import type { RunHead } from '../../server/sheets/register';
import type { Asked } from './SignDialog';
import { step } from './steps';
import bench from '../../card/bench.module.css';

const when = ({ at }: Pick<SheetEvent, 'at'>) => at.slice(0, 16).replace('T', ' ');

/** Signatures and comments of a preparation, and what can be done with it next. */
export function LifeView({
  run,
  values,
  ask,
  comment,
}: {
  run: RunHead;
  /** Titles of values by their keys. */
  values: ReadonlyMap<string, string>;
  ask: (asked: Asked) => void;
  comment: () => void;
}) {
  const projectId = useProject((state) => state.id);
  const { ownDesk, accountId, name } = useHere();
  const signer = { accountId, name: ownDesk ? who() : name };
  const take = (what: LifeStep, given: { text: string; as: string | undefined }, about = '') =>
    step(projectId, [run], { step: what, text: given.text, about, as: given.as });
  /** On one's own desk the name is written with the signature: only the state can be in the way before. */
  const hindrance = (what: LifeStep) =>
    whyNot(run.events, { step: what, text: 'x' }, ownDesk ? { accountId: null, name: '\u0000' } : signer);
  const sign = (what: 'checked' | 'approved', verb: string, help: string) => {
    const why = hindrance(what);
    return (
      <Button
        size="compact-sm"
        disabled={why !== null}
        title={why ?? undefined}
        onClick={() =>
          ask({ title: `${verb} ${run.name}`, verb, help, words: null, run: (given) => take(what, given) })
        }
      >
        {verb}
      </Button>
    );
  };
  const reject = () =>
    ask({
      title: `Reject ${run.name}`,
      verb: 'Reject',
      help: 'Whoever prepared it corrects the project and prepares the sheet anew. This one stays in the register.',
      words: { label: 'Why', must: true },
      run: (given) => take('rejected', given),
    });
  const open = new Set(openComments(run.events).map(({ seq }) => seq));
  const comments = run.events.filter(({ step: of }) => of === 'comment');
  const rejected = signatureOf(run.events, 'rejected');
  return (
    <div role="group" aria-label="Life of the sheet">
      <table className={`${bench.table} figures`} aria-label="Signatures">
        <tbody>
          {(['prepared', 'checked', 'approved'] as const).map((of) => {
            const signed = signatureOf(run.events, of);
            return (
              <tr key={of}>
                <td className={bench.muted} style={{ width: 80 }}>
                  {of}
                </td>
                <td>{signed ? signed.name : '–'}</td>
                <td className={bench.muted}>
                  {signed && `${when(signed)}${signed.signedIn ? '' : ' · not signed in'}`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {run.reason && <p className={bench.muted}>Reason: {run.reason}</p>}
      {rejected && (
        <p className={bench.problem} role="alert">
          Rejected by {rejected.name} on {when(rejected)}: {rejected.text}
        </p>
      )}
      {comments.length > 0 && (
        <ul className={bench.help} aria-label="Comments">
          {comments.map((each) => (
            <li key={each.seq}>
              {each.about && <strong>{values.get(each.about) ?? each.about}: </strong>}
              {each.text}{' '}
              <span className={bench.muted}>
                ({each.name}, {when(each)})
              </span>{' '}
              {open.has(each.seq) ? (
                run.state !== 'issued' && (
                  <Button
                    size="compact-xs"
                    variant="subtle"
                    onClick={() =>
                      ask({
                        title: 'Resolve the comment',
                        verb: 'Resolve',
                        help: 'The comment stays to be read, with who resolved it.',
                        words: { label: 'Answer', must: false },
                        run: (given) => take('resolved', given, String(each.seq)),
                      })
                    }
                  >
                    Resolve
                  </Button>
                )
              ) : (
                <Chip state="pass">resolved</Chip>
              )}
            </li>
          ))}
        </ul>
      )}
      <Group gap={6} my={8}>
        {may('checker') &&
          run.state === 'prepared' &&
          sign(
            'checked',
            'Check',
            'Your name stands on the sheet as that of who has checked values, figures and reasons.',
          )}
        {may('approver') &&
          run.state === 'checked' &&
          sign(
            'approved',
            'Approve and issue',
            'The sheet is issued: frozen with its figures and its PDF. A later revision replaces it.',
          )}
        {may('checker', 'approver') && (run.state === 'prepared' || run.state === 'checked') && (
          <Button size="compact-sm" variant="light" color="red" onClick={reject}>
            Reject
          </Button>
        )}
        {may('engineer', 'checker', 'approver') && run.state !== 'issued' && (
          <Button size="compact-sm" variant="default" onClick={comment}>
            Comment
          </Button>
        )}
      </Group>
    </div>
  );
}
