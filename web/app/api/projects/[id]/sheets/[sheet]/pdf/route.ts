import { download } from '../../../../../../../server/download';
import { route } from '../../../../../../../server/http';
import { pdfFile } from '../../../../../../../server/sheets/documents';

export const GET = route<{ id: string; sheet: string }>(
  'GET /api/projects/:id/sheets/:sheet/pdf',
  async ({ id, sheet }, request) => {
    const { name, bytes } = await pdfFile(id, sheet, request.signal);
    return download(name, 'application/pdf', bytes as BodyInit);
  },
);
