/** Rulebooks: what a company asks of settings, written down once. Formulas are checked against the names that their subject has where they are used (`rules/book`). */
import { z } from 'zod';
import { choice, elementIdSchema } from './fields';

/**
 * What a rule is about: a function by what it is there for, a pair of devices, a current transformer, a zone of distance protection, a part of the
 * protection of a line; how long a fault may last, by the protection meant for it, and where something has failed.
 */
export const ruleSubjects = [
  'phaseDelayed',
  'phaseInstant',
  'earthDelayed',
  'earthInstant',
  'negative',
  'thermal',
  'link',
  'pair',
  'currentTransformer',
  'zone1',
  'zone2',
  'zone3',
  'zone4',
  'zone5',
  'lineInstant',
  'lineInstantEarth',
  'lineEarth',
  'linePilot',
  'lineReverse',
  'linePilotEarth',
  'lineReverseEarth',
  'lineWeak',
  'lineBreakerFailure',
  'lineSynchrocheck',
  'lineReclosing',
  'faultTime',
  'faultTimeBackup',
] as const;
export type RuleSubject = (typeof ruleSubjects)[number];

/** Which devices a rule is for, by what lies behind them. */
export const ruleBehind = ['any', 'line', 'transformer', 'motor', 'generator', 'capacitor', 'busbar', 'load'] as const;
export type RuleBehind = (typeof ruleBehind)[number];

/**
 * What it bounds: a pickup, an operating time at a current, the margin of a pair, the rated primary current of a current transformer; the characteristic angle of
 * a direction. `directed`: a pickup below it needs a direction. `present`: the function is there wherever more than it flows on and on. Of zones: the reach along the
 * line and across it, of phase and of earth loops, and the delay.
 */
export const ruleBounds = [
  'pickup',
  'time',
  'margin',
  'primary',
  'angle',
  'directed',
  'present',
  'reach',
  'reachEarth',
  'resistance',
  'resistanceEarth',
  'delay',
  'voltage',
] as const;
export type RuleBound = (typeof ruleBounds)[number];

export const longestRule = 400;
/** Of most and of least importance, when two rules cannot both be kept. */
export const importanceRange = { most: 1, least: 9 } as const;

export const ruleSchema = z
  .object({
    /** Within the book; the same rule in two books has the same one. */
    id: z
      .string()
      .regex(/^[a-z][a-z0-9-]*$/, 'small letters, digits and hyphens only')
      .max(60),
    title: z.string().trim().min(1, 'must not be empty').max(80).meta({ title: 'Rule' }),
    subject: choice('About', ruleSubjects),
    behind: choice('For devices of', ruleBehind),
    bound: choice('Bounds', ruleBounds),
    sense: choice('Sense', ['atLeast', 'atMost']),
    /** For times: the current at which they are asked; a formula. */
    at: z.string().max(longestRule).nullable().meta({ title: 'At the current' }),
    formula: z.string().min(1, 'must not be empty').max(longestRule).meta({ title: 'Formula' }),
    reason: z.string().trim().min(1, 'a reason is needed').max(300).meta({ title: 'Reason' }),
    clause: z.string().trim().max(120).meta({ title: 'Clause' }),
    /** The clause is only remembered. */
    remembered: z.boolean().meta({ title: 'Clause as remembered' }),
    importance: z
      .number()
      .int()
      .min(importanceRange.most)
      .max(importanceRange.least)
      .meta({ title: 'Importance', help: '1 is kept first' }),
    enabled: z.boolean().meta({ title: 'In use' }),
    /** The check that watches what it asks: an identifier of `checks/rules`, or none. */
    watchedBy: z
      .string()
      .regex(/^([a-z]+\.[a-zA-Z]+)?$/, 'a check, or nothing')
      .max(60)
      .default('')
      .meta({ title: 'Watched by' }),
  })
  .refine(({ bound, sense }) => !['directed', 'present'].includes(bound) || sense === 'atLeast', {
    path: ['sense'],
    message: 'what needs a direction or must be there is told by a smallest current',
  })
  .refine((rule) => (rule.bound === 'time') === (rule.at !== null), {
    path: ['at'],
    message: 'a rule for a time says at which current, others do not',
  });
export type Rule = z.infer<typeof ruleSchema>;

export const rulebookSchema = z
  .object({
    kind: z.literal('rulebook'),
    id: elementIdSchema,
    name: z.string().trim().min(1, 'must not be empty').max(80).meta({ title: 'Name' }),
    /** Where it comes from, which edition: shown with what it proposes. */
    note: z.string().max(300).default('').meta({ title: 'Note' }),
    /** What it was taken from, or last shared as, among the projects of the installation. */
    shared: z
      .object({ name: z.string().max(80), version: z.number().int().min(1).max(1_000_000) })
      .nullable()
      .default(null)
      .meta({ title: 'Shared as', hidden: true }),
    rules: z.array(ruleSchema).max(200).meta({ title: 'Rules', hidden: true }),
  })
  .refine(({ rules }) => new Set(rules.map(({ id }) => id)).size === rules.length, {
    path: ['rules'],
    message: 'two rules have the same identifier',
  });
export type Rulebook = z.infer<typeof rulebookSchema>;
