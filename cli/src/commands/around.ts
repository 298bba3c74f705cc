/** `mesura around`: the most and the least that the branches around a fault carry, over kinds of fault and single outages. */
import { iec60909Study, terminalPlace } from '@mesura/core/faults/iec60909/study';
import { largestPhase } from '@mesura/core/faults/solution/contributions';
import type { FaultKind } from '@mesura/core/faults/kinds';
import type { Place } from '@mesura/core/faults/solution/solve';
import { sweep } from '@mesura/core/faults/answers/sweep';
import { faultCaseOf } from '@mesura/core/model/condition';
import { networkIn } from '@mesura/core/model/state';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind, type Network } from '@mesura/core/model/network';
import { toPhases } from '@mesura/core/sequence/components';
import { conditionsAsked, faultQueries, numberOf, oneOf, placesOf, Refusal, studyQuery, type Values } from '../options';
import { done, networkFor, plainFormat, type Command } from '../command';
import { tableOf, type Column, type Format } from '../output';
import { studySummaries } from '../words';

interface Extreme {
  readonly ampere: number;
  readonly kind: FaultKind;
  readonly without: string;
  readonly withoutId: ElementId | null;
  /** The condition that decided. */
  readonly condition: string;
}

interface AroundRow {
  readonly place: string;
  readonly placeId: ElementId;
  readonly id: ElementId;
  readonly branch: string;
  readonly terminal: number;
  most: Extreme;
  least: Extreme;
}

const kilo = 1e-3;
const columns: Column<AroundRow>[] = [
  { head: 'fault at', name: 'fault_at', value: (row) => row.place },
  { head: 'branch', name: 'branch', value: (row) => row.branch },
  { head: 'terminal', name: 'terminal', value: (row) => String(row.terminal + 1) },
  { head: 'most kA', name: 'most_A', value: (row) => row.most.ampere, scale: kilo },
  { head: 'kind', name: 'most_kind', value: (row) => row.most.kind },
  { head: 'without', name: 'most_without', value: (row) => row.most.without },
  { head: 'least kA', name: 'least_A', value: (row) => row.least.ampere, scale: kilo },
  { head: 'kind', name: 'least_kind', value: (row) => row.least.kind },
  { head: 'without', name: 'least_without', value: (row) => row.least.without },
];
/** Where several conditions were asked for. */
const withConditions: Column<AroundRow>[] = [
  ...columns.slice(0, 6),
  { head: 'condition', name: 'most_condition', value: (row) => row.most.condition },
  ...columns.slice(6),
  { head: 'condition', name: 'least_condition', value: (row) => row.least.condition },
];

const jsonExtreme = ({ ampere, kind, without, withoutId, condition }: Extreme) => ({
  currentA: ampere,
  kind,
  condition,
  ...(withoutId !== null && { without, withoutId }),
});

const jsonRow = ({ place, placeId, branch, id, terminal, most, least }: AroundRow) => ({
  place,
  placeId,
  element: branch,
  id,
  terminal: terminal + 1,
  most: jsonExtreme(most),
  least: jsonExtreme(least),
});

export const aroundCommand: Command = {
  name: 'around',
  takes: 'FILE',
  summary: studySummaries.around,
  run(call) {
    const format = plainFormat(call.values);
    return done(aroundOutput(networkFor(call, 'around'), call.values, format));
  },
};

/** Of the branch's own outages nothing is told: it carries nothing then. Refusals: a method or an impedance that sweeps do not know. */
function aroundOutput(network: Network, values: Values, format: Format): string {
  const conditions = conditionsAsked(network, values);
  const query = studyQuery(network, values, conditions[0]);
  if (query.method !== 'iec60909') throw new Refusal(2, 'around knows --method iec60909 only');
  const queries = faultQueries(values);
  const [{ phaseOhm, earthOhm, odd }] = queries;
  if (odd !== 0 || [phaseOhm, earthOhm].some(({ re, im }) => re !== 0 || im !== 0))
    throw new Refusal(2, 'around knows solid faults with L1 as the odd phase only');
  const wanted = placesOf(network, values) ?? ofKind(network, 'bus').map((bus) => terminalPlace(bus.id));
  const places = wanted.map((place): Place => {
    if (place.at === 'openEnd') throw new Refusal(2, 'around knows no --end');
    return place;
  });
  const name = (id: ElementId) => nameOf(network.elements.get(id)!);
  const rows = new Map<string, AroundRow>();
  const options = {
    places,
    kinds: queries.map(({ kind }) => kind),
    branches: numberOf('--branches', values.branches!, 1, 200),
    outages: oneOf('--outages', values.outages, ['on', 'off']) === 'on',
  };
  for (const condition of conditions) {
    const asked = studyQuery(network, values, condition);
    const study = iec60909Study(networkIn(network, asked), faultCaseOf(condition), asked);
    sweep(study, options, ({ place, kind, outage, ok, branches, currents }) => {
      if (!ok) return;
      const at = place.at === 'line' ? `${name(place.element)} at ${place.fraction * 100} %` : name(place.element);
      branches.forEach(({ element, terminal }, k) => {
        if (element === outage) return;
        const part = (s: number) => ({ re: currents[6 * k + 2 * s], im: currents[6 * k + 2 * s + 1] });
        const largest = largestPhase(toPhases({ positive: part(0), negative: part(1), zero: part(2) }));
        // Where nothing can flow, rounding leaves a trace.
        const ampere = largest < 1e-6 ? 0 : largest;
        const here = {
          ampere,
          kind,
          without: outage === null ? '' : name(outage),
          withoutId: outage,
          condition: condition.name,
        };
        const key = JSON.stringify([at, element, terminal]);
        const row = rows.get(key);
        if (!row)
          rows.set(key, {
            place: at,
            placeId: place.element,
            branch: name(element),
            id: element,
            terminal,
            most: here,
            least: here,
          });
        else {
          if (ampere > row.most.ampere) row.most = here;
          if (ampere < row.least.ampere) row.least = here;
        }
      });
    });
  }
  if (rows.size === 0) throw new Refusal(1, 'no fault could be computed at these places');
  return format === 'json'
    ? `${JSON.stringify({ command: 'around', method: query.method, ...(conditions.length === 1 ? { case: faultCaseOf(conditions[0]), condition: conditions[0].name } : { conditions: conditions.map((each) => each.name) }), branches: [...rows.values()].map(jsonRow) }, null, 2)}\n`
    : tableOf(conditions.length > 1 ? withConditions : columns, [...rows.values()], format);
}
