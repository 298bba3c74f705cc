/** What a current that returns through earth needs of stations and lines. */
import { z } from 'zod';
import { optionalQuantity, quantity, reference } from './fields';

/** Earthing of the station that a busbar stands in. */
export const stationEarthingSchema = z.object({
  rOhm: quantity('Earthing of the station, R', 'Ω', { min: 0, max: 1000 }, { symbol: 'RE' }),
  xOhm: quantity('Earthing of the station, X', 'Ω', { min: 0, max: 1000 }, { symbol: 'XE' }),
});
export type StationEarthing = z.infer<typeof stationEarthingSchema>;

/** Towers of a line, and the wires on them. */
export const returnPathSchema = z.object({
  /** Its conductors and shield wires; null: none returns anything. */
  tower: reference(['tower'], 'field').nullable(),
  spanM: quantity('Span', 'm', { above: 1, max: 2000 }),
  footingOhm: optionalQuantity('Footing of a tower', 'Ω', { above: 0, max: 10000 }),
});
export type ReturnPath = z.infer<typeof returnPathSchema>;
