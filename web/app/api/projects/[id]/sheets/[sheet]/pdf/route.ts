import { download } from '../../../../../../../server/download';
import { route } from '../../../../../../../server/http';
import { draftPdf, issuedPdf } from '../../../../../../../server/sheets';

/** `sheet` is the number of an issued sheet, or `draft-` and a relay. */
export const GET = route<{ id: string; sheet: string }>(
  'GET /api/projects/:id/sheets/:sheet/pdf',
  async ({ id, sheet }, request) => {
    const { name, pdf } = sheet.startsWith('draft-')
      ? await draftPdf(id, sheet.slice(6), request.signal)
      : await issuedPdf(id, Number(sheet) || 0);
    return download(name, 'application/pdf', new Uint8Array(pdf));
  },
);
