import { longest, route, textBody } from '../../../../server/http';
import { importProject } from '../../../../server/projects';

export const POST = route(async (_, request) => ({
  id: await importProject(await textBody(request, longest.file), request.signal),
}));
