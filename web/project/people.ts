/** Who else has the project open, and where: as the server tells it. */
import { create } from 'zustand';
import type { PersonHere } from './protocol';

interface People {
  readonly others: readonly PersonHere[];
  /** False while no news comes: then nothing is said of others. */
  readonly live: boolean;
}

export const usePeople = create<People>()(() => ({ others: [], live: false }));

/** Of the styles of curves: the first one is that of one's own selection. */
const shades = 7;

/** The same for one page as long as it is open, and on every desk. */
export const shadeOf = (client: string): number => {
  let sum = 0;
  for (let k = 0; k < client.length; k++) sum = (31 * sum + client.charCodeAt(k)) >>> 0;
  return 1 + (sum % shades);
};
