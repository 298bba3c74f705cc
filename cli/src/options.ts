/** Arguments of the terminal program as questions to the core: places, kinds, conditions, by name or identifier. */
import { Refusal, type Values } from './typed';
import type { FaultQuery, PlaceQuery, StudyQuery } from '@mesura/core/studies/engine';
import { methods } from '@mesura/core/studies/engine';
import { peakMethods } from '@mesura/core/faults/iec60909/peak';
import { faultKinds, solidFault, type FaultKind, type Phase } from '@mesura/core/faults/kinds';
import type { Disturbance, Place } from '@mesura/core/faults/solution/solve';
import type { Complex } from '@mesura/core/linear/complex';
import { nameOf, type Element, type ElementKind } from '@mesura/core/model/element';
import { faultCaseOf, outageKinds, type Condition } from '@mesura/core/model/condition';
import { conditionsOf } from '@mesura/core/model/state';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind, type Network } from '@mesura/core/model/network';

export { optionTypes, Refusal, type Values } from './typed';

export function oneOf<const T extends string>(option: string, value: string | undefined, allowed: readonly T[]): T {
  if (value !== undefined && (allowed as readonly string[]).includes(value)) return value as T;
  throw new Refusal(2, `${option} must be one of ${allowed.join(', ')}, not "${value}"`);
}

export function numberOf(option: string, text: string, low = -Infinity, high = Infinity): number {
  const value = Number(text);
  if (text.trim() !== '' && Number.isFinite(value) && value >= low && value <= high) return value;
  const bounds = low > -Infinity ? ` of at least ${low}${high < Infinity ? ` and at most ${high}` : ''}` : '';
  throw new Refusal(2, `${option} must be a number${bounds}, not "${text}"`);
}

/** The element with this name or identifier. */
export function elementNamed<K extends ElementKind>(
  network: Network,
  name: string,
  kinds: readonly K[],
  what: string,
): Extract<Element, { kind: K }> {
  for (const element of network.elements.values())
    if ((kinds as readonly string[]).includes(element.kind) && (element.id === name || nameOf(element) === name))
      return element as Extract<Element, { kind: K }>;
  const known = kinds.flatMap((kind) => ofKind(network, kind)).map((element) => nameOf(element as Element));
  throw new Refusal(
    1,
    `no ${what} is called "${name}"; ${known.length > 0 ? `there are: ${known.slice(0, 60).join(', ')}` : 'there is none'}`,
  );
}

const idsOf = (network: Network, names: readonly string[] = [], kinds: readonly ElementKind[], what: string) =>
  names.map((name) => elementNamed(network, name, kinds, what).id as ElementId);

/** Conditions asked for by name or identifier, or by the case alone; maximum sources where nothing is said. */
export function conditionsAsked(network: Network, { condition: names = [], case: byCase }: Values): Condition[] {
  const all = conditionsOf(network);
  if (byCase !== undefined && names.length > 0)
    throw new Refusal(2, '--case and --condition say the same: give one of them');
  if (names.length === 0) {
    const faultCase = oneOf('--case', byCase ?? 'max', ['max', 'min']);
    return [all.find((each) => faultCaseOf(each) === faultCase)!];
  }
  return names.map((name) => {
    const found = all.find((each) => each.id === name || each.name === name);
    if (found) return found;
    throw new Refusal(1, `no condition is called "${name}"; there are: ${all.map((each) => each.name).join(', ')}`);
  });
}

/** The only condition asked for: of a study that answers for one at a time. */
export function oneCondition(network: Network, values: Values, command: string): Condition {
  const [first, ...more] = conditionsAsked(network, values);
  if (more.length > 0) throw new Refusal(2, `${command} takes one --condition at a time`);
  return first;
}

export function studyQuery(network: Network, values: Values, condition: Condition): StudyQuery {
  return {
    method: oneOf('--method', values.method, methods),
    condition: condition.id,
    peak: oneOf('--peak', values.peak, peakMethods),
    charging: oneOf('--charging', values.charging, ['auto', 'always', 'never']),
    prefaultPercent: numberOf('--prefault', values.prefault!, 50, 150),
    current: oneOf('--current', values.current, ['E/X', 'E/Z']),
    alterations: {
      open: idsOf(network, values.open, ['switch', 'earthingSwitch'], 'switch'),
      closed: idsOf(network, values.close, ['switch', 'earthingSwitch'], 'switch'),
      out: idsOf(network, values.out, outageKinds, 'element'),
      earthed: idsOf(network, values.earthed, ['line'], 'line'),
    },
  };
}

export const outagesOf = (network: Network, values: Values): (ElementId | null)[] =>
  values.outage?.length ? idsOf(network, values.outage, outageKinds, 'element') : [null];

const phaseOf = (option: string, text: string): Phase =>
  ['L1', 'L2', 'L3'].indexOf(oneOf(option, text, ['L1', 'L2', 'L3'])) as Phase;

