/** What programs may ask for: each route with what it takes and gives. The handlers read requests by these schemas, and the description for programs is made from them. */
import { z } from 'zod';
import { entryGroups } from '@mesura/core/formats/format';
import { knownExporters } from '@mesura/core/formats/known';
import { kinds, type ElementKind } from '@mesura/core/model/element';
import { formulas } from '@mesura/core/formulary/index';
import { studyNames, studyOptions, type StudyName } from '@mesura/cli/words';
import type { AnswerForm } from '@mesura/cli/command';
import { ServiceError } from '../errors';
import { jobStates } from './jobs';
import type { ProgramRoute } from '../people/permissions';

export const projectCard = z.object({
  id: z.string(),
  name: z.string(),
  notes: z.string(),
  revision: z.int(),
  updatedAt: z.iso.datetime(),
  elements: z.int(),
  sheets: z.int(),
});

const projectHead = z.object({
  id: z.string(),
  name: z.string(),
  notes: z.string(),
  revision: z.int(),
  elements: z.record(z.string(), z.int()).describe('how many of each kind'),
});

const element = z
  .looseObject({ id: z.string(), kind: z.string() })
  .describe('an element, by /api/v1/elements.schema.json');

const elementPage = z.object({
  revision: z.int(),
  elements: z.array(element),
  next: z.string().nullable().describe('id to go on after; null at the end'),
});

const change = z.discriminatedUnion('op', [
  z.object({ op: z.literal('add'), element }),
  z.object({ op: z.literal('update'), element }),
  z.object({ op: z.literal('remove'), id: z.string() }),
]);

/** As it is described; read in full by `batch`. */
const batch = z.object({
  batchId: z.string().describe('made by the client: a batch that is sent twice is applied once'),
  baseRevision: z.int().min(0).describe('the revision that the changes were made on'),
  label: z.string().max(200).describe('how the step is called in the history'),
  origin: z.enum(['edit', 'undo', 'redo']),
  clients: z.array(z.string()).max(8).optional(),
  author: z.string().optional().describe('only where nobody signs in'),
  changes: z.array(change).min(1).max(20000),
});

const accepted = z.looseObject({ revision: z.int() });

const counted = z.array(z.object({ what: z.string(), count: z.int() }));

const importReport = z.object({
  format: z.string(),
  found: counted.describe('what the file brings, by kind'),
  entries: z.array(
    z.object({
      key: z.string(),
      kind: z.string(),
      name: z.string(),
      what: z.enum(entryGroups),
      differences: z.array(z.object({ field: z.string(), before: z.string(), after: z.string() })),
      usual: z.boolean().describe('taken where nothing else is asked'),
    }),
  ),
  notes: z.array(z.string()),
  assumed: z.array(z.string()).describe('what the file does not say and was assumed'),
  left: z.array(z.string()).describe('what the file says and nothing came of'),
  changes: z.int().describe('changes that come of what is taken'),
});

export const answerForms = ['json', 'csv', 'table', 'pdf', 'xlsx', 'junit'] as const satisfies readonly AnswerForm[];

/** Types of files that answers are. */
export const answerTypes: Readonly<Record<AnswerForm, string>> = {
  json: 'application/json',
  csv: 'text/csv; charset=utf-8',
  table: 'text/plain; charset=utf-8',
  pdf: 'application/pdf',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  junit: 'application/xml; charset=utf-8',
};

const jobCard = z.object({
  id: z.string(),
  project: z.string(),
  study: z.string(),
  format: z.string(),
  state: z.enum(jobStates),
  share: z.number().min(0).max(1).describe('how much is done'),
  revision: z.int().nullable().describe('revision of the project that was computed'),
  code: z
    .int()
    .nullable()
    .describe('0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold'),
  notes: z.string(),
  createdAt: z.iso.datetime(),
  endedAt: z.iso.datetime().nullable(),
});

const studyBody = (study: StudyName) =>
  z.strictObject({
    options: studyOptions(study).default({}),
    format: z.enum(answerForms).default('json'),
  });

