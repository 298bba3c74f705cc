/** `mesura earth`: what of an earth fault at a station goes into its grid, what returns along shield wires and towers, how far potentials rise. */
import { decrement } from '@mesura/core/earthReturn/grids';
import { stationFault } from '@mesura/core/earthReturn/fromNetwork';
import type { EarthReturnMethod } from '@mesura/core/earthReturn/impedance';
import { solveEarth, splitFactors, type EarthAnswer } from '@mesura/core/earthReturn/system';
import { magnitude, type Complex } from '@mesura/core/linear/complex';
import { nameIn, ofKind, settingsOf } from '@mesura/core/model/network';
import { Studies } from '@mesura/core/studies/studies';
import { networkFor, plainFormat, type Command } from '../command';
import { conditionsAsked, elementNamed, numberOf, oneOf, Refusal } from '../options';
import { tableOf, type Column } from '../output';

const methods: Readonly<Record<string, EarthReturnMethod>> = {
  series: 'series',
  twoTerm: 'twoTerm',
  complexDepth: 'complexDepth',
};

interface Row {
  readonly bus: string;
  readonly condition: string;
  readonly answer: EarthAnswer;
  readonly remarks: readonly string[];
  readonly decrement: number | null;
}

/** Exit code 1 where no station can be computed. */
export const earthCommand: Command = {
  name: 'earth',
  takes: 'FILE',
  summary: 'what of an earth fault goes into the grid of a station',
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const method = methods[oneOf('--carson', values.carson ?? 'series', Object.keys(methods))];
    const seconds = values.duration === undefined ? 0.5 : numberOf('--duration', values.duration, 0.01, 60);
    const network = networkFor(call, 'earth');
    const studies = new Studies(network);
    const { frequencyHz } = settingsOf(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const buses =
      values.at?.map((name) => elementNamed(network, name, ['bus'], 'busbar').id) ??
      ofKind(network, 'bus').flatMap(({ id, stationEarthing }) => (stationEarthing ? [id] : []));
    if (buses.length === 0) throw new Refusal(1, 'no busbar has the earthing of its station; name one by --at');
    const problems: string[] = [];
    const rows = buses.flatMap((bus) =>
      conditions.flatMap((condition): Row[] => {
        const found = stationFault(studies, condition.id, bus);
        if (!found.ok) {
          problems.push(`${nameIn(network, bus)}, ${condition.name}: ${found.problem}`);
          return [];
        }
        const { system, remarks, xOverR } = found.fault;
        return [
          {
            bus: nameIn(network, bus),
            condition: condition.name,
            answer: solveEarth(system, method),
            remarks,
            decrement: xOverR === null ? null : decrement(xOverR, frequencyHz, seconds).factor,
          },
        ];
      }),
    );
    const hubRise = ({ answer }: Row) => magnitude(Object.values(answer.potentials)[0]);
    const columns: Column<Row>[] = [
      { head: 'at', name: 'at', value: ({ bus }) => bus },
      { head: 'condition', name: 'condition', value: ({ condition }) => condition },
      { head: 'over lines A', name: 'lines_A', value: ({ answer }) => magnitude(answer.remote) },
      { head: 'grid A', name: 'grid_A', value: ({ answer }) => magnitude(answer.gridCurrent) },
      { head: 'split factor', name: 'split_factor', value: ({ answer }) => splitFactors(answer).remote },
      { head: 'Df', name: 'decrement', value: (row) => row.decrement },
      {
        head: 'grid · Df A',
        name: 'grid_decremented_A',
        value: ({ answer, decrement: factor }) => (factor === null ? null : factor * magnitude(answer.gridCurrent)),
      },
      { head: 'rise V', name: 'rise_V', value: hubRise },
    ];
    const both = ({ re, im }: Complex) => ({ re, im });
    const output =
      format === 'json'
        ? `${JSON.stringify(
            {
              command: 'earth',
              method,
              rows: rows.map(({ answer, ...row }) => ({
                ...row,
                linesA: both(answer.remote),
                gridA: both(answer.gridCurrent),
                splitFactor: splitFactors(answer).remote,
                potentials: Object.fromEntries(
                  Object.entries(answer.potentials).map(([name, each]) => [name, both(each)]),
                ),
                returned: Object.fromEntries(
                  Object.entries(answer.returned).map(([name, { fromEarth, byWires }]) => [
                    name,
                    { fromEarth: both(fromEarth), byWires: both(byWires) },
                  ]),
                ),
                lines: answer.lines.map(({ name, towers, spans }) => ({
                  name,
                  towers: towers.map(({ tower, potential, current }) => ({
                    tower,
                    potential: both(potential),
                    current: both(current),
                  })),
                  spans: spans.map((span) =>
                    Object.fromEntries(Object.entries(span).map(([wire, current]) => [wire, both(current)])),
                  ),
                })),
              })),
              problems,
            },
            null,
            2,
          )}\n`
        : tableOf(columns, rows, format);
    const remarks = [...new Set(rows.flatMap((row) => row.remarks))];
    const errors = format === 'json' ? '' : [...problems, ...remarks].map((text) => `note: ${text}\n`).join('');
    return { code: rows.length === 0 ? 1 : 0, output, errors };
  },
};
