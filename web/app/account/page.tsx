import { redirect } from 'next/navigation';
import { AccountPage } from '../../features/people/AccountPage';
import { hereOf, pagePerson } from '../../server/people/page';

export const dynamic = 'force-dynamic';

export default async function Page() {
  const person = await pagePerson('/account');
  if (person.ownDesk) redirect('/');
  return <AccountPage here={hereOf(person)} />;
}
