/** A part of a drawing as the clipboard carries it, out of a file. */
import { putFragment, readFragment } from '../../drawing/parts/fragment';
import type { Importer } from '../format';
import { placeFor } from '../into';
import { countsOf } from './exchange';

const title = 'part of a drawing';

export const fragmentImporter: Importer = {
  id: 'fragment',
  title,
  sniff: ({ text }) => text.slice(0, 2000).includes('"mesura-fragment"'),
  report({ text }, into) {
    const read = readFragment(text);
    if (!read.ok) return { format: title, found: [], problems: read.problems, batch: [], label: '' };
    const { network, newId, page } = into;
    const { changes } = putFragment(read.fragment, { network, newId, at: placeFor(into), page });
    return { format: title, found: countsOf(read.fragment.elements), problems: [], batch: changes, label: 'Import' };
  },
};
