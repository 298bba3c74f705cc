import { notFound } from 'next/navigation';
import { history } from '../../../server/changes';
import { ServiceError } from '../../../server/errors';
import { openProject } from '../../../server/projects';
import { Desk } from '../../../shell/Desk';

export const dynamic = 'force-dynamic';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const loaded = await load(id);
  if (!loaded) notFound();
  return <Desk {...loaded} />;
}

async function load(id: string) {
  try {
    return { project: await openProject(id), batches: await history(id) };
  } catch (error) {
    if (error instanceof ServiceError && error.status === 404) return null;
    throw error;
  }
}
