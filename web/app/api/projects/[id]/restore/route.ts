import { route } from '../../../../../server/http';
import { restoreProject } from '../../../../../server/projects';

export const POST = route<{ id: string }>(({ id }) => restoreProject(id));
