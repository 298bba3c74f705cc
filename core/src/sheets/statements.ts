/** The checks about a device that its sheet states, and the kept trials that it takes part in. */
import type { Check } from '../checks/check';
import { Checker, type Run } from '../checks/run';
import { ruleNamed, rules } from '../checks/rules';
import type { ElementId } from '../model/fields';
import { ofKind, type Network } from '../model/network';
import { conditionOf } from '../model/state';
import type { Device } from '../protection/device';
import type { Studies } from '../studies/studies';
import { trialAnswer, type TrialAnswer } from '../trials/answer';
import { eventText } from '../trials/words';
import type { SheetStatement, SheetTrial } from './content';

/** Rules about devices; those with a family only where a device has functions of it. */
const stated: Readonly<Record<string, string | null>> = {
  'equipment.making': null,
  'equipment.breaking': null,
  'equipment.shortTime': null,
  'equipment.ratedCurrent': null,
  'equipment.accuracyLimit': null,
  'equipment.adequacy': null,
  'settings.steps': null,
  'settings.sensitivity': null,
  'settings.load': null,
  'settings.direction': null,
  'settings.zones': 'distance',
  'settings.distance': 'distance',
  'settings.differential': 'differential',
  'settings.damage': null,
  'settings.overload': null,
  'grading.pairs': null,
  'grading.found': null,
};

const kept = new WeakMap<Studies, Map<string, Run>>();

/** Runs the rules that sheets of these devices state something from: yields the share that is done. */
export function* sheetChecks(studies: Studies, devices: readonly Device[]): Generator<number, Run> {
  const families = new Set(devices.flatMap(({ functions }) => functions.map(({ family }) => family as string)));
  const key = ['distance', 'differential'].filter((family) => families.has(family)).join();
  const known = kept.get(studies) ?? new Map<string, Run>();
  kept.set(studies, known);
  const before = known.get(key);
  if (before) return before;
  const chosen = rules.filter(({ id }) => {
    const family = stated[id];
    return family === null || (family !== undefined && families.has(family));
  });
  const run = yield* new Checker(chosen).run(studies);
  known.set(key, run);
  return run;
}

const isAbout = ({ subject, elements }: Check, id: ElementId): boolean =>
  subject === id || (elements?.includes(id) ?? false);

/** That each value can be set is said once, and only what cannot by itself. */
const isWorthwhile = ({ rule, verdict }: Check): boolean =>
  rule in stated && verdict !== 'notApplicable' && (rule !== 'settings.steps' || verdict !== 'holds');

export const sheetStatements = (network: Network, device: Device, { checks }: Pick<Run, 'checks'>): SheetStatement[] =>
  checks
    .filter((check) => isWorthwhile(check) && isAbout(check, device.id))
    // A pair of two charts is judged once in each: the same is said once.
    .filter(
      ({ title, value, bound, verdict }, k, all) =>
        all.findIndex((p) => p.title === title && p.value === value && p.bound === bound && p.verdict === verdict) ===
        k,
    )
    .map(({ id, rule, title, value, bound, unit, sense, verdict, deciding, message }) => ({
      id,
      rule,
      title,
      value,
      bound,
      unit,
      sense,
      verdict,
      conditionId: deciding?.condition ?? null,
      condition: deciding ? (conditionOf(network, deciding.condition)?.name ?? '') : '',
      message,
      clause: ruleNamed(rule)?.clause ?? '',
    }));

const played = new WeakMap<Studies, readonly TrialAnswer[]>();

/** Each kept trial is played once for all devices. */
function playedTrials(studies: Studies): readonly TrialAnswer[] {
  let answers = played.get(studies);
  if (!answers) {
    answers = ofKind(studies.network, 'trial').flatMap((trial) => {
      const answered = trialAnswer(studies, trial);
      return answered.ok ? [answered.answer] : [];
    });
    played.set(studies, answers);
  }
  return answers;
}

export const sheetTrials = (studies: Studies, device: Device): SheetTrial[] =>
  playedTrials(studies)
    .filter(({ devices }) => devices.includes(device.id))
    .map(({ trial, judged, clearedS, events }) => ({
      id: trial.id,
      name: trial.name,
      verdict: judged.verdict,
      clearedS,
      events: events
        .filter(
          (event) =>
            (event.device === device.id && (event.kind === 'trip' || event.kind === 'melt')) ||
            (event.kind === 'open' && event.element !== undefined && device.opens.includes(event.element)),
        )
        .map((event) => ({ atS: event.atS, text: eventText(studies.network, event) })),
    }));
