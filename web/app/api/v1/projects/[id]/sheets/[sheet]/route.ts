import { NextResponse } from 'next/server';
import { download } from '../../../../../../../server/download';
import { route } from '../../../../../../../server/http';
import { answerTypes, queries, queryOf } from '../../../../../../../server/programs/operations';
import { pdfFile, sheetJson, xlsxFile } from '../../../../../../../server/sheets/documents';

type Params = { id: string; sheet: string };
export const GET = route<Params>('GET /api/v1/projects/:id/sheets/:sheet', async ({ id, sheet }, request) => {
  const { as } = queryOf(queries.sheet, request);
  if (as === 'json')
    return NextResponse.json(await sheetJson(id, sheet, request.signal), { headers: { 'cache-control': 'no-store' } });
  const { name, bytes } = await (as === 'pdf' ? pdfFile : xlsxFile)(id, sheet, request.signal);
  return download(name, answerTypes[as], bytes as BodyInit);
});
