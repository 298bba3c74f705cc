/** `mesura differential`: what differential functions see of faults inside, and bear of faults outside, over the conditions. */
import { placeIn } from '@mesura/core/faults/names';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import type { Place } from '@mesura/core/faults/solution/solve';
import { planeStudy, type PlanePoint } from '@mesura/core/differential/plane';
import { stabilityAt, type Stability } from '@mesura/core/differential/stability';
import { adequacies } from '@mesura/core/differential/adequacy';
import { devicesOf } from '@mesura/core/protection/device';
import { familyOf } from '@mesura/core/protection/registry';
import { finished } from '@mesura/core/working/steps';
import { SilentTrace } from '@mesura/core/working/trace';
import { networkFor, plainFormat, type Command, studiesOf } from '../command';
import { conditionsAsked, elementNamed, Refusal } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

interface Row {
  readonly device: string;
  readonly code: string;
  readonly weakest: PlanePoint | null;
  readonly leastA: number | null;
  readonly nearest: PlanePoint | null;
  readonly tapped: PlanePoint | null;
  readonly stability: Stability | null;
}

/** Exit code 3 where a fault inside is not seen, or one outside trips. */
export const differentialCommand: Command = {
  name: 'differential',
  takes: 'FILE',
  summary: studySummaries.differential,
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const network = networkFor(call, 'differential');
    const studies = studiesOf(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const only = values.device === undefined ? null : elementNamed(network, values.device, ['relay'], 'relay').id;
    const rows = devicesOf(network).flatMap((device) =>
      device.functions.flatMap((fn): Row[] => {
        if (fn.family !== 'differential' || !fn.enabled || (only !== null && device.id !== only)) return [];
        const { points, weakest, nearest, largest, tapped, region } = finished(
          planeStudy(studies, conditions, device, fn),
        );
        const least = points.flatMap(({ leastA }) => leastA ?? []);
        const state = { condition: largest?.condition ?? conditions[0].id, outage: largest?.outage ?? null };
        const stable = region.outside.flatMap((place) => stabilityAt(studies, state, device, fn, place, '3ph') ?? []);
        return [
          {
            device: device.name,
            code: familyOf(fn).code(fn),
            weakest,
            leastA: least.length > 0 ? Math.max(...least) : null,
            nearest,
            tapped,
            stability: stable.reduce<Stability | null>((p, q) => (p && p.multiple >= q.multiple ? p : q), null),
          },
        ];
      }),
    );
    if (rows.length === 0)
      throw new Refusal(
        1,
        only === null ? 'no relay has differential protection' : `${values.device} has no differential protection`,
      );
    const name = (id: ElementId) => nameIn(network, id);
    const placeText = (place: Place) => placeIn(network, place);
    const columns: Column<Row>[] = [
      { head: 'relay', name: 'relay', value: ({ device }) => device },
      { head: '', name: 'function', value: ({ code }) => code },
      { head: 'inside, × threshold', name: 'inside_multiple', value: ({ weakest }) => weakest?.multiple ?? null },
      { head: 'worst at', name: 'inside_place', value: ({ weakest }) => (weakest ? placeText(weakest.place) : null) },
      { head: 'sees from A', name: 'sees_from_A', value: ({ leastA }) => leastA },
      { head: 'outside, × threshold', name: 'outside_multiple', value: ({ nearest }) => nearest?.multiple ?? null },
      { head: 'saturated', name: 'saturated_multiple', value: ({ stability }) => stability?.multiple ?? null },
      {
        head: 'bears A',
        name: 'bears_A',
        value: ({ stability }) => (stability?.bearsA === Infinity ? 'over 100 ×' : stability ? stability.bearsA : null),
      },
      { head: 'behind tap', name: 'tapped_multiple', value: ({ tapped }) => tapped?.multiple ?? null },
    ];
    const point = (each: PlanePoint | null) =>
      each && {
        place: placeText(each.place),
        kind: each.kind,
        condition: conditionOf(network, each.condition)?.name ?? each.condition,
        faultA: each.faultA,
        multiple: each.multiple,
        trips: each.trips,
        elements: each.points.map(({ name: of, operating, restraining, threshold }) => ({
          name: of,
          operating,
          restraining,
          threshold,
        })),
      };
    const output =
      format === 'json'
        ? `${JSON.stringify(
            {
              command: 'differential',
              functions: rows.map(({ device, code, weakest, leastA, nearest, tapped, stability }) => ({
                relay: device,
                function: code,
                seesFromA: leastA,
                inside: point(weakest),
                outside: point(nearest),
                tapped: point(tapped),
                saturation: stability && {
                  place: placeText(stability.place),
                  multiple: stability.multiple,
                  saturationS: stability.saturationS,
                  bearsA: stability.bearsA === Infinity ? null : stability.bearsA,
                  unknown: stability.unknown.map(name),
                  assumed: stability.assumed,
                },
              })),
              currentTransformers: adequacies(studies, conditions, new SilentTrace()).map((each) => ({
                relay: name(each.device),
                function: each.code,
                ct: name(each.ct),
                kssc: each.kssc,
                ktd: each.ktd,
                requiredV: Number.isNaN(each.requiredV) ? null : each.requiredV,
                builtV: each.builtV,
                holds: each.holds,
              })),
            },
            null,
            2,
          )}\n`
        : tableOf(columns, rows, format);
    const wrong = rows.some(({ weakest, nearest }) => weakest?.trips === false || nearest?.trips === true);
    return { code: wrong ? 3 : 0, output, errors: '' };
  },
};
