import { NextResponse } from 'next/server';
import { toString } from 'qrcode';
import { ServiceError } from '../../../../server/errors';
import { jsonBody, route } from '../../../../server/http';
import { codesSchema, oneTimeCodes } from '../../../../server/people/accounts';

export const POST = route('POST /api/account/codes', async (_, request, person) => {
  const body = codesSchema.safeParse(await jsonBody(request));
  if (!body.success) throw new ServiceError(422, 'codes.request', 'Type your password, and the code.');
  const answer = await oneTimeCodes(body.data, person);
  const picture = answer.address ? await toString(answer.address, { type: 'svg', margin: 1 }) : undefined;
  return NextResponse.json({ ...answer, picture }, { headers: { 'cache-control': 'no-store' } });
});
