/** Changes to a network: batches that are applied as a whole or not at all, each with its inverse. */
import { z } from 'zod';
import { elementSchema, nameOf, settingsId, type Element } from './element';
import { elementIdSchema, type ElementId } from './fields';
import { validateNetwork, type Network } from './network';
import type { Problem } from './problem';
import { redirected, tiesOf as referencesAsText } from './references';
import { unstorableText } from './text';

/** An element whose texts can be stored and shown: no NUL, no half of a surrogate pair. */
const storableElement = elementSchema.superRefine((element, context) => {
  const field = unstorableText(element);
  if (field)
    context.addIssue({ code: 'custom', path: field, message: 'holds a character that cannot be stored: type it anew' });
});

export const changeSchema = z.discriminatedUnion('op', [
  z.object({ op: z.literal('add'), element: storableElement }),
  z.object({ op: z.literal('update'), element: storableElement }),
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
  if (problems.length === 0 && !leavesTiesAlone(network, batch)) {
    const known = knownProblems(network);
    const found = validateNetwork({ elements });
    problems.push(...found.filter((problem) => !known.has(problemKey(problem))));
    if (problems.length === 0) validated.set(elements, new Set(found.map(problemKey)));
  } else if (problems.length === 0 && validated.has(network.elements))
    validated.set(elements, validated.get(network.elements)!);
  return problems.length > 0 ? { ok: false, problems } : { ok: true, network: { elements }, inverse };
}

/** Problems that a network was found to have, kept with it: a large one is not looked through again for every change. */
const validated = new WeakMap<object, ReadonlySet<string>>();

function knownProblems(network: Network): ReadonlySet<string> {
  const known = validated.get(network.elements);
  if (known) return known;
  const found = new Set(validateNetwork(network).map(problemKey));
  validated.set(network.elements, found);
  return found;
}

/** Whether a batch only changes values that no other element leans on: then it can bring in no problem of {@link validateNetwork}. */
function leavesTiesAlone(network: Network, batch: readonly Change[]): boolean {
  const now = new Map<ElementId, Element>();
  return batch.every((change) => {
    if (change.op !== 'update') return false;
    const { element } = change;
    const before = now.get(element.id) ?? network.elements.get(element.id);
    now.set(element.id, element);
    return before !== undefined && tiesOf(before) === tiesOf(element);
  });
}

/** Name and everything by which an element refers to others. */
const tiesOf = (element: Element): string => {
  const terminals = element.kind === 'connection' ? [element.from.terminal, element.to.terminal] : [];
  return `${element.kind} ${nameOf(element)} ${terminals.join()} ${referencesAsText(element)}`;
};

const problemKey = (problem: Problem) => `${problem.code}|${problem.element}|${problem.message}`;

/** The removal of elements together with what hangs on them: connections, and references of relays and charts. */
export function removalOf(network: Network, ids: readonly ElementId[]): Change[] {
  const gone = new Set(ids.filter((id) => network.elements.has(id) && id !== settingsId));
  const left = (id: ElementId) => (gone.has(id) ? null : id);
  // What goes may take others with it, whatever stands first.
  for (let before = -1; before !== gone.size;) {
    before = gone.size;
    for (const element of network.elements.values())
      if (!gone.has(element.id) && redirected(element, left) === null) gone.add(element.id);
  }
  const changes: Change[] = [];
  for (const element of network.elements.values()) {
    if (gone.has(element.id)) continue;
    const kept = redirected(element, left)!;
    if (kept !== element) changes.push({ op: 'update', element: kept });
  }
  return [...changes, ...[...gone].map((id): Change => ({ op: 'remove', id }))];
}
