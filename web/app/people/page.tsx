import { notFound, redirect } from 'next/navigation';
import { PeoplePage } from '../../features/people/PeoplePage';
import { hereOf, pagePerson } from '../../server/people/page';

export const dynamic = 'force-dynamic';

export default async function Page() {
  const person = await pagePerson('/people');
  if (person.ownDesk) redirect('/');
  if (!person.administrator) notFound();
  return <PeoplePage here={hereOf(person)} />;
}
