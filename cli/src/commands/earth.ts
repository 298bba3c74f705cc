/** `mesura earth`: what of an earth fault goes into the grid of a station, what returns along shield wires, sheaths and towers, how far potentials rise. */
import type { Studies } from '@mesura/core/studies/studies';
import { earthFaultKinds, type EarthFaultKind } from '@mesura/core/earthReturn/fromNetwork';
import {
  caseOf,
  earthAlong,
  earthDetail,
  earthStudy,
  faultBuses,
  verdictTitles,
  type AlongRow,
  type EarthDetail,
  type EarthQuery,
} from '@mesura/core/earthReturn/study';
import { earthReturnMethods } from '@mesura/core/earthReturn/impedance';
import { profileRows } from '@mesura/core/earthReturn/profiles';
import { defaultSettings } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn, networkOf, ofKind, settingsOf, type Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { finished } from '@mesura/core/working/steps';
import { networkFor, plainFormat, type Call, type Command, type Outcome, studiesOf } from '../command';
import { conditionsAsked, elementNamed, numberOf, oneOf, Refusal } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

/** With the method and the duration asked for in the place of those of the project. */
function asked({ values }: Call, network: Network): Network {
  const settings = ofKind(network, 'projectSettings').at(0) ?? defaultSettings;
  const earthReturn = {
    ...settingsOf(network).earthReturn,
    ...(values.carson !== undefined && { method: oneOf('--carson', values.carson, earthReturnMethods) }),
    ...(values.duration !== undefined && { durationS: numberOf('--duration', values.duration, 0.01, 60) }),
  };
  const others = [...network.elements.values()].filter(({ kind }) => kind !== 'projectSettings');
  return networkOf([...others, { ...settings, earthReturn }]);
}