export const studyBodies = Object.fromEntries(studyNames.map((name) => [name, studyBody(name)])) as {
  readonly [K in StudyName]: ReturnType<typeof studyBody>;
};

const formulaCard = z.object({
  name: z.string(),
  title: z.string(),
  source: z.string(),
  mark: z.string(),
  inputs: z.record(z.string(), z.looseObject({ title: z.string(), unit: z.string() })),
  outputs: z.record(z.string(), z.looseObject({ title: z.string(), unit: z.string() })),
});

const flag = z.enum(['true', 'false']).transform((text) => text === 'true');

export const queries = {
  sheet: z.object({ as: z.enum(['json', 'pdf', 'xlsx']).default('json') }),
  elements: z.object({
    kind: z
      .enum(Object.keys(kinds) as [ElementKind, ...ElementKind[]])
      .optional()
      .describe('of this kind alone'),
    after: z.string().max(60).optional().describe('go on after this id'),
    limit: z.coerce.number().int().min(1).max(5000).default(1000),
  }),
  changes: z.object({ since: z.coerce.number().int().min(0).default(0).describe('a revision') }),
  file: z.object({ name: z.string().min(1).max(200).describe('name of the file') }),
  imports: z.object({
    name: z.string().min(1).max(200).describe('name of the file'),
    mode: z.enum(['merge', 'beside']).default('merge').describe('beside: everything as new'),
    take: z
      .string()
      .regex(new RegExp(`^(${entryGroups.join('|')})(,(${entryGroups.join('|')}))*$`))
      .optional()
      .describe(`groups of entries that are taken, of ${entryGroups.join(', ')}; the usual ones where it is left out`),
    store: flag
      .default(false)
      .describe('whether it is stored, as one step that can be taken back; otherwise only told'),
  }),
  export: z.object({ as: z.enum(knownExporters.map(({ id }) => id) as [string, ...string[]]).default('project') }),
} as const;

export interface Described {
  readonly status: number;
  readonly means: string;
  /** Of JSON. */
  readonly schema?: z.ZodType;
  /** Of anything else. */
  readonly type?: string;
}

export interface Operation {
  readonly summary: string;
  readonly about: 'Projects' | 'Studies' | 'Formulas' | 'Description';
  readonly query?: z.ZodObject;
  readonly heads?: Readonly<Record<string, string>>;
  readonly body?: z.ZodType | 'file';
  readonly answers: readonly Described[];
}

const json = (means: string, schema: z.ZodType, status = 200): Described => ({ status, means, schema });
const file = (means: string, type = 'application/octet-stream'): Described => ({ status: 200, means, type });

