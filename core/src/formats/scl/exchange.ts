/** Stations and relays of IEC 61850-6 in and out. */
import type { Exporter, ReadingImporter } from '../format';
import { readScl, title } from './read';
import { isScl } from './tree';
import { sclOf } from './write';

export const sclImporter: ReadingImporter = {
  id: 'scl',
  title,
  sniff: ({ files }) => files.some(({ text }) => isScl(text)),
  read: readScl,
};

export const sclExporter: Exporter = { id: 'scl', title: 'SCL stations and relays', extension: 'scd', write: sclOf };
