import { notFound } from 'next/navigation';
import { history } from '../../../server/changes';
import { ServiceError } from '../../../server/errors';
import { openProject } from '../../../server/projects';
import { Desk } from '../../../shell/Desk';

export const dynamic = 'force-dynamic';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  try {
    const [project, batches] = [await openProject(id), await history(id)];
    return <Desk project={project} batches={batches} />;
  } catch (error) {
    if (error instanceof ServiceError && error.status === 404) notFound();
    throw error;
  }
}
