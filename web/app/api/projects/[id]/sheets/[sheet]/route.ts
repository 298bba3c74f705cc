import { NextResponse } from 'next/server';
import { route } from '../../../../../../server/http';
import { sheetJson } from '../../../../../../server/sheets/documents';

/** `sheet`: the number of an issued sheet, "run-" and a preparation, or "draft-" and a device. */
export const GET = route<{ id: string; sheet: string }>(
  'GET /api/projects/:id/sheets/:sheet',
  async ({ id, sheet }, request) =>
    NextResponse.json(await sheetJson(id, sheet, request.signal), { headers: { 'cache-control': 'no-store' } }),
);
