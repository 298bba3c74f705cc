/**
 * The words of studies: which options each study takes and what may stand there. The terminal refuses other options by it; the interface for programs and scripts
 * take the same options as JSON, with names in one word ("phase-r" is "phaseR").
 */
import { z } from 'zod';
import { methods } from '@mesura/core/faults/answers/query';
import { peakMethods } from '@mesura/core/faults/iec60909/peak';
import { earthReturnMethods } from '@mesura/core/earthReturn/impedance';
import { faultKinds } from '@mesura/core/faults/kinds';
import { strategies } from '@mesura/core/proposals/proposal';
import { Refusal, type optionTypes, type Values } from './typed';

export type OptionName = keyof Values & keyof typeof optionTypes;

const text = z.string().min(1).max(400);
const number = z.number();
const yes = z.boolean();
const names = z.array(text).max(5000);
const numbers = z.array(number).max(100);

/** What an option holds, and in a few words what it does. */
const option = <T extends z.ZodType>(schema: T, means: string) => schema.describe(means);

/** All options that a study may take. */
export const optionWords = {
  condition: option(names, 'conditions by name or identifier, or maximum, minimum'),
  case: option(z.enum(['max', 'min']), 'the condition by its sources alone'),
  open: option(names, 'switches taken as open'),
  close: option(names, 'switches taken as closed'),
  out: option(names, 'elements out of service'),
  earthed: option(names, 'lines out of service and earthed at both ends'),
  columns: option(text, 'columns of a table, separated by commas'),
  set: option(names, 'values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases'),
  method: option(z.enum(methods), 'how faults are computed'),
  kind: option(z.enum([...faultKinds, 'all']), 'kind of fault'),
  odd: option(z.enum(['L1', 'L2', 'L3']), 'faulted phase of 1ph, sound phase of 2ph and 2phE'),
  'phase-r': option(number, 'ohms in each faulted phase, resistance'),
  'phase-x': option(number, 'ohms in each faulted phase, reactance'),
  'earth-r': option(number, 'ohms from their common point to earth, resistance'),
  'earth-x': option(number, 'ohms from their common point to earth, reactance'),
  peak: option(z.enum(peakMethods), 'method of IEC 60909-0 for the peak'),
  charging: option(z.enum(['auto', 'always', 'never']), 'line capacitances in the zero sequence'),
  breaking: option(number, 'minimum time delay of the breaking current, s'),
  duration: option(number, 'duration of the fault, s'),
  prefault: option(number, 'voltage before the fault, percent'),
  current: option(z.enum(['E/X', 'E/Z']), 'how IEEE C37.010 divides'),
  parting: option(number, 'contact parting, cycles'),
  s: option(number, 'S factor of the breaker'),
  at: option(names, 'busbars'),
  along: option(names, 'places along lines, LINE:PERCENT; of "earth" a line'),
  end: option(names, 'ends of lines whose breaker there is open, LINE:1 or LINE:2'),
  outage: option(names, 'once more without each of these'),
  fault: option(names, 'faults at once, KIND[/PHASE]@PLACE'),
  break: option(names, 'broken conductors, ELEMENT:TERMINAL/PHASES'),
  branches: option(number, 'nearest branches of each place'),
  outages: option(z.enum(['on', 'off']), 'also with each of the branches out'),
  control: option(z.enum(['on', 'off']), 'taps hold voltages, reactive limits are heeded'),
  scale: option(names, 'loads at a share of their power, ELEMENT:PERCENT'),
  start: option(text, 'the motor that starts'),
  reduction: option(number, 'line current of its start over that of direct starting'),
  sequence: option(z.enum(['positive', 'negative', 'zero']), 'sequence of the matrix'),
  device: option(text, 'a device; of "propose" several, separated by commas'),
  package: option(text, 'a line package'),
  faults: option(z.enum(['phase', 'earth', 'negative']), 'what is measured'),
  path: option(text, 'a device and all that follow it towards the sources'),
  station: option(text, 'a station'),
  strategy: option(z.enum(strategies), 'what the proposal strives for'),
  assumed: option(yes, 'also devices whose figures lean on assumed data'),
  write: option(text, 'file for the project with everything taken over'),
  from: option(number, 'from this nominal voltage on, kV'),
  merged: option(yes, 'lines between the same busbars count as one'),
  line: option(text, 'a line'),
  places: option(number, 'places on each line'),
  resistance: option(numbers, 'of the faults, ohms'),
  arc: option(yes, 'an arc added'),
  scheme: option(text, 'scheme of the line package'),
  criterion: option(text, 'criterion of loadability, NERC PRC-023'),
  trial: option(text, 'a kept trial'),
  stuck: option(names, 'breakers that fail'),
  dead: option(names, 'relays or switches that do nothing'),
  silent: option(names, 'channels that carry nothing'),
  gone: option(number, 'the fault goes out after so long without current, s'),
  within: option(number, 'cleared in time when within this, s'),
  fails: option(names, 'what fails, one at a time'),
  study: option(text, 'a study of its own'),
  carson: option(z.enum(earthReturnMethods), 'impedances with earth as the return'),
  propose: option(z.enum(['both', 'section', 'device']), 'the smallest that do'),
  edition: option(z.enum(['2018', '2002']), 'of IEEE 1584'),
  longest: option(number, 'counted where nothing clears earlier, s'),
  compare: option(yes, 'the other edition beside'),
  maintenance: option(yes, 'with the maintenance settings on'),
  to: option(number, 'end of the curve, A'),
  name: option(text, 'name of what is kept in the project'),
  run: option(text, 'file with a script'),
  show: option(names, 'what else is shown'),
  against: option(text, 'file with an earlier state of the project'),
} as const satisfies { [K in OptionName]?: z.ZodType };

