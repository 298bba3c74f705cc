import { download } from '../../../../../../server/download';
import { ServiceError } from '../../../../../../server/errors';
import { jsonBody, route } from '../../../../../../server/http';
import { folderFile, folderSchema } from '../../../../../../server/sheets/documents';

export const POST = route<{ id: string }>('POST /api/projects/:id/sheets/folder', async ({ id }, request) => {
  const body = folderSchema.safeParse(await jsonBody(request));
  if (!body.success) throw new ServiceError(422, 'sheet.folder', 'Give the folder a title, and say which sheets.');
  const { name, bytes } = await folderFile(id, body.data, request.signal);
  return download(name, 'application/pdf', bytes as BodyInit);
});
