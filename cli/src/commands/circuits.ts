/** `mesura circuits`: low-voltage circuits, what they carry, how soon they are cut off, which cable and device do. */
import type { Studies } from '@mesura/core/studies/studies';
import { cellText, deviceText } from '@mesura/core/lowVoltage/cells';
import { circuitProposals, type Free, type ProposedOption } from '@mesura/core/lowVoltage/propose';
import { caseOfKey, circuitTable, type CircuitRow } from '@mesura/core/lowVoltage/study';
import { criterionTexts, reasonTexts } from '@mesura/core/lowVoltage/texts';
import { circuitWorking } from '@mesura/core/lowVoltage/working';
import { circuitName } from '@mesura/core/reports/circuits';
import { workingLines } from '@mesura/core/reports/report';
import { find, nameIn, type Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { finished } from '@mesura/core/working/steps';
import { networkFor, plainFormat, type Call, type Command, type Outcome, studiesOf } from '../command';
import { conditionsAsked, elementNamed, oneOf, Refusal } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

const free = {
  both: { section: true, device: true },
  section: { section: true, device: false },
  device: { section: false, device: true },
} as const satisfies Record<string, Free>;

/** Exit code 1 where there is no circuit, 3 where something is short. */
export const circuitsCommand: Command = {
  name: 'circuits',
  takes: 'FILE',
  summary: studySummaries.circuits,
  run(call): Outcome {
    const { values } = call;
    const network = networkFor(call, 'circuits');
    const studies = studiesOf(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const boards = values.at?.map((name) => elementNamed(network, name, ['bus'], 'busbar').id);
    const table = finished(circuitTable(studies, conditions));
    const rows = table.rows.filter(({ board }) => !boards || boards.includes(board));
    if (rows.length === 0) return { code: 1, output: '', errors: 'There are no circuits of low voltage.\n' };
    const code = rows.some(({ verdict }) => verdict === 'short') ? 3 : 0;
    const show = values.show?.map((each) => oneOf('--show', each, ['working'])) ?? [];
    if (values.propose !== undefined)
      return proposals(
        call,
        studies,
        conditions,
        rows,
        free[oneOf('--propose', values.propose, ['both', 'section', 'device'])],
      );
    const format = plainFormat(values);
    if (show.length > 0 && format === 'table') {
      const text = rows.flatMap((row) => [
        circuitName(network, row),
        ...workingLines({ title: '', sections: circuitWorking(network, caseOfKey(studies, conditions, row.key)!) }).map(
          (line) => `  ${line}`,
        ),
        '',
      ]);
      return { code, output: `${text.join('\n')}`, errors: '' };
    }
    if (format === 'json')
      return {
        code,
        output: `${JSON.stringify(
          {
            command: 'circuits',
            boards: table.boards
              .filter(({ board }) => !boards || boards.includes(board))
              .map((each) => ({ ...each, name: nameIn(network, each.board) })),
            rows: rows.map((row) => ({
              ...row,
              name: circuitName(network, row),
              boardName: nameIn(network, row.board),
              device: deviceOf(network, row),
              checks: row.checks.map((check) => ({
                ...check,
                title: criterionTexts[check.criterion].title,
                clause: criterionTexts[check.criterion].clause,
                remembered: criterionTexts[check.criterion].isRemembered,
                ...(check.why && { reason: reasonTexts[check.why] }),
              })),
              ...(show.length > 0 && { working: circuitWorking(network, caseOfKey(studies, conditions, row.key)!) }),
            })),
          },
          null,
          2,
        )}\n`,
        errors: '',
      };
    const columns: Column<CircuitRow>[] = [
      { head: 'board', name: 'board', value: ({ board }) => nameIn(network, board) },
      { head: 'circuit', name: 'circuit', value: (row) => circuitName(network, row) },
      { head: 'device', name: 'device', value: (row) => deviceOf(network, row) },
      {
        head: 'mm²',
        name: 'section_mm2',
        value: ({ cables, main }) => (main === null ? null : cables[main].sectionMm2),
      },
      { head: 'm', name: 'length_m', value: ({ cables, main }) => (main === null ? null : cables[main].lengthM) },
      { head: 'Ib A', name: 'design_A', value: ({ designA }) => designA },
      {
        head: 'Iz A',
        name: 'ampacity_A',
        value: ({ cables, main }) => (main === null ? null : cables[main].capacity.ampere),
      },
      { head: 'drop %', name: 'drop_percent', value: (row) => row.upstreamPercent + row.ownPercent },
      { head: 'Ik max A', name: 'ik_max_A', value: ({ endMax }) => endMax?.ampere ?? null },
      { head: 'Ik1 min A', name: 'ik1_min_A', value: ({ endEarth }) => endEarth?.ampere ?? null },
      { head: 'Ia A', name: 'operating_A', value: ({ operatingA }) => operatingA },
      { head: 't s', name: 'time_s', value: ({ cleared }) => cleared.timeS },
      { head: 'ta s', name: 'demanded_s', value: ({ requiredS }) => requiredS },
      {
        head: 'condition',
        name: 'condition',
        value: ({ endEarth }) => (endEarth ? (conditionOf(network, endEarth.condition)?.name ?? '') : ''),
      },
      { head: 'verdict', name: 'verdict', value: ({ verdict }) => verdict },
      { head: 'by', name: 'by', value: ({ binding }) => (binding ? criterionTexts[binding].title.toLowerCase() : '') },
    ];
    const doubts = rows.flatMap((row) =>
      row.checks.flatMap(({ criterion, why, verdict }) =>
        why && verdict !== 'holds'
          ? [
              `note: ${circuitName(network, row)}, ${criterionTexts[criterion].title.toLowerCase()}: ${reasonTexts[why]}\n`,
            ]
          : [],
      ),
    );
    return { code, output: tableOf(columns, rows, format), errors: doubts.join('') };
  },
};

function deviceOf(network: Network, row: CircuitRow): string {
  const element = find(network, 'switch', row.guard?.device ?? row.switches.at(0) ?? null);
  return element ? `${element.name} ${deviceText(element)}`.trim() : (row.guard?.name ?? '');
}

function proposals(
  call: Call,
  studies: Studies,
  conditions: Studies['conditions'],
  rows: readonly CircuitRow[],
  asked: Free,
): Outcome {
  const { network } = studies;
  const format = plainFormat(call.values);
  const list = finished(
    circuitProposals(
      studies,
      conditions,
      rows.map(({ key }) => key),
      asked,
    ),
  );
  const byKey = new Map(rows.map((row) => [row.key, row]));
  const lines = list.flatMap((proposal) =>
    (proposal.options.length > 0 ? proposal.options : [null]).map((option) => ({
      proposal,
      option: option as ProposedOption | null,
      row: byKey.get(proposal.key)!,
    })),
  );
  if (lines.length === 0) throw new Refusal(1, 'nothing is proposed');
  const told = (criteria: readonly (keyof typeof criterionTexts)[]) =>
    criteria.map((each) => criterionTexts[each].missed).join(', ');
  type Line = (typeof lines)[number];
  const columns: Column<Line>[] = [
    { head: 'circuit', name: 'circuit', value: ({ row }) => circuitName(network, row) },
    {
      head: 'now',
      name: 'now',
      value: ({ row }) =>
        [
          cellText(
            network,
            {
              board: row.board,
              end: null,
              cable: row.main === null ? null : row.cables[row.main].element,
              device: null,
            },
            'section',
          ),
          deviceOf(network, row),
        ]
          .filter(Boolean)
          .join(', '),
    },
    { head: 'mm²', name: 'section_mm2', value: ({ option }) => option?.sectionMm2 ?? null },
    { head: 'device', name: 'device', value: ({ option }) => option?.device ?? (option ? 'as it is' : 'none does') },
    {
      head: 'RCD mA',
      name: 'residual_mA',
      value: ({ option }) => (option?.residualA ? 1000 * option.residualA : null),
    },
    {
      head: 'smaller section',
      name: 'smaller_section',
      value: ({ option }) =>
        option?.smallerMisses ? `${option.smallerMisses.sectionMm2} mm²: ${told(option.smallerMisses.criteria)}` : '',
    },
    {
      head: 'smaller device',
      name: 'smaller_device',
      value: ({ option }) =>
        option?.deviceMisses ? `${option.deviceMisses.device}: ${told(option.deviceMisses.criteria)}` : '',
    },
    { head: 'l max m', name: 'longest_m', value: ({ proposal }) => proposal.longestM ?? null },
    { head: 'left', name: 'left', value: ({ option }) => (option ? told(option.left) : '') },
  ];
  const isShort = list.some(({ options }) => options.length === 0);
  const output =
    format === 'json'
      ? `${JSON.stringify({ command: 'circuits', proposals: list.map((each) => ({ ...each, name: circuitName(network, byKey.get(each.key)!) })) }, null, 2)}\n`
      : tableOf(columns, lines, format);
  return { code: isShort ? 3 : 0, output, errors: '' };
}
