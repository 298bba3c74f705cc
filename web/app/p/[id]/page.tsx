import { notFound } from 'next/navigation';
import { pool } from '../../../server/database';
import { ServiceError } from '../../../server/errors';
import { hereOf, pagePerson } from '../../../server/people/page';
import { projectRow } from '../../../server/projects';
import { Desk } from '../../../shell/Desk';

export const dynamic = 'force-dynamic';

/** The model itself is fetched by the page: a large one must not be built into the document. */
export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const person = await pagePerson(`/p/${id}`, id);
  if (person.roles.size === 0) notFound();
  const name = await nameOf(id);
  if (name === null) notFound();
  return <Desk id={id} name={name} here={hereOf(person)} />;
}

async function nameOf(id: string): Promise<string | null> {
  try {
    return (await projectRow(pool(), id)).name;
  } catch (error) {
    if (error instanceof ServiceError && error.status === 404) return null;
    throw error;
  }
}
