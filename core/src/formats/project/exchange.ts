/** A whole project file put into an open project: its elements under fresh names, beside what is there. */
import { putFragment } from '../../drawing/parts/fragment';
import type { Change } from '../../model/changes';
import { kinds, type Element, type ElementKind } from '../../model/element';
import type { Network } from '../../model/network';
import type { Exporter, Importer, Into, Report } from '../format';
import { placeFor } from '../into';
import { projectFormat, readProject, writeProject } from './project';

const title = 'Mesura project';

/** Number of elements of each kind, the most frequent first. */
export function countsOf(elements: Iterable<Element>, how = ''): Report['found'] {
  const counts = new Map<ElementKind, number>();
  for (const { kind } of elements) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  return [...counts]
    .sort(([, p], [, q]) => q - p)
    .map(([kind, count]) => ({ what: `${kinds[kind].title}${how}`, count }));
}

/** Elements as additions; settings of the project stay its own. */
export function additions(elements: readonly Element[], into: Into): Change[] {
  const own = elements.filter(({ kind }) => kind !== 'projectSettings');
  if (own.length === 0) return [];
  const fragment = { format: 'mesura-fragment' as const, version: 1 as const, elements: own };
  const { network, newId, page } = into;
  return putFragment(fragment, { network, newId, at: placeFor(into), page }).changes;
}

export const projectImporter: Importer = {
  id: 'project',
  title,
  sniff: ({ text }) => text.slice(0, 2000).includes(`"${projectFormat}"`),
  report({ text }, into) {
    const read = readProject(text);
    if (!read.ok) return { format: title, found: [], problems: read.problems, batch: [], label: '' };
    const { elements, name } = read.project;
    const batch = additions(elements, into);
    return {
      format: title,
      found: countsOf(batch.flatMap((change) => (change.op === 'add' ? [change.element] : []))),
      problems: [],
      batch,
      label: `Import ${name}`,
    };
  },
};

export const projectExporter: Exporter = {
  id: 'project',
  title: 'Project file',
  extension: 'json',
  write: (network: Network, name, notes) => ({
    content: writeProject({ name, notes, elements: network.elements.values() }),
  }),
};
