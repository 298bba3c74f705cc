/** Changes to a network: batches that are applied as a whole or not at all, each with its inverse. */
import { z } from 'zod';
import { elementSchema, nameOf, settingsId, type Element } from './element';
import { elementIdSchema, type ElementId } from './fields';
import { validateNetwork, type Network } from './network';
import type { Problem } from './problem';

export const changeSchema = z.discriminatedUnion('op', [
  z.object({ op: z.literal('add'), element: elementSchema }),
  z.object({ op: z.literal('update'), element: elementSchema }),
  z.object({ op: z.literal('remove'), id: elementIdSchema }),
]);
export type Change = z.infer<typeof changeSchema>;

export const targetOf = (change: Change): ElementId => (change.op === 'remove' ? change.id : change.element.id);

export type Applied = { ok: true; network: Network; inverse: Change[] } | { ok: false; problems: Problem[] };

/**
 * Applies a batch. Errors: `change.exists`, `change.missing`, `change.kind`, and those of {@link validateNetwork} that the
 * batch brings in; then nothing is changed. Problems that were there before do not block work on something else.
 */
export function applyChanges(network: Network, batch: readonly Change[]): Applied {
  const elements = new Map(network.elements);
  const inverse: Change[] = [];
  const problems: Problem[] = [];
  const refuse = (code: string, message: string, element: ElementId) =>
    problems.push({ severity: 'error', code, message, element });

  for (const change of batch) {
    const id = targetOf(change);
    const before = elements.get(id);
    if (change.op === 'add') {
      if (before) refuse('change.exists', `"${id}" exists already`, id);
      elements.set(id, change.element);
      inverse.unshift({ op: 'remove', id });
    } else if (!before) {
      refuse('change.missing', `"${id}" does not exist any more`, id);
    } else if (change.op === 'update') {
      if (before.kind !== change.element.kind) refuse('change.kind', `${nameOf(before)} cannot change its kind`, id);
      elements.set(id, change.element);
      inverse.unshift({ op: 'update', element: before });
    } else {
      if (id === settingsId) refuse('change.settings', 'the project settings cannot be removed', id);
      elements.delete(id);
      inverse.unshift({ op: 'add', element: before });
    }
  }
  if (problems.length === 0) {
    const known = new Set(validateNetwork(network).map(problemKey));
    problems.push(...validateNetwork({ elements }).filter((problem) => !known.has(problemKey(problem))));
  }
  return problems.length > 0 ? { ok: false, problems } : { ok: true, network: { elements }, inverse };
}

const problemKey = (problem: Problem) => `${problem.code}|${problem.element}|${problem.message}`;

/** The removal of elements together with what hangs on them: connections, and references of relays and charts. */
export function removalOf(network: Network, ids: readonly ElementId[]): Change[] {
  const gone = new Set(ids.filter((id) => network.elements.has(id) && id !== settingsId));
  for (const element of network.elements.values())
    if (
      (element.kind === 'connection' && (gone.has(element.from.element) || gone.has(element.to.element))) ||
      (element.kind === 'panel' && gone.has(element.bus)) ||
      (element.kind === 'lineCoupling' && (gone.has(element.first) || gone.has(element.second)))
    )
      gone.add(element.id);

  const changes: Change[] = [];
  for (const element of network.elements.values()) {
    if (gone.has(element.id)) continue;
    const kept = withoutReferences(element, gone);
    if (kept !== element) changes.push({ op: 'update', element: kept });
  }
  return [...changes, ...[...gone].map((id): Change => ({ op: 'remove', id }))];
}

function withoutReferences(element: Element, gone: ReadonlySet<ElementId>): Element {
  if (element.kind === 'line' && element.tower !== null && gone.has(element.tower)) return { ...element, tower: null };
  if (element.kind === 'panel') {
    if (!element.members.some((id) => gone.has(id))) return element;
    return { ...element, members: element.members.filter((id) => !gone.has(id)) };
  }
  if ('page' in element && element.page !== undefined && gone.has(element.page))
    return withoutReferences({ ...element, page: undefined }, gone);
  if (element.kind === 'relay') {
    const losesCt = element.ct !== null && gone.has(element.ct);
    if (!losesCt && !element.trips.some((id) => gone.has(id))) return element;
    return { ...element, ct: losesCt ? null : element.ct, trips: element.trips.filter((id) => !gone.has(id)) };
  }
  if (element.kind === 'gradingChart') {
    if (!element.relays.some((id) => gone.has(id))) return element;
    return {
      ...element,
      relays: element.relays.filter((id) => !gone.has(id)),
      pairs: element.pairs.filter((pair) => !gone.has(pair.downstream) && !gone.has(pair.upstream)),
    };
  }
  return element;
}
