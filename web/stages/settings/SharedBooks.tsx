'use client';

import { useState } from 'react';
import { Button } from '@mantine/core';
import type { Rulebook } from '@mesura/core/model/rulebook';
import { ruleDifferences } from '@mesura/core/rules/exchange';
import { useSharedList } from '../../desk/useSharedList';
import { who } from '../../project/who';
import type { SharedRulebook } from '../../server/sharedRulebooks';
import { BookDifferences } from './BookDifferences';
import bench from '../../card/bench.module.css';

/** Rulebooks that the projects of this installation share, in versions: taken as a copy, compared with the one in use, shared as the next version. */
export function SharedBooks({
  book,
  isOwn,
  onTake,
  onShared,
}: {
  book: Rulebook;
  isOwn: boolean;
  onTake: (book: Rulebook) => void;
  onShared: (version: number) => void;
}) {
  const { list, failed, act } = useSharedList<SharedRulebook>('/rulebooks', 'books');
  const [against, setAgainst] = useState<string | null>(null);
  const versions = list.filter(({ book: { name } }) => name === (book.shared?.name ?? book.name));
  const latest = versions.reduce((most, { version }) => Math.max(most, version), 0);
  const own = versions.find(({ version }) => version === book.shared?.version);
  const share = async () => {
    if (await act('Not shared', '/rulebooks', { method: 'POST', json: { book, author: who() } }))
      onShared(
        Math.max(0, ...list.filter(({ book: { name } }) => name === book.name).map(({ version }) => version)) + 1,
      );
  };
  const compared = list.find(({ id }) => id === against);
  const changed = own ? ruleDifferences(own.book, book).length : 0;
  return (
    <section aria-label="Shared rulebooks">
      {failed && <p className={bench.problem}>{failed}</p>}
      <div className={bench.head}>
        <span className={bench.muted} role="status">
          {book.shared && isOwn
            ? `In use: version ${book.shared.version} of ${book.shared.name}${changed > 0 ? `, ${changed} rules changed since` : ''}${latest > book.shared.version ? `; version ${latest} is there` : ''}.`
            : isOwn
              ? 'The rulebook in use is not shared.'
              : 'Plain practice ships with every project.'}
        </span>
        <span className={bench.spacer} />
        {isOwn && (
          <Button size="compact-xs" variant="light" onClick={() => void share()}>
            Share “{book.name}”
          </Button>
        )}
      </div>
      {list.length === 0 ? (
        <p className={bench.muted}>No rulebook is shared yet.</p>
      ) : (
        <table className={bench.table} aria-label="Shared rulebooks">
          <tbody>
            {list.map(({ id, version, author, sharedAt, book: shared }) => (
              <tr key={id}>
                <td>{shared.name}</td>
                <td className="number">version {version}</td>
                <td>
                  {author}, {sharedAt.slice(0, 10)}
                </td>
                <td className="number">{shared.rules.length} rules</td>
                <td>
                  <Button
                    size="compact-xs"
                    variant="default"
                    aria-label={`Take version ${version} of ${shared.name}`}
                    onClick={() => onTake({ ...shared, shared: { name: shared.name, version } })}
                  >
                    Take
                  </Button>{' '}
                  <Button
                    size="compact-xs"
                    variant={against === id ? 'light' : 'subtle'}
                    aria-label={`Compare with version ${version} of ${shared.name}`}
                    onClick={() => setAgainst(against === id ? null : id)}
                  >
                    Compare
                  </Button>{' '}
                  <Button
                    size="compact-xs"
                    variant="subtle"
                    color="red"
                    aria-label={`Take version ${version} of ${shared.name} out`}
                    onClick={() => void act('Not taken out', `/rulebooks/${id}`, { method: 'DELETE' })}
                  >
                    Take out
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {compared && (
        <BookDifferences
          before={compared.book}
          title={`${compared.book.name}, version ${compared.version}`}
          after={book}
        />
      )}
    </section>
  );
}
