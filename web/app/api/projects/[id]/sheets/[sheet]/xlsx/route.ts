import { download } from '../../../../../../../server/download';
import { route } from '../../../../../../../server/http';
import { xlsxFile } from '../../../../../../../server/sheets/documents';

export const GET = route<{ id: string; sheet: string }>(
  'GET /api/projects/:id/sheets/:sheet/xlsx',
  async ({ id, sheet }, request) => {
    const { name, bytes } = await xlsxFile(id, sheet, request.signal);
    return download(name, 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', bytes as BodyInit);
  },
);
