/** `mesura direct`: the direct-current network in every condition: voltages in service, short-circuit currents, what clears them. */
import { totalCurrent } from '@mesura/core/direct/currents';
import { directStudy, isBelow, directWorking, longestFaultS, type DirectRow } from '@mesura/core/direct/study';
import { nameIn } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { finished } from '@mesura/core/working/steps';
import { plainFormat, wholeNetworkFor, type Command, studiesOf } from '../command';
import { conditionsAsked, oneOf, Refusal } from '../options';
import { tableOf, workingText, type Column } from '../output';
import { studySummaries } from '../words';

/** Exit code 3 where a load has less than its lowest voltage or falls out, or nothing clears a fault. */
export const directCommand: Command = {
  name: 'direct',
  takes: 'FILE',
  summary: studySummaries.direct,
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const show = (values.show ?? []).map((word) => oneOf('--show', word, ['working']));
    const network = wholeNetworkFor(call, 'direct');
    const conditions =
      values.condition || values.case ? conditionsAsked(network, values) : studiesOf(network).conditions;
    const { rows, flows } = finished(directStudy(network, conditions));
    if (rows.length === 0) throw new Refusal(1, 'the project has no board of direct current');
    const name = (id: Parameters<typeof nameIn>[1]) => nameIn(network, id);
    const conditionName = (id: Parameters<typeof conditionOf>[1]) => conditionOf(network, id)?.name ?? id;
    const cleared = ({ largest }: DirectRow): string => {
      const by = largest?.course.governing;
      if (by) return `${name(by.device)} ${by.code}`;
      return largest?.course.limited ? `nothing within ${longestFaultS} s` : '';
    };
    const columns: Column<DirectRow>[] = [
      { head: 'place', name: 'place', value: ({ element }) => name(element) },
      { head: 'V nominal', name: 'nominal_V', value: ({ nominalV }) => nominalV },
      { head: 'lowest V', name: 'lowest_V', value: ({ lowest }) => lowest?.volts ?? null },
      { head: '%', name: 'lowest_percent', value: ({ lowest }) => lowest?.percent ?? null },
      { head: 'needs %', name: 'needs_percent', value: ({ lowestPercent }) => lowestPercent },
      { head: 'ip A', name: 'peak_A', value: ({ largest }) => largest?.fault.peakA ?? null },
      { head: 'tp ms', name: 'peak_ms', value: ({ largest }) => largest && 1000 * largest.fault.peakS },
      { head: 'Ik max A', name: 'steady_max_A', value: ({ largest }) => largest?.fault.steadyA ?? null },
      { head: 'Ik min A', name: 'steady_min_A', value: ({ smallest }) => smallest?.fault.steadyA ?? null },
      { head: 'cleared by', name: 'cleared_by', value: cleared },
      {
        head: 'after s',
        name: 'cleared_s',
        value: ({ largest }) => (largest && !largest.course.limited ? largest.course.burnsS : null),
      },
      {
        head: 'latest s',
        name: 'cleared_latest_s',
        value: ({ results }) =>
          results.length === 0 || results.some(({ course }) => course.limited)
            ? null
            : Math.max(...results.map(({ course }) => course.burnsS)),
      },
    ];
    const output =
      format === 'json'
        ? `${JSON.stringify(
            {
              command: 'direct',
              conditions: conditions.map((each) => each.name),
              rows: rows.map((row) => ({
                place: name(row.element),
                kind: row.kind,
                nominalV: row.nominalV,
                lowestPercent: row.lowestPercent,
                voltages: row.voltages.map(({ condition, ...rest }) => ({
                  condition: conditionName(condition),
                  ...rest,
                })),
                faults: row.results.map(({ condition, fault, course }) => ({
                  condition: conditionName(condition),
                  peakA: fault.peakA,
                  peakS: fault.peakS,
                  steadyA: fault.steadyA,
                  circuitA: fault.circuitA,
                  currentA: [0.001, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1].map((seconds) => ({
                    seconds,
                    ampere: totalCurrent(fault)(seconds),
                  })),
                  partials: fault.partials.map(({ element, ...rest }) => ({ source: name(element), ...rest })),
                  cleared: course.limited ? null : course.burnsS,
                  openings: course.openings.map(({ device, ...rest }) => ({ device: name(device), ...rest })),
                })),
              })),
              flows: flows.map(({ condition, rows: all, collapsed }) => ({
                condition: conditionName(condition),
                rows: all.map(({ element, ...rest }) => ({ element: name(element), ...rest })),
                collapsed: collapsed.map(name),
              })),
            },
            null,
            2,
          )}\n`
        : tableOf(columns, rows, format) +
          (show.includes('working') && format === 'table'
            ? rows
                .flatMap(({ element, largest }) =>
                  largest ? [workingText(name(element), directWorking(network, element, largest.condition) ?? [])] : [],
                )
                .join('')
            : '');
    const low = rows.filter(isBelow);
    const fallen = new Set(flows.flatMap(({ collapsed }) => collapsed));
    const uncleared = rows.filter(({ results }) => results.some(({ course }) => course.limited));
    const errors =
      format === 'table'
        ? `${rows.length} places, ${low.length} below their lowest voltage, ${fallen.size} loads fall out, ${uncleared.length} not cleared\n`
        : '';
    return { code: low.length + fallen.size + uncleared.length > 0 ? 3 : 0, output, errors };
  },
};
