/** Trials: a fault, what goes wrong with it, and what ought to happen. Kept in the project as its tests; what comes of them is played anew every time. */
import { z } from 'zod';
import { choice, elementIdSchema, quantity, reference, withDefault, type ElementId } from './fields';
import { maximumSources } from './condition';

/** As in `faults/kinds`, which the model does not lean on. */
export const trialFaultKinds = ['3ph', '2ph', '2phE', '1ph'] as const;

const ohms = (title: string) => withDefault(quantity(title, 'Ω', { min: 0, max: 1e4 }), 0);

/** A fault at a terminal, at a fraction of a line from its terminal 0, or a conductor broken at a terminal. */
export const trialFaultSchema = z.object({
  type: choice('Fault', ['shunt', 'open']),
  element: reference([], 'owner'),
  /** Left out inside a line. */
  terminal: z.int().min(0).max(2).nullable().default(null).meta({ title: 'Terminal' }),
  fraction: z
    .number()
    .min(1e-6)
    .max(1 - 1e-6)
    .nullable()
    .default(null)
    .meta({ title: 'Along the line' }),
  kind: choice('Kind', trialFaultKinds),
  /** The faulted phase of a single-phase fault, the sound one of a two-phase fault, the broken one. */
  odd: z.int().min(0).max(2).default(0).meta({ title: 'Odd phase' }),
  phaseOhm: ohms('Resistance of each phase'),
  earthOhm: ohms('Resistance to earth'),
});
export type TrialFault = z.infer<typeof trialFaultSchema>;

const references = (to: readonly string[], title: string) =>
  z.array(reference(to, 'entry')).max(50).default([]).meta({ title });

export const trialSchema = z.object({
  kind: z.literal('trial'),
  id: elementIdSchema,
  name: z.string().trim().min(1, 'must not be empty').max(120).meta({ title: 'Name' }),
  note: z.string().max(300).default('').meta({ title: 'Note' }),
  condition: elementIdSchema.default(maximumSources.id).meta({ title: 'Condition' }),
  /** One more element out of service. */
  outage: withDefault(reference([], 'field').nullable().meta({ title: 'Out of service' }), null),
  /** All at once. */
  faults: z.array(trialFaultSchema).min(1).max(4).meta({ title: 'Faults' }),
  /** What the fault becomes, at times after its beginning. */
  then: z
    .array(z.object({ atS: quantity('After', 's', { above: 0, max: 60 }), faults: z.array(trialFaultSchema).max(4) }))
    .max(6)
    .default([])
    .meta({ title: 'Becomes' }),
  /** It goes out for good once it has had no current for so long; null: it stays. */
  goneAfterDeadS: withDefault(quantity('Goes out after', 's', { min: 0, max: 60 }).nullable(), null),
  /** Motors feed the fault for so long; null: as long as they are connected. */
  motorsFeedS: withDefault(quantity('Motors feed it for', 's', { min: 0, max: 60 }).nullable(), null),
  stuck: references(['switch'], 'Breakers that fail'),
  dead: references(['relay', 'switch'], 'Devices that fail'),
  silent: references(['linePackage', 'relay'], 'Channels that fail'),
  /** What ought to happen; null: what the rules and the network say. */
  opens: withDefault(
    z
      .array(reference(['switch'], 'entry'))
      .max(50)
      .nullable()
      .meta({ title: 'Opened by' }),
    null,
  ),
  withinS: withDefault(quantity('Cleared within', 's', { above: 0, max: 600 }).nullable(), null),
});
export type Trial = z.infer<typeof trialSchema>;

export const newTrial = (id: ElementId, name: string, faults: readonly TrialFault[]): Trial => ({
  kind: 'trial',
  id,
  name,
  note: '',
  condition: maximumSources.id,
  outage: null,
  faults: [...faults],
  then: [],
  goneAfterDeadS: null,
  motorsFeedS: null,
  stuck: [],
  dead: [],
  silent: [],
  opens: null,
  withinS: null,
});

const isSamePlace = (p: TrialFault, q: TrialFault): boolean =>
  p.element === q.element && p.terminal === q.terminal && p.fraction === q.fraction;

/** With other faults: what became of one later where it was becomes of it where it is now, one that is new stays, one that is gone is gone from then on too. */
export function withFaults(trial: Trial, faults: readonly TrialFault[]): Trial {
  const then = trial.then.map((stage) => {
    // The fault goes out.
    if (stage.faults.length === 0) return stage;
    const later = faults.map((fault, k) => {
      const [was, before] = [trial.faults.at(k), stage.faults.at(k)];
      if (!was || !before) return fault;
      return isSamePlace(was, before) ? { ...fault, kind: before.kind } : before;
    });
    return { ...stage, faults: [...later, ...stage.faults.slice(trial.faults.length)] };
  });
  return { ...trial, faults: [...faults], then };
}

export const newTrialFault = (over: Pick<TrialFault, 'element'> & Partial<TrialFault>): TrialFault => ({
  type: 'shunt',
  terminal: over.fraction === undefined || over.fraction === null ? 0 : null,
  fraction: null,
  kind: '3ph',
  odd: 0,
  phaseOhm: 0,
  earthOhm: 0,
  ...over,
});
