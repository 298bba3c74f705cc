import { Readable } from 'node:stream';
import { createGzip } from 'node:zlib';
import { archiveConnection, archiveLines } from '../../../../../server/archive';
import { pool } from '../../../../../server/database';
import { download } from '../../../../../server/download';
import { route } from '../../../../../server/http';
import { note } from '../../../../../server/people/audit';
import { projectRow } from '../../../../../server/projects';

/** A project with its history and its issued sheets, as one file; `npm run restore` puts it back. */
export const GET = route<{ id: string }>('GET /api/projects/:id/archive', async ({ id }, _, person) => {
  await note(person, { action: 'projectArchived', projectId: id });
  const { name } = await projectRow(pool(), id);
  const connection = await archiveConnection(process.env.MESURA_DATABASE_URL!);
  const text = Readable.from(archiveLines(connection, [id]));
  text.once('close', () => void connection.end().catch(() => undefined));
  const packed = text.pipe(createGzip());
  text.once('error', (error) => packed.destroy(error));
  return download(
    `${name}.mesura-archive.gz`,
    'application/gzip',
    Readable.toWeb(packed) as ReadableStream<Uint8Array>,
  );
});
