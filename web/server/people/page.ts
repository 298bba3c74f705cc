/** Who asks for a page. */
import { headers } from 'next/headers';
import { redirect } from 'next/navigation';
import type { Here } from '../../project/who';
import { personOf, type Person } from './person';

/** Whoever has to sign in first is led there, and back afterwards. */
export async function pagePerson(path: string, projectId: string | null = null): Promise<Person> {
  const person = await personOf(await headers(), projectId);
  if (!person.ownDesk && !person.signedIn) redirect(`/sign-in?to=${encodeURIComponent(path)}`);
  return person;
}

/** What of it the page tells its browser. */
export const hereOf = ({ ownDesk, name, accountId, administrator, roles }: Person): Here => ({
  ownDesk,
  name,
  accountId,
  administrator: !ownDesk && administrator,
  roles: [...roles],
});
