/** The search over all faults as a report: what was played, what goes wrong by its cause, the worst fault of each, all of them in the workbook. */
import type { Condition } from '../model/condition';
import { placeIn } from '../faults/names';
import type { ElementId } from '../model/fields';
import { nameIn, settingsOf } from '../model/network';
import { conditionOf } from '../model/state';
import { shortKindTitles } from '../faults/kinds';
import type { Place } from '../faults/solution/solve';
import { harmOf, search, type SearchFault, type SearchGroup, type SearchOptions } from '../trials/search';
import { foundTitles, verdictTitles } from '../trials/words';
import { verdicts } from '../trials/verdict';
import type { Studies } from '../studies/studies';
import type { Report, ReportColumn } from './report';

/** Yields the share that is done. */
export function* searchReport(
  studies: Studies,
  conditions: readonly Condition[],
  options: SearchOptions,
): Generator<number, Report> {
  const { network } = studies;
  const found = yield* search(studies, conditions, options);
  const name = (id: ElementId) => nameIn(network, id);
  const names = (ids: readonly ElementId[]) => ids.map(name).join(', ');
  const placeText = (place: Place) => placeIn(network, place);
  const failed = ({ failures: { stuck, dead, silent } }: SearchFault) => names([...stuck, ...dead, ...silent]);
  const told = (fault: SearchFault): (string | number)[] => [
    placeText(fault.place),
    shortKindTitles[fault.kind],
    conditionOf(network, fault.condition)?.name ?? '',
    fault.clearedS ?? '',
    fault.withinS,
    fault.lostVa / 1e6,
  ];
  const faultColumns: ReportColumn[] = [
    { head: 'Place', wide: 3 },
    { head: 'Kind', wide: 2 },
    { head: 'Condition', wide: 2 },
    { head: 'Cleared s', figure: true },
    { head: 'Within s', figure: true },
    { head: 'Lost MVA', figure: true },
  ];
  const group = (each: SearchGroup, cells: readonly (string | number)[]) => ({
    cells: [foundTitles[each.found], failed(each.faults[0]), names(each.extra), names(each.missing), ...cells],
    tone: each.found === 'notCleared' || each.found === 'wrongBreaker' ? ('fail' as const) : ('warn' as const),
  });
  const causeColumns: ReportColumn[] = [
    { head: 'Found', wide: 2 },
    { head: 'Failed', wide: 2 },
    { head: 'Opened without need', wide: 3 },
    { head: 'Not opened', wide: 3 },
  ];
  return {
    title: 'Search for faults that go wrong',
    owner: settingsOf(network).owner,
    sections: [
      {
        title: 'Basis',
        facts: [
          ['Conditions', conditions.map(({ name: of }) => of).join(', ')],
          ['Faults', options.kinds.map((kind) => shortKindTitles[kind]).join(', ')],
          ['Places', `every busbar, ${options.alongLines} along each line`],
          ['Resistance', options.resistances.map((ohm) => `${ohm} Ω`).join(', ')],
          ['Out of service', options.outages.map((id) => (id === null ? 'nothing' : name(id))).join(', ')],
          ['What fails', options.failing.length > 0 ? options.failing.join(', ') : 'nothing'],
          [
            'Result',
            `${found.played} faults: ${verdicts.map((each) => `${found.counts[each]} ${verdictTitles[each]}`).join(', ')}`,
          ],
        ],
        text: found.problems,
      },
      {
        title: 'By cause, the worst first',
        text: found.groups.length === 0 ? ['Nothing goes wrong.'] : [],
        table: {
          columns: [
            ...causeColumns,
            { head: 'Faults', figure: true },
            { head: 'Worst at', wide: 3 },
            { head: 'Harm', figure: true },
          ],
          rows: found.groups.map((each) =>
            group(each, [each.faults.length, placeText(each.faults[0].place), each.harm]),
          ),
        },
      },
      {
        title: 'All faults that go wrong',
        workbookOnly: true,
        table: {
          columns: [...causeColumns, ...faultColumns, { head: 'Harm', figure: true }],
          rows: found.groups.flatMap((each) =>
            each.faults.map((fault) => group(each, [...told(fault), harmOf(fault)])),
          ),
        },
      },
    ],
  };
}
