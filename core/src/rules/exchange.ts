/** Rulebooks between projects: as a file, and what differs between two of them. */
import { problemsOf, type Problem } from '../model/problem';
import type { ElementId } from '../model/fields';
import { rulebookSchema, type Rule, type Rulebook } from '../model/rulebook';
import { readyBook } from './book';

const format = 'mesura-rulebook';

/** A book as a text that another project takes. */
export const writeRulebook = ({ name, note, rules }: Rulebook): string =>
  `${JSON.stringify({ format, version: 1, name, note, rules }, null, 2)}\n`;

export type ReadRulebook =
  { readonly ok: true; readonly book: Rulebook } | { readonly ok: false; readonly problems: readonly Problem[] };

/** A book out of a text, under an identifier of the project; also formulas that cannot be used are told, with the rule. */
export function readRulebook(text: string, id: ElementId): ReadRulebook {
  const refuse = (message: string): ReadRulebook => ({
    ok: false,
    problems: [{ severity: 'error', code: 'rulebook.file', message }],
  });
  let content: unknown;
  try {
    content = JSON.parse(text);
  } catch {
    return refuse('this is no rulebook: it cannot be read as JSON');
  }
  if (typeof content !== 'object' || content === null || !('format' in content) || content.format !== format)
    return refuse('this is no rulebook of Mesura');
  const { format: _, version, ...rest } = content as Record<string, unknown>;
  if (version !== 1) return refuse(`a rulebook of version ${String(version)}: this program knows version 1`);
  const parsed = rulebookSchema.safeParse({ ...rest, kind: 'rulebook', id });
  if (!parsed.success) return { ok: false, problems: problemsOf(parsed.error) };
  const wrong = readyBook(parsed.data).flatMap(({ rule, problems }) =>
    problems.map(({ message, field }): Problem => ({
      severity: 'error',
      code: 'rulebook.formula',
      message: `${rule.title}, ${field === 'at' ? 'at the current' : 'formula'} "${field === 'at' ? rule.at : rule.formula}": ${message}`,
    })),
  );
  return wrong.length > 0 ? { ok: false, problems: wrong } : { ok: true, book: parsed.data };
}

export interface RuleDifference {
  readonly id: string;
  readonly title: string;
  /** Null where the one book does not have it. */
  readonly before: Rule | null;
  readonly after: Rule | null;
  /** Fields that differ, where both have it. */
  readonly fields: readonly (keyof Rule)[];
}

const compared = [
  'title',
  'subject',
  'behind',
  'bound',
  'sense',
  'at',
  'formula',
  'reason',
  'clause',
  'remembered',
  'importance',
  'enabled',
  'watchedBy',
] as const satisfies readonly (keyof Rule)[];

/** What one book has otherwise than another, in the order of the later one. */
export function ruleDifferences(before: Rulebook, after: Rulebook): RuleDifference[] {
  const old = new Map(before.rules.map((rule) => [rule.id, rule]));
  const now = new Set(after.rules.map(({ id }) => id));
  const changed = after.rules.flatMap((rule): RuleDifference[] => {
    const was = old.get(rule.id) ?? null;
    const fields = was ? compared.filter((field) => was[field] !== rule[field]) : [];
    return was && fields.length === 0 ? [] : [{ id: rule.id, title: rule.title, before: was, after: rule, fields }];
  });
  const gone = before.rules.filter(({ id }) => !now.has(id));
  return [
    ...changed,
    ...gone.map((rule) => ({ id: rule.id, title: rule.title, before: rule, after: null, fields: [] })),
  ];
}
