/** The formats that are known. A new one is a folder and a line here. */
import type { Brought } from './brought';
import { cimExporter, cimImporter } from './cim/exchange';
import { FileRefusal, remark, type Exporter, type Importer, type Into, type Report, type Source } from './format';
import { mergeReport } from './merge';
import { arrange } from './placing';
import { powerFlowExporter, powerFlowImporter } from './powerFlow/exchange';
import { fragmentImporter } from './project/fragmentImporter';
import { projectExporter, projectImporter } from './project/exchange';
import { tablesExporter, tablesImporter } from './tables/exchange';
import { sclExporter, sclImporter } from './scl/exchange';
import { typesExporter, typesImporter } from './types/exchange';

/** Asked in this order. */
export const importers: readonly Importer[] = [
  projectImporter,
  fragmentImporter,
  powerFlowImporter,
  cimImporter,
  sclImporter,
  tablesImporter,
  typesImporter,
];
export const exporters: readonly Exporter[] = [
  projectExporter,
  tablesExporter,
  typesExporter,
  powerFlowExporter,
  cimExporter,
  sclExporter,
];

/** A file that was read: either what becomes of the project, or a network that meets it. */
export type Reading = { readonly report: Report } | { readonly brought: Brought };

/** A file read step by step with the share that is done; null when no importer knows it. */
export function* readingSteps(source: Source, into: Into): Generator<number, Reading | null> {
  const importer = importers.find((each) => each.sniff(source));
  if (!importer) return null;
  if ('report' in importer) return { report: importer.report(source, into) };
  try {
    return { brought: yield* importer.read(source) };
  } catch (error) {
    if (!(error instanceof FileRefusal)) throw error;
    const problems = [remark(`${source.name}: ${error.message}`, 'error')];
    return { report: { format: importer.title, found: [], problems, batch: [], label: '' } };
  }
}

/** What it would bring into the project; a network is given places first. */
export async function reported(reading: Reading, into: Into): Promise<Report> {
  if ('report' in reading) return reading.report;
  await arrange(reading.brought);
  return mergeReport(reading.brought, into, `Import ${reading.brought.name}`.slice(0, 200));
}

/** Both at once; null when no importer knows the file. */
export async function reportOn(source: Source, into: Into): Promise<Report | null> {
  const reading = finished(readingSteps(source, into));
  return reading && reported(reading, into);
}

/** What steps come to. */
export function finished<T>(steps: Generator<number, T>): T {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

export const knownFormats = (): string => importers.map(({ title }) => title).join(', ');
