import { notFound } from 'next/navigation';
import { pool } from '../../../server/database';
import { ServiceError } from '../../../server/errors';
import { projectRow } from '../../../server/projects';
import { Desk } from '../../../shell/Desk';

export const dynamic = 'force-dynamic';

/** The model itself is fetched by the page: a large one must not be built into the document. */
export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const name = await nameOf(id);
  if (name === null) notFound();
  return <Desk id={id} name={name} />;
}

async function nameOf(id: string): Promise<string | null> {
  try {
    return (await projectRow(pool(), id)).name;
  } catch (error) {
    if (error instanceof ServiceError && error.status === 404) return null;
    throw error;
  }
}
