import { route } from '../../../../server/http';
import { unshareType } from '../../../../server/sharedTypes';

export const DELETE = route<{ type: string }>(async ({ type }) => ({ types: await unshareType(type) }));
