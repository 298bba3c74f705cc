/** Reports of studies: computed and written in a thread from the stored project. */
import { z } from 'zod';
import { earthFaultKinds } from '@mesura/core/earthReturn/fromNetwork';
import { faultKinds } from '@mesura/core/faults/kinds';
import { labelLanguages, labelLayoutNames } from '@mesura/core/arc/labels';
import { failing } from '@mesura/core/trials/search';
import { nameOf } from '@mesura/core/model/element';
import { elementIdSchema } from '@mesura/core/model/fields';
import { sceneSchema } from '../plots/sceneSchema';
import { ServiceError } from './errors';
import type { ReportJob } from './jobs/job';
import { openProject } from './projects';
import { inThread } from './workers';

const common = {
  format: z.enum(['pdf', 'xlsx']),
  /** Empty: all. */
  conditions: z.array(elementIdSchema).max(100).default([]),
};

export const reportSchema = z.discriminatedUnion('study', [
  z.object({ study: z.literal('ratings'), ...common }),
  z.object({
    study: z.literal('faults'),
    ...common,
    buses: z.array(elementIdSchema).max(5000).default([]),
    kinds: z.array(z.enum(faultKinds)).min(1).max(4),
    breakingS: z.number().min(0.01).max(10).default(0.1),
    durationS: z.number().min(0.001).max(100).default(1),
    workings: z.boolean().default(false),
  }),
  z.object({
    study: z.literal('linePackage'),
    ...common,
    package: elementIdSchema,
  }),
  z.object({
    study: z.literal('search'),
    ...common,
    kinds: z.array(z.enum(faultKinds)).min(1).max(4),
    alongLines: z.int().min(0).max(99),
    resistance: z.number().min(0).max(10_000),
    failing: z.array(z.enum(failing)).max(failing.length),
    lineOutages: z.boolean(),
  }),
  z.object({ study: z.literal('arc'), ...common }),
  z.object({ study: z.literal('earthReturn'), ...common, kind: z.enum(earthFaultKinds).default('1ph') }),
  z.object({
    study: z.literal('circuits'),
    ...common,
    /** Null: all boards. */
    board: elementIdSchema.nullable().default(null),
    /** Keys of circuits; empty: all. */
    circuits: z.array(elementIdSchema).max(5000).default([]),
  }),
  z.object({ study: z.literal('circuitLabels'), ...common, format: z.literal('pdf'), board: elementIdSchema }),
  z.object({ study: z.literal('boards'), ...common }),
  z.object({
    study: z.literal('arcLabels'),
    maintenance: z.boolean().default(false),
    ...common,
    format: z.literal('pdf'),
    layout: z.enum(labelLayoutNames),
    language: z.enum(labelLanguages).default('en'),
    /** With a code that a phone reads. */
    code: z.boolean().default(false),
    /** Keys of places, in their order; empty: all. */
    places: z.array(z.string().max(200)).max(5000).default([]),
  }),
  z.object({
    study: z.literal('drawing'),
    ...common,
    format: z.literal('pdf'),
    /** Null: the first page. */
    page: elementIdSchema.nullable(),
  }),
  z.object({
    study: z.literal('plot'),
    ...common,
    format: z.literal('pdf'),
    title: z.string().trim().min(1).max(200),
    scene: sceneSchema,
  }),
  z.object({
    study: z.literal('charts'),
    ...common,
    format: z.literal('pdf'),
    charts: z.array(elementIdSchema).min(1).max(60),
    /** With the part of the one-line that each chart covers. */
    drawing: z.boolean().default(false),
  }),
]);
export type ReportRequest = z.infer<typeof reportSchema>;

const titles = {
  ratings: 'ratings',
  faults: 'fault currents',
  charts: 'grading charts',
  drawing: 'drawing',
  linePackage: 'line package',
  search: 'search for faults that go wrong',
  arc: 'arc energy',
  earthReturn: 'current returning through earth',
  arcLabels: 'arc labels',
  circuits: 'circuits',
  circuitLabels: 'circuit labels',
  boards: 'boards',
  plot: 'plot',
} as const;

/** The file of a report on the stored project. Errors: `report.condition`, when one of the conditions or charts is not in it. */
export async function reportFile(
  projectId: string,
  request: ReportRequest,
  signal?: AbortSignal,
): Promise<{ name: string; bytes: Uint8Array }> {
  const { name, elements, revision } = await openProject(projectId);
  const date = new Date().toISOString().slice(0, 10);
  const job: ReportJob = { task: 'report', elements, project: name, revision, date, request };
  const answer = await inThread(job, signal);
  if (!answer.ok) throw new ServiceError(422, 'report.condition', answer.message);
  const of = request.study === 'linePackage' ? elements.find(({ id }) => id === request.package) : undefined;
  // A package is told by its line, voltage and date.
  const title = request.study === 'plot' ? request.title : of ? `${nameOf(of)}, ${date}` : titles[request.study];
  return { name: `${name}, ${title}.${request.format}`, bytes: answer.bytes };
}
