/**
 * Rows of elements as a thread hands them to the server: blocks of bytes, each read when it is stored. A project of ten thousand buses as so many
 * objects would stand in the memory of both at once.
 */
import type { Element } from '@mesura/core/model/element';

export interface Row {
  readonly id: string;
  readonly kind: string;
  readonly data: string;
}

/** UTF-8 of a JSON list of rows. */
export type RowBlock = Uint8Array;

/** As many as one statement stores. */
export const rowsOfBlock = 500;

export const rowOf = (element: Element): Row => ({
  id: element.id,
  kind: element.kind,
  data: JSON.stringify(element),
});

export function packedRows(elements: Iterable<Element>): RowBlock[] {
  const encoder = new TextEncoder();
  const blocks: RowBlock[] = [];
  let rows: Row[] = [];
  const close = () => {
    if (rows.length > 0) blocks.push(encoder.encode(JSON.stringify(rows)));
    rows = [];
  };
  for (const element of elements) {
    rows.push(rowOf(element));
    if (rows.length === rowsOfBlock) close();
  }
  close();
  return blocks;
}

export const unpackedRows = (block: RowBlock): Row[] => JSON.parse(new TextDecoder().decode(block)) as Row[];
