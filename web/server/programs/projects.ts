/** Projects as programs read them: the head, and elements page by page, all of one revision. */
import type { RowDataPacket } from 'mysql2';
import type { z } from 'zod';
import type { Element } from '@mesura/core/model/element';
import { transaction } from '../database';
import { projectRow } from '../projects';
import type { queries } from './operations';

export const projectHead = (id: string) =>
  transaction(async (connection) => {
    const project = await projectRow(connection, id);
    const [rows] = await connection.query<RowDataPacket[]>(
      'SELECT kind, COUNT(*) AS count FROM elements WHERE project_id = ? GROUP BY kind ORDER BY kind',
      [id],
    );
    return { ...project, elements: Object.fromEntries(rows.map(({ kind, count }) => [kind, Number(count)])) };
  });

export const elementPage = (id: string, { kind, after = '', limit }: z.output<(typeof queries)['elements']>) =>
  transaction(async (connection) => {
    const { revision } = await projectRow(connection, id);
    const [rows] = await connection.query<RowDataPacket[]>(
      `SELECT id, data FROM elements WHERE project_id = ? AND id > ? ${kind ? 'AND kind = ?' : ''} ORDER BY id LIMIT ?`,
      [id, after, ...(kind ? [kind] : []), limit + 1],
    );
    const page = rows.slice(0, limit);
    const elements = page.map(({ data }) => (typeof data === 'string' ? JSON.parse(data) : data) as Element);
    return { revision, elements, next: rows.length > limit ? (page.at(-1)!.id as string) : null };
  });
