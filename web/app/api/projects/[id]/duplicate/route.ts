import { route } from '../../../../../server/http';
import { duplicateProject } from '../../../../../server/projects';

export const POST = route<{ id: string }>(async ({ id }) => ({ id: await duplicateProject(id) }));