type Word = keyof typeof optionWords;

const ofConditions = ['condition', 'case'] as const;
const ofNetwork = [...ofConditions, 'open', 'close', 'out', 'earthed'] as const;
const ofMethod = [...ofNetwork, 'method', 'peak', 'charging', 'prefault', 'current'] as const;
const ofFault = ['kind', 'odd', 'phase-r', 'phase-x', 'earth-r', 'earth-x'] as const;
const ofDuties = ['breaking', 'duration', 'parting', 's'] as const;
const simultaneous = ['fault', 'break'] as const;

/** Options of every study, beside "columns" and "set". */
export const studyWords = {
  faults: [...ofMethod, ...ofFault, ...ofDuties, 'at', 'along', 'end', 'outage', ...simultaneous, 'show'],
  around: [...ofMethod, ...ofFault, 'at', 'along', 'end', 'branches', 'outages'],
  flow: [...ofNetwork, 'control', 'scale', 'start', 'reduction', 'show'],
  outages: [...ofNetwork, 'show'],
  ratings: [...ofConditions, 'show'],
  direct: [...ofConditions, 'show'],
  arc: [...ofConditions, 'at', 'edition', 'longest', 'compare', 'maintenance', 'show'],
  earth: [...ofConditions, 'at', 'kind', 'along', 'study', 'carson', 'duration'],
  circuits: [...ofConditions, 'at', 'propose', 'show'],
  boards: [...ofConditions, 'at', 'show'],
  matrix: [...ofMethod, 'sequence'],
  grading: [...ofConditions, 'show'],
  directions: [...ofConditions, 'faults'],
  propose: [...ofConditions, 'device', 'path', 'station', 'strategy', 'assumed', 'write'],
  reach: ['from', 'station', 'merged'],
  coverage: [...ofConditions, 'line', 'places', 'resistance', 'arc', 'outage'],
  package: ['line', 'scheme', 'criterion'],
  differential: [...ofConditions, 'device'],
  trial: [...ofNetwork, ...ofFault, ...simultaneous, 'trial', 'outage', 'stuck', 'dead', 'silent', 'gone', 'within'],
  search: [...ofConditions, 'line', 'places', 'kind', 'resistance', 'outage', 'fails'],
  curve: ['device', 'faults', 'to'],
  verify: [...ofConditions, 'against', 'show'],
  sheet: ['device', 'package', 'at'],
  batch: ['name', 'against'],
  script: ['name', 'run', 'write'],
} as const satisfies Readonly<Record<string, readonly Word[]>>;