/** Exit code 1 where nothing can be computed, 3 where a rise of potential or a wire is beyond what is borne. */
export const earthCommand: Command = {
  name: 'earth',
  takes: 'FILE',
  summary: studySummaries.earth,
  run(call): Outcome {
    const { values } = call;
    const network = asked(call, networkFor(call, 'earth'));
    const studies = studiesOf(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const kind =
      values.kind === undefined || values.kind === '3ph' ? '1ph' : oneOf('--kind', values.kind, earthFaultKinds);
    if (values.study !== undefined) return free(call, network, studies, values.study);
    const [line, ...more] = values.along ?? [];
    if (more.length > 0) throw new Refusal(2, '--along takes one line');
    if (line !== undefined) return along(call, studies, conditions[0].id, kind, line);
    return table(call, studies, conditions, kind);
  },
};

function table(call: Call, studies: Studies, conditions: Studies['conditions'], kind: EarthFaultKind): Outcome {
  const { network } = studies;
  const format = plainFormat(call.values);
  const { rows: all, without, remarks } = finished(earthStudy(studies, conditions, kind));
  const buses = call.values.at?.map((name) => elementNamed(network, name, ['bus'], 'busbar').id);
  const problems = [
    ...all.flatMap(({ bus, condition, problem }) =>
      problem === null ? [] : [`${nameIn(network, bus)}, ${conditionOf(network, condition)?.name}: ${problem}`],
    ),
    ...(without.length > 0 ? [`the earthing of ${without.map(({ name }) => name).join(', ')} is not given`] : []),
  ];
  const places = new Set(faultBuses(network).map(({ bus }) => bus));
  for (const bus of buses ?? [])
    if (!places.has(bus))
      problems.push(`${nameIn(network, bus)}: no line ends there, or another busbar of its level stands for it`);
  const rows = all.flatMap(({ figures, ...row }) =>
    figures && (!buses || buses.includes(row.bus)) ? [{ ...row, figures }] : [],
  );
  type Row = (typeof rows)[number];
  const columns: Column<Row>[] = [
    { head: 'at', name: 'at', value: ({ bus }) => nameIn(network, bus) },
    { head: 'condition', name: 'condition', value: ({ condition }) => conditionOf(network, condition)?.name ?? '' },
    { head: 'over lines A', name: 'lines_A', value: ({ figures }) => figures.linesA },
    { head: 'grid A', name: 'grid_A', value: ({ figures }) => figures.gridA },
    { head: 'split factor', name: 'split_factor', value: ({ figures }) => figures.split },
    { head: 'Df', name: 'decrement', value: ({ figures }) => figures.decrement },
    {
      head: 'grid · Df A',
      name: 'grid_decremented_A',
      value: ({ figures }) => (figures.decrement === null ? null : figures.decrement * figures.gridA),
    },
    { head: 'rise V', name: 'rise_V', value: ({ figures }) => figures.riseV },
    { head: 't s', name: 'time_s', value: ({ time }) => time.timeS },
    { head: 'without proof V', name: 'met_up_to_V', value: ({ figures }) => figures.touch.metV },
    { head: 'touch', name: 'touch', value: ({ figures }) => verdictTitles[figures.verdict] },
    {
      head: 'hottest wire %',
      name: 'hottest_percent',
      value: ({ figures: { hottest } }) => (hottest ? (100 * hottest.ampere) / hottest.borneA : null),
    },
  ];
  const output =
    format === 'json'
      ? `${JSON.stringify(
          {
            command: 'earth',
            method: settingsOf(network).earthReturn.method,
            rows: rows.map((row) => {
              const query: EarthQuery = {
                of: 'network',
                condition: row.condition,
                place: { at: 'bus', bus: row.bus },
                kind,
              };
              const found = earthDetail(network, caseOf(studies, query));
              return {
                ...row,
                at: nameIn(network, row.bus),
                conditionName: conditionOf(network, row.condition)?.name ?? '',
                ...(found.ok && { detail: found.detail }),
              };
            }),
            remarks,
            problems,
          },
          null,
          2,
        )}\n`
      : tableOf(columns, rows, format);
  const isBeyond = rows.some(
    ({ figures: { verdict, hottest } }) => verdict === 'prove' || (hottest !== null && hottest.ampere > hottest.borneA),
  );
  const errors = format === 'json' ? '' : [...problems, ...remarks].map((text) => `note: ${text}\n`).join('');
  return { code: rows.length === 0 ? 1 : isBeyond ? 3 : 0, output, errors };
}

/** A study of its own, position by position. */
function free(call: Call, network: Network, studies: Studies, name: string): Outcome {
  const study = ofKind(network, 'earthStudy').find((each) => each.name === name || each.id === name);
  if (!study)
    throw new Refusal(
      2,
      `no study is called "${name}"; there are: ${
        ofKind(network, 'earthStudy')
          .map((each) => each.name)
          .join(', ') || 'none'
      }`,
    );
  const found = earthDetail(network, caseOf(studies, { of: 'study', study: study.id, fault: null }));
  if (!found.ok) throw new Refusal(1, found.problem);
  return { code: 0, ...profiles(call, found.detail) };
}

function profiles(call: Call, detail: EarthDetail) {
  const format = plainFormat(call.values);
  if (format === 'json') return { output: `${JSON.stringify({ command: 'earth', detail }, null, 2)}\n`, errors: '' };
  const { figures } = detail;
  const { columns, rows } = profileRows(detail);
  type Row = (typeof rows)[number];
  const own = columns.map(({ head, key }): Column<Row> => ({
    head,
    name: head.replace(/[^A-Za-z0-9]+/g, '_'),
    value: (row) => row[key] ?? null,
  }));
  const errors = [
    `split factor ${figures.split.toPrecision(4)}, grid ${figures.gridA.toPrecision(4)} A, rise ${figures.riseV.toPrecision(4)} V`,
    ...detail.remarks,
  ];
  return { output: tableOf(own, rows, format), errors: errors.map((text) => `note: ${text}\n`).join('') };
}

/** Faults along a line, the station at its terminal 0 the one looked at. */
function along(call: Call, studies: Studies, condition: ElementId, kind: EarthFaultKind, name: string): Outcome {
  const { network } = studies;
  const line = elementNamed(network, name, ['line'], 'line').id;
  const answer = finished(earthAlong(studies, { of: 'network', condition, line, hubTerminal: 0, kind }));
  if (!answer.ok) throw new Refusal(1, answer.problem);
  const format = plainFormat(call.values);
  const columns: Column<AlongRow>[] = [
    { head: 'tower', name: 'tower', value: ({ tower }) => tower },
    { head: 'km', name: 'km', value: ({ km }) => km },
    { head: 'fault A', name: 'fault_A', value: ({ faultA }) => faultA },
    { head: 'tower V', name: 'tower_V', value: ({ towerV }) => towerV },
    { head: 'tower A', name: 'tower_A', value: ({ towerA }) => towerA },
    { head: 'station V', name: 'station_V', value: ({ hubV }) => hubV },
    { head: 'split factor', name: 'split_factor', value: ({ hubSplit }) => hubSplit },
    { head: 'far station V', name: 'far_V', value: ({ farV }) => farV },
    { head: 'far split factor', name: 'far_split_factor', value: ({ farSplit }) => farSplit },
  ];
  const output =
    format === 'json'
      ? `${JSON.stringify({ command: 'earth', line: nameIn(network, line), ...answer }, null, 2)}\n`
      : tableOf(columns, answer.rows, format);
  return { code: 0, output, errors: '' };
}
