/** `mesura propose`: settings by the rulebook of the project, and what cannot be met; written into a copy of the project where wanted. */
import type { Studies } from '@mesura/core/studies/studies';
import { writeProject } from '@mesura/core/formats/project/project';
import { applyChanges } from '@mesura/core/model/changes';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { devicesOf } from '@mesura/core/protection/device';
import type { Demand } from '@mesura/core/proposals/demand';
import { accepted } from '@mesura/core/proposals/origin';
import { propose } from '@mesura/core/proposals/propose';
import { strategies, type Proposal, type ProposedValue } from '@mesura/core/proposals/proposal';
import { devicesAt, pathOf } from '@mesura/core/proposals/scope';
import { stationsOf } from '@mesura/core/model/stations';
import { finished } from '@mesura/core/working/steps';
import { onePath, plainFormat, projectFrom, type Command, studiesOf } from '../command';
import { conditionsAsked, oneOf, Refusal, type Values } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

const shown = (value: number | boolean | string) =>
  typeof value === 'boolean' ? (value ? 'in use' : 'out of use') : value;
const reasonOf = ({ by }: ProposedValue) => by.map(({ title }) => title).join('; ');

const columns: Column<ProposedValue>[] = [
  { head: 'device', name: 'device', value: ({ deviceName }) => deviceName },
  { head: 'function', name: 'function', value: ({ code }) => code },
  { head: 'setting', name: 'setting', value: ({ title }) => title },
  { head: 'from', name: 'from', value: ({ from }) => shown(from) },
  { head: 'to', name: 'to', value: ({ to }) => shown(to) },
  { head: 'unit', name: 'unit', value: ({ unit }) => unit },
  { head: 'primary A', name: 'primary_a', value: ({ primaryA }) => primaryA },
  { head: 'rule', name: 'rule', value: reasonOf },
];

/** Exit code 3 where demands are in conflict. */
export const proposeCommand: Command = {
  name: 'propose',
  takes: 'FILE',
  summary: studySummaries.propose,
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const { network, name, notes } = projectFrom(onePath(call, 'propose'), call.read);
    const studies = studiesOf(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const strategy = oneOf('--strategy', values.strategy ?? 'fastest', strategies);
    const devices = scopeOf(network, studies, values);
    const proposal = finished(
      propose(studies, conditions, { devices, strategy, includeAssumed: values.assumed === true }),
    );
    const files =
      values.write === undefined ? [] : [{ path: values.write, content: written(network, proposal, name, notes) }];
    const changed = proposal.values.filter(({ from, to }) => from !== to);
    const conditionName = (id: ElementId | null) => (id === null ? null : (conditionOf(network, id)?.name ?? id));
    const remarks = [
      ...proposal.conflicts.map(({ message, ways }) =>
        [`conflict: ${message}`, ...ways.map(({ words }) => `  would hold with ${words}`)]
          .map((line) => `${line}\n`)
          .join(''),
      ),
      ...proposal.ratios.map(
        ({ ctName, from, to, by }) =>
          `current transformer: ${ctName}, ${from} A, better ${to} A (${by.title.toLowerCase()})\n`,
      ),
      ...proposal.remarks.map((remark) => `note: ${remark}\n`),
      ...proposal.leftOut.map(({ deviceName, reason }) => `left out: ${deviceName}, ${reason}\n`),
      `${changed.length} of ${proposal.values.length} values change, ${proposal.conflicts.length} conflicts, ${proposal.measures.pairsShort} of ${proposal.measures.pairs} margins not met\n`,
    ];
    const output =
      format === 'json'
        ? `${JSON.stringify({ command: 'propose', ...jsonOf(proposal, conditionName) }, null, 2)}\n`
        : tableOf(columns, changed, format);
    return {
      code: proposal.conflicts.length > 0 ? 3 : 0,
      output,
      errors: format === 'table' ? remarks.join('') : '',
      files,
    };
  },
};

/** Null: all devices. */
function scopeOf(network: Network, studies: Studies, { device, path, station }: Values): ReadonlySet<ElementId> | null {
  if ([device, path, station].filter((each) => each !== undefined).length > 1)
    throw new Refusal(2, '--device, --path and --station: give one of them');
  const all = devicesOf(network);
  const named = (word: string): ElementId => {
    const found = all.find(({ id, name }) => id === word || name === word);
    if (found) return found.id;
    throw new Refusal(1, `no device is called "${word}"; there are: ${all.map((each) => each.name).join(', ')}`);
  };
  if (device !== undefined) return new Set(device.split(',').map((word) => named(word.trim())));
  if (station !== undefined) {
    const stations = stationsOf(network);
    const found = stations.find(({ id, name }) => id === station || name === station);
    if (!found)
      throw new Refusal(
        1,
        `no station is called "${station}"; there are: ${stations.map(({ name }) => name).join(', ')}`,
      );
    return new Set(devicesAt(network, found.id));
  }
  return path === undefined ? null : pathOf(studies, studies.conditions, named(path));
}

/** The project with everything that is proposed taken over. */
function written(network: Network, { values, book, elements }: Proposal, name: string, notes: string): string {
  const on = new Date().toISOString().slice(0, 10);
  const batch = elements.map(({ id }) => {
    const { element } = devicesOf(network).find((device) => device.id === id)!;
    return {
      op: 'update' as const,
      element: accepted(
        element,
        values.filter(({ device }) => device === id),
        book,
        on,
      ),
    };
  });
  const applied = applyChanges(network, batch);
  if (!applied.ok) throw new Refusal(1, applied.problems.map(({ message }) => message).join('\n'));
  return writeProject({ name, notes, elements: applied.network.elements.values() });
}

function jsonOf(
  { values, conflicts, leftOut, ratios, remarks, measures, strategy, book }: Proposal,
  conditionName: (id: ElementId | null) => string | null,
) {
  const demand = ({ rule, title, sense, value, unit, atA, condition, figures, pair }: Demand) => ({
    rule: rule?.id ?? null,
    title,
    sense,
    value,
    unit,
    atA,
    condition: conditionName(condition),
    pair,
    figures: figures.map((figure) => ({ ...figure, condition: conditionName(figure.condition) })),
  });
  return {
    strategy,
    book,
    measures,
    values: values.map(({ by, ...rest }) => ({ ...rest, by: by.map(demand) })),
    conflicts: conflicts.map(({ kept, given, ...rest }) => ({ ...rest, kept: demand(kept), given: demand(given) })),
    ratios: ratios.map(({ by, ...rest }) => ({ ...rest, by: demand(by) })),
    leftOut,
    remarks,
  };
}
