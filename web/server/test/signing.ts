/** People who sign, for tests: each on a desk of its own, or signed in. */
import type { Subject } from '@mesura/core/sheets/content';
import { roles, type Role } from '../people/permissions';
import { nobody, type Person } from '../people/person';
import { prepareSheets, stepOf } from '../sheets/life';
import type { SheetHead } from '../sheets/seal';

export const onOwnDesk = (name: string): Person => ({
  ...nobody,
  ownDesk: true,
  administrator: true,
  roles: new Set<Role>(roles),
  engineerSomewhere: true,
  name,
  address: '127.0.0.1',
});

export const withAccount = (accountId: string, name: string, ...own: Role[]): Person => ({
  ...nobody,
  signedIn: true,
  accountId,
  name,
  roles: new Set(own),
  address: '192.0.2.7',
});

/** Prepared, checked and approved by three people, one after the other. */
export async function issued(
  projectId: string,
  relay: string,
  revision: number,
  reason: string,
  kind: Subject['kind'] = 'device',
): Promise<SheetHead> {
  const { prepared } = await prepareSheets(
    projectId,
    { subjects: [{ kind, id: relay }], revision, reason },
    onOwnDesk('Astrid Vale'),
  );
  const [{ run }] = prepared;
  await stepOf(projectId, { run, step: 'checked', seq: 1, text: '', about: '' }, onOwnDesk('Bo Harrow'));
  const { sheet } = await stepOf(
    projectId,
    { run, step: 'approved', seq: 2, text: '', about: '' },
    onOwnDesk('Cleo Marsh'),
  );
  return sheet!;
}
