import { NextResponse } from 'next/server';
import { bytesBody, longest, route } from '../../../../server/http';
import { note } from '../../../../server/people/audit';
import { operations, queries, queryOf } from '../../../../server/programs/operations';
import { projectFromFile } from '../../../../server/programs/exchange';
import { listProjects } from '../../../../server/projects';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/v1/projects', async (_, _request, { accountId }) => ({
  projects: await listProjects(accountId),
}));

export const POST = route('POST /api/v1/projects', async (_, request, person) => {
  const { name } = queryOf(queries.file, request);
  const bytes = await bytesBody(request, longest.file);
  const made = await projectFromFile(name, bytes, person.accountId, request.signal);
  await note(person, { action: 'projectAdded', projectId: made.id, detail: 'from a file' });
  const [{ status }] = operations['POST /api/v1/projects'].answers;
  return NextResponse.json(made, { status });
});
