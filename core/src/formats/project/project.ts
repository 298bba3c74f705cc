/** Mesura's open project file: one JSON document, `docs/formats/project.md`. Reading never throws on bad data. */
import { z } from 'zod';
import { elementSchema, type Element } from '../../model/element';
import { networkOf, validateNetwork } from '../../model/network';
import { problemsOf, type Problem } from '../../model/problem';
import { unstorableText } from '../../model/text';
import { upgradedElement } from '../../model/upgrade';

export const projectFormat = 'mesura-project';
/** Version written; older ones are brought up by {@link migrations}. */
export const projectVersion = 2;

export const projectFileSchema = z
  .object({
    format: z.literal(projectFormat),
    version: z.literal(projectVersion),
    name: z.string().trim().min(1).max(120),
    /** What each part is there to show, or anything else worth knowing. */
    notes: z.string().max(20000).default(''),
    elements: z.array(elementSchema).max(400_000),
  })
  .meta({ title: 'Mesura project', description: 'A network with its protection. Units stand in the field names.' });
export type ProjectFile = z.infer<typeof projectFileSchema>;

type Raw = Record<string, unknown>;
/** `migrations[n]` turns a file of version n into one of version n + 1. Never edited once released, only added to. */
export const migrations: Readonly<Record<number, (file: Raw) => Raw>> = {
  1: (file) => ({
    ...file,
    elements: Array.isArray(file.elements) ? file.elements.map(upgradedElement) : file.elements,
  }),
};

export type ReadProject = { ok: true; project: ProjectFile } | { ok: false; problems: Problem[] };

const refuse = (code: string, message: string): ReadProject => ({
  ok: false,
  problems: [{ severity: 'error', code, message }],
});

export function readProject(text: string): ReadProject {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch (error) {
    return refuse('file.json', `this is not JSON: ${(error as Error).message}`);
  }
  return readProjectData(raw);
}

export function readProjectData(raw: unknown, steps = migrations, current = projectVersion): ReadProject {
  if (typeof raw !== 'object' || raw === null || (raw as Raw).format !== projectFormat)
    return refuse('file.format', 'this is not a Mesura project file');
  let file = raw as Raw;
  if (!Number.isInteger(file.version)) return refuse('file.version', 'the file does not tell its format version');
  if ((file.version as number) > current)
    return refuse('file.newer', `the file has format version ${file.version}; this program reads up to ${current}`);
  while ((file.version as number) < current) {
    const step = steps[file.version as number];
    if (!step) return refuse('file.version', `format version ${file.version} cannot be read`);
    file = { ...step(file), version: (file.version as number) + 1 };
  }
  const parsed = projectFileSchema.safeParse(file);
  if (!parsed.success) return { ok: false, problems: named(problemsOf(parsed.error), file) };
  const wrong = unstorableText(parsed.data);
  if (wrong)
    return refuse(
      'file.text',
      `${wrong.join('.')} holds a character that cannot be stored (NUL or half a surrogate pair)`,
    );
  const problems = [...doubledIds(parsed.data.elements), ...validateNetwork(networkOf(parsed.data.elements))];
  return problems.length > 0 ? { ok: false, problems } : { ok: true, project: parsed.data };
}

/** Says the element's name beside its place in the file, so that the user finds it. */
function named(problems: Problem[], file: Raw): Problem[] {
  const elements = Array.isArray(file.elements) ? file.elements : [];
  return problems.slice(0, 50).map((problem) => {
    const index = /^elements\.(\d+)/.exec(problem.message)?.[1];
    const element = index === undefined ? undefined : (elements[Number(index)] as Raw | null);
    const name = typeof element?.name === 'string' ? element.name : typeof element?.id === 'string' ? element.id : '';
    return name ? { ...problem, message: `${problem.message} (${name})` } : problem;
  });
}

function doubledIds(elements: readonly Element[]): Problem[] {
  const seen = new Set<string>();
  return elements
    .filter((element) => seen.size === seen.add(element.id).size)
    .map((element) => ({
      severity: 'error',
      code: 'id.doubled',
      message: `the identifier "${element.id}" is used twice`,
      element: element.id,
    }));
}

/** Written with one element a line, so that versions of a file compare well. */
export function writeProject(project: Pick<ProjectFile, 'name' | 'notes'> & { elements: Iterable<Element> }): string {
  const head = { format: projectFormat, version: projectVersion, name: project.name, notes: project.notes };
  const lines = [...project.elements].map((element) => `    ${JSON.stringify(element)}`);
  return `${JSON.stringify(head, null, 2).slice(0, -2)},\n  "elements": [\n${lines.join(',\n')}\n  ]\n}\n`;
}
