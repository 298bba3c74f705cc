import { api, ApiError } from '../project/api';
import { who } from '../project/who';
import { say, tell } from './report';
import { today } from './today';

/** Stores much at once: the state before stays as a version to return to, and nothing is stored where that cannot be kept. */
export async function storeOver(
  { projectId, revision }: { readonly projectId: string | null; readonly revision: number },
  what: { readonly of: string; readonly stored: string; readonly notStored: string },
  store: () => boolean,
): Promise<void> {
  try {
    const name = `Before ${what.of} of ${today()}, revision ${revision}`;
    await api(`/projects/${projectId}/versions`, { method: 'POST', json: { revision, name, author: who() } });
    if (store()) say(what.stored, `${name} is kept in the history.`);
  } catch (error) {
    tell(what.notStored, error instanceof ApiError ? error.message : String(error));
  }
}
