/**
 * Conditions: named states of the system, laid over the model as it is drawn: sources maximum or minimum, switch positions, what is out of
 * service or earthed for work, which machines run, taps, operating voltages.
 */
import { z } from 'zod';
import { choice, elementId, elementIdSchema, quantity, reference, withDefault, type ElementId } from './fields';

/** Kinds of element that are taken out of service as a whole; switches are opened instead. */
export const outageKinds = [
  'line',
  'transformer',
  'threeWindingTransformer',
  'seriesReactor',
  'networkFeeder',
  'synchronousMachine',
  'powerStationUnit',
  'asynchronousMotor',
  'staticDrive',
  'converterSource',
  'doublyFedMachine',
  'load',
  'shunt',
  'earthingTransformer',
  'battery',
  'rectifier',
  'directMotor',
  'directCapacitor',
  'directLoad',
  'directCable',
] as const;

/** Machines that a condition may start and stop. */
export const machineKinds = [
  'synchronousMachine',
  'powerStationUnit',
  'asynchronousMotor',
  'staticDrive',
  'converterSource',
  'doublyFedMachine',
] as const;

/** Switched by a condition. */
export const switchedKinds = ['switch', 'earthingSwitch'] as const;

const listOf = (kinds: readonly string[], title: string) =>
  z.array(reference(kinds, 'entry')).max(500).default([]).meta({ title, hidden: true });

/** What a condition changes of the network as drawn. */
const alterations = {
  open: listOf(switchedKinds, 'Switches open'),
  closed: listOf(switchedKinds, 'Switches closed'),
  out: listOf(outageKinds, 'Out of service'),
  /** Lines out of service and earthed at both ends: they take no load, but couple. */
  earthed: listOf(['line'], 'Earthed for work'),
  stopped: listOf(machineKinds, 'Machines not running'),
  running: listOf(['synchronousMachine', 'powerStationUnit'], 'Machines running'),
  taps: z
    .array(
      z.object({
        element: reference(['transformer', 'threeWindingTransformer'], 'entry'),
        position: z.int().min(-40).max(40),
      }),
    )
    .max(200)
    .default([])
    .meta({ title: 'Tap positions', hidden: true }),
  voltages: z
    .array(
      z.object({
        element: reference(['networkFeeder'], 'entry'),
        percent: quantity('Operating voltage', '% Un', { above: 50, max: 150 }),
      }),
    )
    .max(200)
    .default([])
    .meta({ title: 'Operating voltages', hidden: true }),
};

/** A named state of the system. Not on the drawing; what it changes is shown there. */
export const conditionSchema = z
  .object({
    kind: z.literal('condition'),
    id: elementIdSchema,
    name: z.string().trim().min(1, 'must not be empty').max(80).meta({ title: 'Name' }),
    note: z.string().max(2000).default('').meta({ title: 'Note' }),
    sources: choice('Sources', ['maximum', 'minimum']),
    limits: withDefault(
      choice('Limits of voltage and loading', ['normal', 'emergency'], { help: 'Emergency: for a limited time' }),
      'normal',
    ),
    ...alterations,
  })
  .superRefine(({ open, closed, running, stopped }, context) => {
    const twice = (list: readonly ElementId[], other: readonly ElementId[], path: string, message: string) => {
      if (list.some((id) => other.includes(id))) context.addIssue({ code: 'custom', path: [path], message });
    };
    twice(open, closed, 'closed', 'a switch is either open or closed');
    twice(running, stopped, 'stopped', 'a machine either runs or is stopped');
  });
export type Condition = z.infer<typeof conditionSchema>;

export const alterationFields = Object.keys(alterations) as (keyof Alterations)[];

/** What is changed of the network as drawn, some of it or nothing. */
export type Alterations = {
  readonly [K in keyof typeof alterations]?: Readonly<z.infer<(typeof alterations)[K]>>;
};

/** These two always exist; they are part of no project. */
export const maximumSources: Condition = builtIn('maximum', 'Maximum sources');
export const minimumSources: Condition = builtIn('minimum', 'Minimum sources');
export const builtInConditions = [maximumSources, minimumSources];

function builtIn(sources: Condition['sources'], name: string): Condition {
  const none = { open: [], closed: [], out: [], earthed: [], stopped: [], running: [], taps: [], voltages: [] };
  return { kind: 'condition', id: elementId(sources), name, note: '', sources, limits: 'normal', ...none };
}

/** How a condition's faults are calculated: with maximum or minimum sources (IEC 60909-0, 5.3.1 and 7.1). */
export const faultCaseOf = ({ sources }: Pick<Condition, 'sources'>): 'max' | 'min' =>
  sources === 'maximum' ? 'max' : 'min';