/** What each is about. */
export const studySummaries = {
  faults: 'fault currents',
  around: 'most and least currents in the branches around faults',
  flow: 'load flow',
  outages: 'every single outage of the load flow',
  ratings: 'duties against ratings over conditions',
  direct: 'voltages and short-circuit currents of direct current',
  arc: 'arc energy, boundaries and clothing at every busbar',
  earth: 'what of an earth fault goes into the grid of a station',
  circuits: 'low-voltage circuits: what they carry, how soon they are cut off, what would do',
  boards: 'boards: how they feed each other, ratings of their busbars, bill of material',
  matrix: 'sequence admittance matrix, Matrix Market form',
  grading: 'pairs of devices, margins, deciding conditions',
  directions: 'currents ahead and backward, who needs a direction',
  propose: 'settings by the rulebook, with conflicts',
  reach: 'distance zones by the rulebook, with what decided',
  coverage: 'which faults along lines distance relays clear',
  package: 'the protection of one line, both margins of every element',
  differential: 'what differential protection sees inside and bears outside',
  trial: 'a fault played until nothing more happens',
  search: 'all faults played and judged, what goes wrong by its cause',
  curve: 'points of the curve of a device',
  verify: 'all checks over all conditions',
  sheet: 'setting sheets: drafts of a file, issued ones of a running server',
  batch: 'a list of studies that is kept in the project, answered as one table',
  script: 'a script that is kept in the project, or one in a file, run against it',
} as const satisfies Readonly<Record<keyof typeof studyWords, string>>;

export type StudyName = keyof typeof studyWords;
export const studyNames = Object.keys(studyWords) as StudyName[];
export const isStudy = (name: string): name is StudyName => Object.hasOwn(studyWords, name);

/** What each command of the terminal takes beside its form and help; undefined where it is no command with options. */
export const optionsOf = (command: string): readonly string[] =>
  isStudy(command)
    ? [...studyWords[command], 'columns', 'set', 'server', 'project', ...(command === 'sheet' ? ['revision'] : [])]
    : (ofOthers[command] ?? []);

const ofOthers: Readonly<Record<string, readonly string[]>> = {
  import: ['into', 'take', 'beside', 'columns'],
  export: ['as'],
  cases: ['columns'],
  formula: ['columns'],
};

/** Files are the terminal's own: nobody else names paths. */
const ofTheTerminal: ReadonlySet<Word> = new Set(['write', 'against', 'run']);

/** "phase-r" as "phaseR". */
export const asOneWord = (name: string): string => name.replace(/-(.)/g, (_, letter: string) => letter.toUpperCase());

/** What a study takes as JSON. Others' keys are refused. */
export const studyOptions = (study: StudyName) =>
  z.strictObject(
    Object.fromEntries(
      ([...studyWords[study], 'columns', 'set'] as Word[])
        .filter((name) => !ofTheTerminal.has(name))
        .map((name) => [asOneWord(name), optionWords[name].optional()]),
    ),
  );

/** An option as it was typed, as JSON: numbers where the study takes numbers. Throws a {@link Refusal}. */
export function typedOption(name: Word, value: unknown): unknown {
  const takes = (each: unknown) => optionWords[name].safeParse(each).success;
  const asNumber = (text: unknown) => (typeof text === 'string' && text.trim() !== '' ? Number(text) : Number.NaN);
  if (takes(value)) return value;
  // One where there may be several.
  if (typeof value === 'string' && takes([value])) return [value];
  const numeric = Array.isArray(value) ? value.map(asNumber) : asNumber(value);
  if (takes(numeric)) return numeric;
  if (takes([numeric])) return [numeric];
  throw new Refusal(2, `--${name} cannot be "${Array.isArray(value) ? value.join(', ') : String(value)}"`);
}

/** Options by their one-word names as they were typed, as JSON. Throws a {@link Refusal}. */
export function typedOptions(study: StudyName, typed: Readonly<Record<string, unknown>>): Record<string, unknown> {
  const byWord = new Map(
    [...studyWords[study], 'columns' as const, 'set' as const].map((name) => [asOneWord(name), name]),
  );
  return Object.fromEntries(
    Object.entries(typed).map(([word, value]) => {
      const name = byWord.get(word);
      if (!name || ofTheTerminal.has(name)) throw new Refusal(2, `${study} takes no "${word}"`);
      return [word, typedOption(name, value)];
    }),
  );
}

/** The same options as the terminal takes them. `options`: as {@link studyOptions} reads them. */
export function asArguments(options: Readonly<Record<string, unknown>>): string[] {
  const byWord = new Map(Object.keys(optionWords).map((name) => [asOneWord(name), name]));
  return Object.entries(options).flatMap(([word, value]) => {
    const name = byWord.get(word)!;
    if (value === undefined || value === false) return [];
    if (value === true) return [`--${name}`];
    return (Array.isArray(value) ? value : [value]).map((each) => `--${name}=${each}`);
  });
}
