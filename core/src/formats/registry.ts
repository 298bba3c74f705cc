/** The formats that are known. A new one is a folder and a line here. */
import type { Exporter, Importer, Into, Report, Source } from './format';
import { fragmentImporter } from './project/fragmentImporter';
import { projectExporter, projectImporter } from './project/exchange';
import { tablesExporter, tablesImporter } from './tables/exchange';
import { typesExporter, typesImporter } from './types/exchange';

/** Asked in this order. */
export const importers: readonly Importer[] = [projectImporter, fragmentImporter, tablesImporter, typesImporter];
export const exporters: readonly Exporter[] = [projectExporter, tablesExporter, typesExporter];

/** What a file would bring; null when no importer knows it. */
export function reportOn(source: Source, into: Into): Report | null {
  const importer = importers.find((each) => each.sniff(source));
  return importer ? importer.report(source, into) : null;
}

export const knownFormats = (): string => importers.map(({ title }) => title).join(', ');
