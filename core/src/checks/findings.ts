/** Findings: what is wrong or doubtful in the data and the settings, each with its place. */
import { advised } from './advice';
import { equipmentFindings } from './equipment';
import { doubtsOf } from '../assembly/doubts';
import type { StudyPair } from '../grading/seen';
import { farEnds, relayFigures, ctOf, type FaultFigure } from '../grading/seen';
import { pairMargin, pairStates } from '../grading/margin';
import { nameOf } from '../model/element';
import { find, ofKind, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import type { Relay } from '../model/protection';
import { isDefinite, primaryRelay, type Measured } from '../protection/overcurrent/relay';
import { isSettable } from '../protection/overcurrent/settings';

/** A phase relay should see the smallest fault at its far end at least this many times its pickup. */
export const wantedSensitivity = 1.5;

export interface Sensitivity {
  readonly measured: Measured;
  readonly figure: FaultFigure;
  readonly pickupA: number;
  readonly factor: number;
}

/** Far-end sensitivity of a relay, phase and earth: smallest current seen over the most sensitive pickup. */
export function sensitivities(studies: StudyPair, relay: Relay): Sensitivity[] {
  const ct = ctOf(studies.max.assembly.network, relay);
  if (!ct) return [];
  const figures = relayFigures(studies, relay).farEnd;
  const functions = primaryRelay(relay, ct).functions;
  return (['phase', 'earth'] as const).flatMap((measured) => {
    const pickups = functions.filter((fn) => fn.measured === measured).map((fn) => fn.pickupA);
    const seen = (figure: FaultFigure) => (measured === 'phase' ? figure.seen.phaseA : figure.seen.residualA);
    const kinds = measured === 'phase' ? ['3ph', '2ph'] : ['1ph', '2phE'];
    const relevant = figures.filter((figure) => kinds.includes(figure.kind) && seen(figure) > 1e-3);
    if (pickups.length === 0 || relevant.length === 0) return [];
    const figure = relevant.reduce((p, q) => (seen(q) < seen(p) ? q : p));
    const pickupA = Math.min(...pickups);
    return [{ measured, figure, pickupA, factor: seen(figure) / pickupA }];
  });
}

/** All findings, each with what to do about it; faults first, then doubts, then what was assumed. */
export function findings(studies: StudyPair): Problem[] {
  const order = { error: 0, warning: 1, assumed: 2 };
  return gathered(allFindings(studies), studies.max.assembly.network)
    .map(advised)
    .sort((p, q) => order[p.severity] - order[q.severity]);
}

/** The same about more elements than these is one finding. */
const mostAlike = 3;
const alike: Readonly<Record<string, string>> = {
  'supply.none': 'are connected to no source',
  'zeroSequence.missing': 'lack zero-sequence data; earth faults around them are not computed',
  'terminal.open': 'have a free end',
  'relay.functions': 'have no function in use',
  'relay.ct': 'measure at no current transformer',
  'relay.trips': 'trip no breaker',
};

function gathered(problems: readonly Problem[], network: Network): Problem[] {
  const byCode = new Map<string, Problem[]>();
  for (const problem of problems)
    if (problem.code in alike && problem.element)
      byCode.set(problem.code, [...(byCode.get(problem.code) ?? []), problem]);
  const many = [...byCode].filter(([, list]) => list.length > mostAlike);
  const gone = new Set(many.flatMap(([, list]) => list));
  return [
    ...problems.filter((problem) => !gone.has(problem)),
    ...many.map(([code, list]): Problem => {
      const elements = list.map(({ element }) => element!);
      const names = elements.map((id) => nameOf(network.elements.get(id)!));
      const [first] = list;
      return {
        severity: list.some(({ severity }) => severity === 'error') ? 'error' : first.severity,
        code,
        message: `${names.slice(0, 3).join(', ')} and ${names.length - 3} more ${alike[code]}`,
        element: first.element,
        elements,
        field: first.field,
      };
    }),
  ];
}

function allFindings(studies: StudyPair): Problem[] {
  const { network, problems } = studies.max.assembly;
  const missing = new Map<string, Problem>();
  for (const row of missingZeroSequence(studies)) missing.set(`${row.element}${row.field}`, row);
  return [
    ...problems,
    ...doubtsOf(studies.max.assembly),
    ...missing.values(),
    ...equipmentFindings(studies),
    ...ofKind(network, 'relay').flatMap((relay) => relayFindings(studies, relay)),
    ...ofKind(network, 'gradingChart').flatMap((chart) =>
      chart.pairs.flatMap((pair): Problem[] => {
        const below = find(network, 'relay', pair.downstream);
        const above = find(network, 'relay', pair.upstream);
        if (!below || !above) return [];
        const margin = pairMargin(network, pairStates(studies, below, above, chart.mode), pair, chart.mode);
        if (margin.verdict === 'holds') return [];
        const what =
          margin.verdict === 'short'
            ? `${(margin.wantedS - margin.decisive!.marginS).toFixed(3)} s short of ${margin.wantedS} s`
            : margin.reason;
        return [
          {
            severity: margin.verdict === 'short' || margin.verdict === 'blind' ? 'error' : 'warning',
            code: `grading.${margin.verdict}`,
            message: `${nameOf(below)} → ${nameOf(above)}, ${chart.mode} faults: ${what}`,
            element: chart.id,
          },
        ];
      }),
    ),
  ];
}

function missingZeroSequence(studies: StudyPair): Problem[] {
  const { zero, network, topology } = studies.max.assembly;
  return topology.nodes
    .flatMap((node) => zero.gapsAt(node.index))
    .map((gap) => ({
      severity: 'warning',
      code: 'zeroSequence.missing',
      message: `zero-sequence data of ${nameOf(network.elements.get(gap.element)!)} are missing; earth faults around it are not computed`,
      element: gap.element,
      field: gap.fields[0],
    }));
}

function relayFindings(studies: StudyPair, relay: Relay): Problem[] {
  const list: Problem[] = [];
  const say = (severity: Problem['severity'], code: string, message: string, field?: string) =>
    list.push({ severity, code, message, element: relay.id, field });
  if (relay.ct === null) say('error', 'relay.ct', `${relay.name} measures at no current transformer`, 'ct');
  if (relay.trips.length === 0) say('warning', 'relay.trips', `${relay.name} trips no breaker`, 'trips');
  if (!relay.functions.some((fn) => fn.enabled))
    say('warning', 'relay.functions', `${relay.name} has no function in use`);
  for (const fn of relay.functions.filter((each) => each.enabled)) {
    const fields = ['pickup', isDefinite(fn) ? 'delayS' : 'timeMultiplier'] as const;
    for (const field of fields)
      if (!isSettable(fn.ranges[field], fn[field]))
        say(
          'error',
          'setting.step',
          `${relay.name}, ${fn.code}: ${fn[field]} is not a step of the device (${field})`,
          `functions.${fn.id}.${field}`,
        );
  }
  if (relay.ct !== null && farEnds(studies, relay).length === 0)
    say('warning', 'relay.current', `no fault current reaches the current transformer of ${relay.name}`);
  for (const { measured, factor, figure } of sensitivities(studies, relay))
    if (factor < wantedSensitivity)
      say(
        factor < 1 ? 'error' : 'warning',
        'setting.sensitivity',
        `${relay.name} sees the smallest ${measured} fault at ${figure.placeName} only ${factor.toFixed(2)} × its pickup (wanted ${wantedSensitivity} ×)`,
      );
  return list;
}
