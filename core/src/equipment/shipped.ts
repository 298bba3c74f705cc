/** Everything that ships with the program. */
import type { LibraryEntry } from './entry';
import { switchboards } from './library/boards';
import { lines } from './library/lines';
import { relays } from './library/relays';
import { machines } from './library/machines';
import { switchgear } from './library/switchgear';
import { transformers } from './library/transformers';

export const shippedLibrary: readonly LibraryEntry[] = [
  ...lines,
  ...transformers,
  ...switchgear,
  ...switchboards,
  ...machines,
  ...relays,
];