export function faultQueries(values: Values): FaultQuery[] {
  const kind = oneOf('--kind', values.kind, [...faultKinds, 'all']);
  const complex = (name: 'phase' | 'earth'): Complex => ({
    re: numberOf(`--${name}-r`, values[`${name}-r`]!, 0),
    im: numberOf(`--${name}-x`, values[`${name}-x`]!),
  });
  const common = {
    odd: phaseOf('--odd', values.odd!),
    phaseOhm: complex('phase'),
    earthOhm: complex('earth'),
    breakingS: values.breaking === undefined ? null : numberOf('--breaking', values.breaking, 0.01, 10),
    durationS: values.duration === undefined ? null : numberOf('--duration', values.duration, 0.001, 100),
    breaker: { partingCycles: numberOf('--parting', values.parting!, 0.5, 60), s: numberOf('--s', values.s!, 1, 2) },
  };
  return (kind === 'all' ? faultKinds : [kind]).map((each) => ({ kind: each, ...common }));
}

/** Loads, motors and drives with the factor of their power. */
export const scaledOf = (network: Network, { scale = [] }: Values): ReadonlyMap<ElementId, number> =>
  new Map(
    scale.map((text) => {
      const [name, percent] = withNumber('--scale', text);
      if (percent < 0) throw new Refusal(2, `--scale must not be below nought, not "${text}"`);
      const kinds = ['load', 'asynchronousMotor', 'staticDrive'] as const;
      return [elementNamed(network, name, kinds, 'load').id, percent / 100];
    }),
  );

/** "NAME:40" with a number after the last colon. */
function withNumber(option: string, text: string): [string, number] {
  const at = text.lastIndexOf(':');
  if (at < 1) throw new Refusal(2, `${option} must be NAME:NUMBER, not "${text}"`);
  return [text.slice(0, at), numberOf(option, text.slice(at + 1).replace(/%$/, ''))];
}

function along(network: Network, text: string): Place {
  const [name, percent] = withNumber('--along', text);
  if (!(percent > 0 && percent < 100))
    throw new Refusal(2, `--along: the place must lie inside the line, not at ${percent} %`);
  return { at: 'line', element: elementNamed(network, name, ['line'], 'line').id, fraction: percent / 100 };
}

/** Places asked for; undefined for all buses. */
export function placesOf(network: Network, values: Values): PlaceQuery[] | undefined {
  const { at = [], along: points = [], end: ends = [] } = values;
  const places: PlaceQuery[] = [
    ...at
      .filter((name) => name !== 'all')
      .map((name): Place => ({ at: 'terminal', element: elementNamed(network, name, ['bus'], 'bus').id, terminal: 0 })),
    ...points.map((text) => along(network, text)),
    ...ends.map((text): PlaceQuery => {
      const [name, end] = withNumber('--end', text);
      if (end !== 1 && end !== 2) throw new Refusal(2, `--end must name end 1 or 2 of a line, not "${text}"`);
      return { at: 'openEnd', element: elementNamed(network, name, ['line'], 'line').id, terminal: end - 1 };
    }),
  ];
  return places.length === 0 || at.includes('all') ? undefined : places;
}

/** "1ph/L2@BUS" or "2phE@LINE:40%"; "LINE:1/L1,L3" for a break. */
export function disturbancesOf(network: Network, values: Values): Disturbance[] {
  const complex = faultQueries({ ...values, kind: '3ph' })[0];
  const faults = (values.fault ?? []).map((text): Disturbance => {
    const match = /^([^@/]+)(?:\/(L[123]))?@(.+)$/.exec(text);
    if (!match)
      throw new Refusal(2, `--fault must be KIND[/PHASE]@PLACE, such as 1ph/L2@BUS or 2phE@LINE:40%, not "${text}"`);
    const kind: FaultKind = oneOf('--fault', match[1], faultKinds);
    const place: Place = /:[\d.]+%$/.test(match[3])
      ? along(network, match[3])
      : { at: 'terminal', element: elementNamed(network, match[3], ['bus'], 'bus').id, terminal: 0 };
    return {
      type: 'shunt',
      place,
      ...solidFault(kind),
      odd: match[2] ? phaseOf('--fault', match[2]) : 0,
      phaseOhm: complex.phaseOhm,
      earthOhm: complex.earthOhm,
    };
  });
  const breaks = (values.break ?? []).map((text): Disturbance => {
    const match = /^(.+):([123])\/(L[123](?:,L[123])*)$/.exec(text);
    if (!match) throw new Refusal(2, `--break must be ELEMENT:TERMINAL/PHASES, such as L1:2/L1,L3, not "${text}"`);
    const element = elementNamed(
      network,
      match[1],
      ['line', 'transformer', 'threeWindingTransformer', 'seriesReactor'],
      'branch',
    );
    const phases = [...new Set(match[3].split(',').map((phase) => phaseOf('--break', phase)))];
    return { type: 'open', element: element.id, terminal: Number(match[2]) - 1, phases };
  });
  return [...faults, ...breaks];
}
