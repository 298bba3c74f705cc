/** A scene as the screen sends it to be printed: plain marks within bounds. */
import { z } from 'zod';
import type { Scene } from './scene';

const place = z.number().min(-1e5).max(1e5);
const length = z.number().min(0).max(1e5);
const point = z.object({ x: place, y: place });
const points = z.array(point).max(20_000);
const ink = z.union([
  z.enum(['ink', 'muted', 'grid', 'gridStrong', 'panel', 'accent', 'pass', 'passSoft', 'fail', 'failSoft']),
  z.int().min(0).max(1000),
]);
const share = z.number().min(0).max(1);
/** Lengths of strokes and gaps; nothing else may stand in an attribute. */
const dash = z.string().regex(/^[\d., ]{0,40}$/);

const mark = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('line'),
    points,
    ink,
    width: length,
    dash: dash.optional(),
    opacity: share.optional(),
    clipped: z.boolean().optional(),
  }),
  z.object({
    kind: z.literal('text'),
    at: point,
    text: z.string().max(400),
    size: z.number().min(1).max(200),
    ink,
    anchor: z.enum(['start', 'middle', 'end']).optional(),
    bold: z.boolean().optional(),
  }),
  z.object({
    kind: z.literal('box'),
    at: point,
    width: length,
    height: length,
    fill: ink.nullable(),
    line: ink.optional(),
    radius: length.optional(),
  }),
  z.object({ kind: z.literal('area'), points, ink, opacity: share, clipped: z.boolean().optional() }),
  z.object({ kind: z.literal('dot'), at: point, radius: length, ink }),
]);

const side = z.number().min(40).max(5000);

export const sceneSchema = z.object({
  paper: z.object({
    width: side,
    height: side,
    margin: z.object({ top: length, right: length, bottom: length, left: length }),
    text: z.number().min(1).max(200),
  }),
  marks: z.array(mark).max(20_000),
}) satisfies z.ZodType<Scene>;
