/** `mesura coverage`: which faults along lines their distance relays clear, at once, one after the other, later or not at all. */
import { nameOf } from '@mesura/core/model/element';
import { conditionOf } from '@mesura/core/model/state';
import type { ElementId } from '@mesura/core/model/fields';
import { circuitsOf } from '@mesura/core/reach/circuits';
import {
  countsOf,
  coverageOf,
  coverages,
  coveringEnds,
  usualCoverage,
  type Covered,
} from '@mesura/core/reach/coverage';
import { neighboursOf } from '@mesura/core/reach/neighbours';
import { reachPlan } from '@mesura/core/reach/plan';
import { finished } from '@mesura/core/working/steps';
import { networkFor, plainFormat, type Command, studiesOf } from '../command';
import { conditionsAsked, Refusal } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

interface Line {
  readonly line: string;
  readonly kind: string;
  readonly counts: ReturnType<typeof countsOf>;
  readonly slowestS: number | null;
}

const columns: Column<Line>[] = [
  { head: 'line', name: 'line', value: ({ line }) => line },
  { head: 'fault', name: 'fault', value: ({ kind }) => kind },
  ...coverages.map((each): Column<Line> => ({ head: each, name: each, value: ({ counts }) => counts[each] })),
  { head: 'slowest s', name: 'slowest_s', value: ({ slowestS }) => slowestS },
];

const numbers = (option: string, list: readonly string[]): number[] =>
  list.map((word) => {
    const value = Number(word);
    if (!(value >= 0) || word.trim() === '') throw new Refusal(2, `${option} takes numbers from 0 on, not "${word}"`);
    return value;
  });

/** Exit code 3 where a fault is cleared by no relay at the ends of its line. */
export const coverageCommand: Command = {
  name: 'coverage',
  takes: 'FILE',
  summary: studySummaries.coverage,
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const network = networkFor(call, 'coverage');
    const studies = studiesOf(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const [places] = numbers('--places', [values.places ?? '21']);
    const resistances = numbers('--resistance', values.resistance ?? ['0']);
    if (!(places >= 1 && places <= 1000)) throw new Refusal(2, '--places takes 1 to 1000');
    const plan = finished(reachPlan(studies, { merged: false, fromKv: 0 }));
    const relays = coveringEnds(plan);
    if (relays.length === 0) throw new Refusal(1, 'no relay at the end of a line has distance protection');
    const circuits = circuitsOf(network).filter(({ ends, lines }) => {
      const isNamed =
        values.line === undefined ||
        lines.some((id) => id === values.line || nameOf(network.elements.get(id)!) === values.line);
      return (
        isNamed &&
        relays.some((relay) => ends.some((end) => end.line === relay.end.line && end.terminal === relay.end.terminal))
      );
    });
    if (circuits.length === 0) throw new Refusal(1, `no line "${values.line}" has distance protection`);
    // "neighbours": everything at the busbars of the line, one at a time.
    const isNeighbours = values.outage?.includes('neighbours') ?? false;
    const named = outagesAsked(values.outage?.filter((word) => word !== 'neighbours'));
    const found = circuits.flatMap((circuit) => {
      const outages = [...new Set([...named, ...(isNeighbours ? neighboursOf(studies, circuit) : [])])];
      const options = { ...usualCoverage, places, resistances, outages, arc: values.arc === true };
      return [...finished(coverageOf(studies, conditions, circuit, relays, options))];
    });
    const nameAt = (id: ElementId) => nameOf(network.elements.get(id)!);
    const rows = [...grouped(found)].map(([key, list]): Line => {
      const times = list.flatMap(({ timeS }) => timeS ?? []);
      const [line, kind] = key.split(' ');
      return {
        line: nameAt(line as ElementId),
        kind,
        counts: countsOf(list),
        slowestS: times.length > 0 ? Math.max(...times) : null,
      };
    });
    const none = countsOf(found).none;
    const output =
      format === 'json'
        ? `${JSON.stringify(
            {
              command: 'coverage',
              counts: countsOf(found),
              faults: found.map(({ condition, ...rest }) => ({
                ...rest,
                condition: conditionOf(network, condition)?.name ?? condition,
              })),
            },
            null,
            2,
          )}\n`
        : tableOf(columns, rows, format);
    return {
      code: none > 0 ? 3 : 0,
      output,
      errors: format === 'table' ? `${found.length} faults, ${none} cleared by no relay of their line\n` : '',
    };

    function outagesAsked(words: readonly string[] = []): ElementId[] {
      return words.map((word) => {
        const element = [...network.elements.values()].find((each) => each.id === word || nameOf(each) === word);
        if (!element) throw new Refusal(1, `nothing is called "${word}"`);
        return element.id;
      });
    }
  },
};

function grouped(list: readonly Covered[]): Map<string, Covered[]> {
  const groups = new Map<string, Covered[]>();
  for (const each of list) {
    const key = `${each.line} ${each.kind}`;
    groups.set(key, [...(groups.get(key) ?? []), each]);
  }
  return groups;
}
