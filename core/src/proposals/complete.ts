/** Functions that rules ask of a device and that it lacks, and directions that functions lack: put in before settings are proposed for them. */
import type { Measured } from '../model/chart';
import type { ElementId } from '../model/fields';
import type { Rulebook, RuleSubject } from '../model/rulebook';
import {
  mainInput,
  timeCurrents,
  withFunction,
  withFunctions,
  type Device,
  type DeviceElement,
} from '../protection/device';
import { newFunction } from '../protection/overcurrent/library';
import type { FunctionCode, OvercurrentFunction } from '../protection/overcurrent/schema';
import { allFamilies, familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { demandsOf, type Demand } from './demand';
import { kindsBehind, type Figures, type Plant } from './figures';
import { subjectOf } from './slots';

/** What stands for a subject where a device has nothing of it. */
const standard: Partial<Record<RuleSubject, { readonly variant: string; readonly mode: Measured }>> = {
  phaseDelayed: { variant: '51', mode: 'phase' },
  phaseInstant: { variant: '50', mode: 'phase' },
  earthDelayed: { variant: '51N', mode: 'earth' },
  earthInstant: { variant: '50N', mode: 'earth' },
  negative: { variant: '46', mode: 'negative' },
  thermal: { variant: '49', mode: 'phase' },
};

/** A function that a device is given, with what asks for it. */
export interface Given {
  readonly fn: DeviceFunction;
  readonly by: readonly Demand[];
}

/**
 * Functions that rules ask of a relay and that it has none of, neither in use nor out of use; nothing where it would see no fault. Other devices are
 * built with what they have.
 */
export function missingFunctions(
  book: Rulebook,
  device: Device,
  plant: readonly Plant[],
  figures: (mode: Measured) => Figures,
): readonly Given[] {
  if (device.kind !== 'relay') return [];
  const kinds = kindsBehind(plant);
  // Also those out of use: somebody has decided that.
  const all = withFunctions(
    device.element,
    device.functions.map((fn) => ({ ...fn, enabled: true })),
  );
  const has = new Set(timeCurrents({ ...device, functions: all.functions }).map(subjectOf));
  const taken = new Set<string>(device.functions.map(({ id }) => id));
  const like = device.functions.find(({ family }) => family === 'overcurrent');
  return Object.entries(standard).flatMap(([subject, { variant, mode }]): Given[] => {
    if (has.has(subject as RuleSubject & ReturnType<typeof subjectOf>)) return [];
    const known = figures(mode);
    const rated = known.rated.value;
    if (rated === null || known.largestFault.value === null) return [];
    const by = demandsOf(book, subject as RuleSubject, kinds, 'present', known).filter(({ value }) => rated >= value);
    const family = allFamilies().find(
      ({ hosts, variants }) => hosts.includes('relay') && variants.some(({ value }) => value === variant),
    );
    if (by.length === 0 || !family) return [];
    let id = `${device.id}-${variant.toLowerCase()}`;
    for (let k = 2; taken.has(id); k++) id = `${device.id}-${variant.toLowerCase()}-${k}`;
    return [{ fn: family.fresh(id as ElementId, variant, mainInput(device)!.id as ElementId, like), by }];
  });
}

export const withGiven = <E extends DeviceElement>(element: E, given: readonly Given[]): E =>
  withFunctions(element, [...element.functions, ...given.map(({ fn }) => fn)]);

const directedCodes: Partial<Record<FunctionCode, FunctionCode>> = { '51': '67', '51N': '67N' };

/** Whether a function can be given a direction. */
export const canBeDirected = (fn: DeviceFunction): fn is OvercurrentFunction =>
  fn.family === 'overcurrent' && directedCodes[fn.code] !== undefined;

/** The same function heeding a direction, forward. */
export function directed(fn: OvercurrentFunction): OvercurrentFunction {
  const code = directedCodes[fn.code]!;
  return { ...fn, code, direction: newFunction(fn.id, code, fn.ranges, fn.input).direction };
}

export const withDirected = <E extends DeviceElement>(element: E, ids: readonly ElementId[]): E =>
  ids.reduce((changed, id) => {
    const fn = changed.functions.find((each) => each.id === id)!;
    return withFunction(changed, directed(fn as OvercurrentFunction));
  }, element);

/** What a function is set to, in a few words. */
export const settingWords = (fn: DeviceFunction): string =>
  familyOf(fn)
    .settings(fn)
    .filter(({ role, field }) => role !== 'other' || field === 'direction.characteristicAngleDeg')
    .map(({ title, value, unit }) => `${title.toLowerCase()} ${Number(value.toPrecision(6))}${unit && ` ${unit}`}`)
    .join(', ');
