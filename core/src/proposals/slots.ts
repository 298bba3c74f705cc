/** What a curve of a function is there for: which rules are about it. */
import type { Measured } from '../model/chart';
import type { RuleSubject } from '../model/rulebook';
import type { Setting, TimeCurrent } from '../protection/family';
import { familyOf } from '../protection/registry';
import type { SettingRange } from '../model/deviceFunction';

type FunctionSubject = Exclude<RuleSubject, 'pair' | 'currentTransformer'>;

const byCode: Readonly<Record<string, FunctionSubject>> = {
  '51': 'phaseDelayed',
  '67': 'phaseDelayed',
  '51V': 'phaseDelayed',
  '50': 'phaseInstant',
  '51N': 'earthDelayed',
  '51G': 'earthDelayed',
  '67N': 'earthDelayed',
  '50N': 'earthInstant',
  '50G': 'earthInstant',
  '46': 'negative',
};
const byPart: Readonly<Record<string, FunctionSubject>> = {
  longTime: 'link',
  shortTime: 'phaseDelayed',
  instantaneous: 'phaseInstant',
  earthFault: 'earthDelayed',
};

/** From this delay on, in seconds, an undelayed function is a delayed stage. */
const delayedFromS = 0.08;

/** A high stage with a delay of its own: it stays where it is set as long as rules allow. */
export const isHighStage = ({ fn, code, part }: TimeCurrent): boolean =>
  part === 'shortTime' || (fn.family === 'overcurrent' && /^50/.test(code) && fn.delayS >= delayedFromS);

/** Null where no rule is about it: the supervision of a start, the fast operations of a recloser. */
export function subjectOf(curve: TimeCurrent): FunctionSubject | null {
  const { fn, part, code, fast } = curve;
  if (fast) return null;
  if (isHighStage(curve)) return curve.quantity === 'phase' ? 'phaseDelayed' : 'earthDelayed';
  switch (fn.family) {
    case 'overcurrent':
      return byCode[code] ?? null;
    case 'release':
      return part === undefined ? null : (byPart[part] ?? null);
    case 'fuse':
    case 'miniature':
      return 'link';
    case 'thermal':
    case 'overload':
      return 'thermal';
    default:
      return null;
  }
}

const measuredBy = { phase: 'phase', residual: 'earth', negative: 'negative' } as const;
export const modeOf = ({ quantity }: TimeCurrent): Measured => measuredBy[quantity];

/** What the setting of a curve moves: its pickup, or its time; undefined where that is fixed. */
export const settingOf = ({ fn, part }: TimeCurrent, role: 'pickup' | 'time'): Setting | undefined =>
  familyOf(fn)
    .settings(fn)
    .find(
      (each) => each.role === role && each.part === part && !(role === 'pickup' && part && each.field === 'ratedA'),
    );

/** What it can be set to, from the smallest up. */
export interface Steps {
  readonly range: SettingRange | null;
  readonly sizes: readonly number[] | null;
  /** The range is only what is common: that of the device is not known. */
  readonly isTypical: boolean;
}

export function stepsOf({ range, typical, sizes }: Setting): Steps | null {
  if (sizes) return { range: null, sizes: [...sizes].sort((p, q) => p - q), isTypical: false };
  if (range) return { range, sizes: null, isTypical: false };
  return typical ? { range: typical, sizes: null, isTypical: true } : null;
}

export const countOf = ({ range, sizes }: Steps): number =>
  sizes ? sizes.length : Math.floor((range!.max - range!.min) / range!.step + 1e-9) + 1;

/** The k-th value from below, clean of binary rounding. */
export function stepAt({ range, sizes }: Steps, k: number): number {
  if (sizes) return sizes[Math.min(Math.max(k, 0), sizes.length - 1)];
  const { min, max, step } = range!;
  return Number(Math.min(min + Math.max(k, 0) * step, max).toFixed(9));
}

/** The first step from which on a condition holds that holds for all larger ones too; null where it never does. */
export function firstStep(steps: Steps, holds: (value: number) => boolean): number | null {
  let [low, high] = [0, countOf(steps) - 1];
  if (!holds(stepAt(steps, high))) return null;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (holds(stepAt(steps, middle))) high = middle;
    else low = middle + 1;
  }
  return stepAt(steps, low);
}

/** The last step up to which a condition holds that holds for all smaller ones too; null where it never does. */
export function lastStep(steps: Steps, holds: (value: number) => boolean): number | null {
  let [low, high] = [0, countOf(steps) - 1];
  if (!holds(stepAt(steps, low))) return null;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (holds(stepAt(steps, middle))) low = middle;
    else high = middle - 1;
  }
  return stepAt(steps, low);
}
