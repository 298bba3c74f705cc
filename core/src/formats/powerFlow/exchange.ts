/** Solved power-flow cases in and out. */
import type { Exporter, ReadingImporter } from '../format';
import { isPowerFlowCase, readCase } from './read';
import { networkOfCase, title } from './network';
import { caseOf } from './write';

export const powerFlowImporter: ReadingImporter = {
  id: 'powerFlow',
  title,
  sniff: ({ text }) => isPowerFlowCase(text),
  *read({ text }) {
    return yield* networkOfCase(yield* readCase(text));
  },
};

export const powerFlowExporter: Exporter = {
  id: 'powerFlow',
  title: 'Solved power-flow case',
  extension: 'cdf',
  write: caseOf,
};
