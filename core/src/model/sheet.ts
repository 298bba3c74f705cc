/** What stands on the drawing and is no equipment: notes, the panels of a board, pages. None of it changes a calculation. */
import { z } from 'zod';
import { choice, elementIdSchema, placed, reference } from './fields';

const place = { x: placed.x, y: placed.y, page: placed.page, pinned: placed.pinned };

/** A text on the drawing; its place is the top left corner. */
export const textNoteSchema = z.object({
  kind: z.literal('textNote'),
  id: placed.id,
  ...place,
  text: z.string().min(1, 'must not be empty').max(2000).meta({ title: 'Text' }),
  size: choice('Size', ['small', 'normal', 'large']),
});

export const panelTypes = ['incoming', 'outgoing', 'coupler', 'measuring', 'motor', 'transformer'] as const;
export type PanelType = (typeof panelTypes)[number];

/**
 * Panel (cubicle) of a board: a frame around the devices that stand in it, below the busbar of its board. Its place is the middle of its
 * upper edge. Panels of a board stand side by side.
 */
export const panelSchema = z.object({
  kind: z.literal('panel'),
  id: placed.id,
  name: placed.name,
  note: placed.note,
  ...place,
  type: choice('Type', panelTypes),
  /** The busbar that runs through the panel. */
  bus: reference(['bus'], 'owner'),
  width: z.number().min(20).max(2000),
  height: z.number().min(20).max(2000),
  /** Devices inside the frame; they move with it. */
  members: z.array(reference([], 'entry', true)).max(60),
});

/** Least and most room of a chart on the drawing, in drawing units. */
export const chartPictureRoom = { least: { width: 240, height: 180 }, usual: { width: 520, height: 400 }, most: 2000 };

/** A grading chart shown on a page of the drawing, as it is now; its place is the top left corner. */
export const chartPictureSchema = z.object({
  kind: z.literal('chartPicture'),
  id: placed.id,
  ...place,
  chart: reference(['gradingChart'], 'owner'),
  width: z.number().min(chartPictureRoom.least.width).max(chartPictureRoom.most),
  height: z.number().min(chartPictureRoom.least.height).max(chartPictureRoom.most),
});

/** A page of the drawing after the first. What is connected across pages ends in a link to the other page. */
export const pageSchema = z.object({
  kind: z.literal('page'),
  id: elementIdSchema,
  name: placed.name,
});

export type TextNote = z.infer<typeof textNoteSchema>;
export type Panel = z.infer<typeof panelSchema>;
export type ChartPicture = z.infer<typeof chartPictureSchema>;
export type Page = z.infer<typeof pageSchema>;
