import { problemDocument, problemResponse } from '../../../../server/problem';

/** Whatever else is asked for below this address: programs get no page meant for people. */
const missing = (request: Request): Response =>
  problemResponse(
    problemDocument(404, 'missing', `There is no ${new URL(request.url).pathname}: see /api/v1/openapi.json.`),
  );

export { missing as DELETE, missing as GET, missing as PATCH, missing as POST, missing as PUT };