/** One for each route for programs; studies are told one by one in the description. */
export const operations: Readonly<Record<ProgramRoute, Operation>> = {
  'GET /api/v1/openapi.json': {
    summary: 'This description',
    about: 'Description',
    answers: [json('OpenAPI 3.1', z.looseObject({ openapi: z.string() }))],
  },
  'GET /api/v1/elements.schema.json': {
    summary: 'JSON Schema of all elements',
    about: 'Description',
    answers: [json('JSON Schema', z.looseObject({}))],
  },
  'GET /api/v1/projects': {
    summary: 'Projects that one may look at',
    about: 'Projects',
    answers: [json('the last changed first', z.object({ projects: z.array(projectCard) }))],
  },
  'POST /api/v1/projects': {
    summary: 'A new project from a file of any format that can be read',
    about: 'Projects',
    query: queries.file,
    body: 'file',
    answers: [json('it is stored', z.object({ id: z.string(), report: importReport.nullable() }), 201)],
  },
  'GET /api/v1/projects/:id': {
    summary: 'What a project is called and what it holds',
    about: 'Projects',
    answers: [json('its head', projectHead)],
  },
  'GET /api/v1/projects/:id/elements': {
    summary: 'Elements of a project, page by page, by their ids',
    about: 'Projects',
    query: queries.elements,
    answers: [json('a page', elementPage)],
  },
  'GET /api/v1/projects/:id/changes': {
    summary: 'Steps after a revision',
    about: 'Projects',
    query: queries.changes,
    answers: [
      json(
        'steps; null where they are too many: read the elements anew',
        z.object({ batches: z.array(z.looseObject({ revision: z.int() })).nullable() }),
      ),
    ],
  },
  'POST /api/v1/projects/:id/changes': {
    summary: 'Changes, all or none, as one step of the history',
    about: 'Projects',
    body: batch,
    answers: [json('stored', accepted)],
  },
  'POST /api/v1/projects/:id/imports': {
    summary: 'What a file would bring into the project; stored where that is asked',
    about: 'Projects',
    query: queries.imports,
    body: 'file',
    answers: [json('the report', z.object({ report: importReport, stored: z.boolean(), revision: z.int() }))],
  },
  'GET /api/v1/projects/:id/export': {
    summary: 'The project as a file',
    about: 'Projects',
    query: queries.export,
    answers: [file('the file; what the format has no room for is told in the head "mesura-left", in percent-encoding')],
  },
  'GET /api/v1/projects/:id/sheets': {
    summary: 'Setting sheets: what is issued, what is under way',
    about: 'Projects',
    answers: [
      json(
        'the register',
        z.looseObject({
          sheets: z.array(z.looseObject({ id: z.int(), number: z.int(), digest: z.string(), sound: z.boolean() })),
        }),
      ),
    ],
  },
  'GET /api/v1/projects/:id/sheets/:sheet': {
    summary: 'One setting sheet as it was issued; "draft-" and a device for a draft',
    about: 'Projects',
    query: queries.sheet,
    answers: [file('the sheet', 'application/json')],
  },
  'POST /api/v1/projects/:id/studies/:study': {
    summary: 'A study of the project as it is stored',
    about: 'Studies',
    heads: { prefer: 'wait=SECONDS (up to 60): answers with the ended job when it ends within' },
    answers: [json('the job has ended', jobCard), json('the job is under way', jobCard, 202)],
  },
  'GET /api/v1/jobs': {
    summary: 'One’s own jobs, the newest first',
    about: 'Studies',
    answers: [json('jobs', z.object({ jobs: z.array(jobCard) }))],
  },
  'GET /api/v1/jobs/:job': {
    summary: 'How far a job is',
    about: 'Studies',
    heads: { prefer: 'wait=SECONDS (up to 60): answers when it ends, or then' },
    answers: [json('the job', jobCard)],
  },
  'DELETE /api/v1/jobs/:job': {
    summary: 'Cancels a job',
    about: 'Studies',
    answers: [json('the job', jobCard)],
  },
  'GET /api/v1/jobs/:job/result': {
    summary: 'What a job has computed, in the form that was asked for',
    about: 'Studies',
    answers: [
      file('as the terminal would print it; "mesura-code" and "mesura-revision" in the head', 'application/json'),
    ],
  },
  'GET /api/v1/formulas': {
    summary: 'Published formulas that can be computed by themselves',
    about: 'Formulas',
    answers: [json('formulas', z.object({ formulas: z.array(formulaCard) }))],
  },
  'POST /api/v1/formulas/:formula': {
    summary: `One formula, from plain numbers (${formulas.length} there are)`,
    about: 'Formulas',
    body: z.record(z.string(), z.unknown()).describe('inputs by name'),
    answers: [
      json(
        'the result',
        z.object({
          name: z.string(),
          source: z.string(),
          mark: z.string(),
          outputs: z.record(z.string(), z.unknown()),
        }),
      ),
    ],
  },
};

/** A query as its operation has it. Error: `query.invalid`. */
export function queryOf<T extends z.ZodType>(schema: T, request: Request): z.output<T> {
  const read = schema.safeParse(Object.fromEntries(new URL(request.url).searchParams));
  if (read.success) return read.data;
  const [{ path, message }] = read.error.issues;
  throw new ServiceError(422, 'query.invalid', `"${path.join('.')}": ${message}`);
}

/** Seconds that a client would wait (RFC 7240). */
export function waitOf(request: Request): number {
  const asked = /(?:^|[,;\s])wait\s*=\s*(\d{1,6})/.exec(request.headers.get('prefer') ?? '')?.[1];
  return Math.min(Number(asked ?? 0), 60);
}
