import { ServiceError } from '../../../../../../../server/errors';
import { jsonBody, route } from '../../../../../../../server/http';
import { exchangeWithRelay, relaySchema } from '../../../../../../../server/relay/exchange';

/** Reads the relay, or sets it by this sheet; either way what it holds is compared and written down. */
export const POST = route<{ id: string; sheet: string }>(
  'POST /api/projects/:id/sheets/:sheet/relay',
  async ({ id, sheet }, request, person) => {
    const body = relaySchema.safeParse(await jsonBody(request));
    if (!body.success)
      throw new ServiceError(422, 'relay.request', 'Say whether to read or to send, and at which port.');
    return exchangeWithRelay(id, Number(sheet) || 0, body.data, person);
  },
);
