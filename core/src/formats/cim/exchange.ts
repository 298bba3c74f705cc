/** CIM models in and out. */
import type { Exporter, ReadingImporter } from '../format';
import { isCim } from './graph';
import { readCim, title } from './read';
import { cimOf } from './write';

export const cimImporter: ReadingImporter = {
  id: 'cim',
  title,
  sniff: ({ files }) => files.some(({ text }) => isCim(text)),
  read: readCim,
};

export const cimExporter: Exporter = { id: 'cim', title: 'CIM model', extension: 'zip', write: cimOf };
