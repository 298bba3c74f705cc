/** `mesura directions`: what flows through each device ahead and backward, and which need a direction. */
import { faultKindTitles } from '@mesura/core/faults/kinds';
import { directions, type DirectedCurrent, type Directions } from '@mesura/core/grading/directions';
import type { ElementId } from '@mesura/core/model/fields';
import { conditionOf } from '@mesura/core/model/state';
import { finished } from '@mesura/core/working/steps';
import { networkFor, plainFormat, type Command, studiesOf } from '../command';
import { conditionsAsked, oneOf } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

const needs = { none: 'none', pickup: 'a higher pickup would do', direction: 'needed' } as const;

const columns: Column<Directions>[] = [
  { head: 'faults', name: 'faults', value: ({ mode }) => mode },
  { head: 'device', name: 'device', value: ({ device }) => device.name },
  { head: 'ahead min A', name: 'ahead_least_a', value: ({ forward }) => forward?.least.ampere ?? null },
  { head: 'ahead max A', name: 'ahead_most_a', value: ({ forward }) => forward?.most.ampere ?? null },
  { head: 'backward max A', name: 'backward_most_a', value: ({ reverse }) => reverse?.most.ampere ?? null },
  { head: 'load A', name: 'load_a', value: ({ loadA }) => loadA },
  { head: 'pickup A', name: 'pickup_a', value: ({ pickupA }) => pickupA },
  { head: 'angle °', name: 'angle_deg', value: ({ angleDeg }) => angleDeg },
  { head: 'has', name: 'directional', value: ({ directional }) => (directional ? 'direction' : '') },
  { head: 'direction', name: 'needs', value: ({ needs: need }) => needs[need] },
];

export const directionsCommand: Command = {
  name: 'directions',
  takes: 'FILE',
  summary: studySummaries.directions,
  /** All conditions unless some are named. Exit code 3 where a direction is needed and not there. */
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const asked = values.faults === undefined ? null : oneOf('--faults', values.faults, ['phase', 'earth']);
    const network = networkFor(call, 'directions');
    const studies = studiesOf(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const rows = finished(directions(studies, conditions, asked ? [asked] : undefined));
    const missing = rows.filter(({ needs: need, directional }) => need === 'direction' && !directional).length;
    const told = (current: DirectedCurrent | undefined) =>
      current && {
        ...current,
        kind: faultKindTitles[current.kind],
        condition: nameOfCondition(current.condition),
      };
    const nameOfCondition = (id: ElementId) => conditionOf(network, id)?.name ?? id;
    const jsonOf = ({ device, forward, reverse, mode, ...rest }: Directions) => ({
      faults: mode,
      device: { id: device.id, name: device.name },
      ahead: forward && { least: told(forward.least), most: told(forward.most) },
      backward: reverse && { least: told(reverse.least), most: told(reverse.most) },
      ...rest,
    });
    const output =
      format === 'json'
        ? `${JSON.stringify({ command: 'directions', missing, devices: rows.map(jsonOf) }, null, 2)}\n`
        : tableOf(columns, rows, format);
    const errors = format === 'table' ? `${rows.length} rows, ${missing} without the direction that they need\n` : '';
    return { code: missing > 0 ? 3 : 0, output, errors };
  },
};
