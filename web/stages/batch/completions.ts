/** What can come next in a script: the words of scripts, and between quotes studies, options and names of the project. */
import type { Completion, CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import {
  asOneWord,
  isStudy,
  optionWords,
  studyNames,
  studySummaries,
  studyWords,
  type StudyName,
} from '@mesura/cli/words';
import { kinds, nameOf } from '@mesura/core/model/element';
import type { Network } from '@mesura/core/model/network';
import { scriptWords, type Word } from '@mesura/core/scripts/words';

const said = ({ name, signature, means }: Word, label = name): Completion => ({
  label,
  type: signature.startsWith('(') ? 'function' : 'variable',
  detail: signature,
  info: means,
});

const members = new Map<string, Completion[]>();
for (const word of scriptWords) {
  const [object, member] = word.name.split('.');
  if (member) members.set(object, [...(members.get(object) ?? []), said(word, member)]);
}
const roots: Completion[] = [
  ...scriptWords.filter(({ name }) => !name.includes('.')).map((word) => said(word)),
  ...[...members.keys()].map((label) => ({ label, type: 'namespace' })),
];

const studies = studyNames
  .filter((name) => name !== 'batch' && name !== 'script')
  .map((label): Completion => ({ label, type: 'enum', info: studySummaries[label] }));

const optionsOf = (study: StudyName): Completion[] =>
  [...studyWords[study], 'columns' as const, 'set' as const].map((name) => ({
    label: asOneWord(name),
    type: 'property',
    info: optionWords[name].description,
    apply: `${asOneWord(name)}: `,
  }));

const mostNames = 2000;

/** As the editor asks. `network`: of now. */
export const completionsFor =
  (network: () => Network) =>
  (context: CompletionContext): CompletionResult | null => {
    const line = context.state.doc.lineAt(context.pos);
    const before = line.text.slice(0, context.pos - line.from);
    const at = (word: string, options: readonly Completion[]): CompletionResult => ({
      from: context.pos - word.length,
      options: [...options],
    });
    const asked = /\b(?:study|table)\(\s*['"]([\w]*)$/.exec(before);
    if (asked) return at(asked[1], studies);
    const kind = /\belements\(\s*['"]([\w]*)$/.exec(before);
    if (kind)
      return at(
        kind[1],
        Object.entries(kinds).map(([label, { title }]) => ({ label, type: 'enum', info: title })),
      );
    const quoted = /['"]([^'"]*)$/.exec(before);
    if (quoted && isOpen(before)) {
      if (quoted[1] === '' && !context.explicit) return null;
      const names = [...network().elements.values()].flatMap((element) => ('name' in element ? nameOf(element) : []));
      return at(
        quoted[1],
        [...new Set(names)].slice(0, mostNames).map((label) => ({ label, type: 'text' })),
      );
    }
    const member = /\b(project|files)\.(\w*)$/.exec(before);
    if (member) return at(member[2], members.get(member[1])!);
    const word = /\w*$/.exec(before)![0];
    const study = lastStudy(context.state.sliceDoc(Math.max(0, context.pos - 400), context.pos));
    if (word === '' && !context.explicit) return null;
    return at(word, study ? [...optionsOf(study), ...roots] : roots);
  };

/** Whether a quote stands open at the end. */
function isOpen(text: string): boolean {
  let open = '';
  for (const sign of text) {
    if (open === '' && (sign === "'" || sign === '"')) open = sign;
    else if (sign === open) open = '';
  }
  return open !== '';
}

/** The study whose options are being written. */
function lastStudy(text: string): StudyName | null {
  const found = /\b(?:study|table)\(\s*['"](\w+)['"]\s*,\s*\{[^}]*$/.exec(text);
  return found && isStudy(found[1]) ? found[1] : null;
}
