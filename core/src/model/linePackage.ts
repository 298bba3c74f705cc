/** Line packages: what a person has decided about the protection of one line. All else of it is computed from the network (`linePackage`). */
import { z } from 'zod';
import { choice, elementIdSchema, quantity, reference, type ElementId } from './fields';

/** How the ends work together. */
export const lineSchemes = [
  'stepped',
  'permissiveUnderreach',
  'permissiveOverreach',
  'blocking',
  'unblocking',
  'differential',
] as const;
export type LineScheme = (typeof lineSchemes)[number];

/** Criteria of loadability, NERC PRC-023 R1 (as remembered). */
export const loadCriteria = ['1', '2', '3a', '3b', '4', '5', '6', '7', '8', '9', '10', '11', '12', '13'] as const;
export type LoadCriterion = (typeof loadCriteria)[number];

const lineEnd = {
  line: reference(['line'], 'entry'),
  terminal: z.number().int().min(0).max(1),
};

export const linePackageSchema = z.object({
  kind: z.literal('linePackage'),
  id: elementIdSchema,
  name: z.string().trim().min(1, 'must not be empty').max(80).meta({ title: 'Name' }),
  note: z.string().max(300).default('').meta({ title: 'Note' }),
  /** One of the lines that hang together. */
  line: reference(['line'], 'owner'),
  scheme: choice('Scheme', lineSchemes),
  /** Of the signal between the ends. */
  channelTimeS: quantity('Time of the signal', 's', { min: 0, max: 1 }).default(0.02),
  relayResetS: quantity('Reset of the relay', 's', { min: 0, max: 1 }).default(0.02),
  criterion: choice('Loadability by criterion', loadCriteria),
  /** For the criteria that ask more than the line's own ratings: a current, a power. Null: not known. */
  fifteenMinuteA: quantity('Rating for 15 minutes', 'A', { above: 0 }).nullable().default(null),
  largestFlowA: quantity('Largest flow in the direction of the load', 'A', { above: 0 }).nullable().default(null),
  generationMva: quantity('Generation behind the line', 'MVA', { above: 0 }).nullable().default(null),
  practicalLimitA: quantity('Other practical limit', 'A', { above: 0 }).nullable().default(null),
  /** What current transformers and relays carry on and on, as multiples of the rated current. */
  ctThermal: quantity('Current transformers carry on and on', '× In', { above: 0, max: 10 }).default(1.2),
  relayThermal: quantity('Relays carry on and on', '× In', { above: 0, max: 20 }).default(2),
  /** Values that a person has put in the place of those proposed. */
  overrides: z
    .array(
      z.object({
        ...lineEnd,
        /** Of `linePackage/elements`. */
        element: z.string().max(40),
        value: z.number().min(-1e7).max(1e7),
        reason: z.string().trim().max(300),
      }),
    )
    .max(200)
    .default([]),
  /** Statements as they stood when somebody agreed to them: when one of their figures moves, it is open again. */
  agreed: z
    .array(
      z.object({
        ...lineEnd,
        statement: z.string().max(60),
        value: z.number().min(-1e7).max(1e7),
        bound: z.number().min(-1e7).max(1e7),
        on: z.string().max(40),
      }),
    )
    .max(400)
    .default([]),
});
export type LinePackage = z.infer<typeof linePackageSchema>;

export const newLinePackage = (id: ElementId, name: string, line: ElementId): LinePackage => ({
  kind: 'linePackage',
  id,
  name,
  note: '',
  line,
  scheme: 'stepped',
  channelTimeS: 0.02,
  relayResetS: 0.02,
  criterion: '1',
  fifteenMinuteA: null,
  largestFlowA: null,
  generationMva: null,
  practicalLimitA: null,
  ctThermal: 1.2,
  relayThermal: 2,
  overrides: [],
  agreed: [],
});
