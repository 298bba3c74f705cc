/** Boards as a report: how they feed each other, what their busbars carry and withstand, the bill of material. */
import { billOf } from '../switchboards/bill';
import { boardLinks, boardsIn } from '../switchboards/board';
import { boardTable, type BoardQuantity } from '../switchboards/ratings';
import type { Condition } from '../model/condition';
import { nameIn, settingsOf } from '../model/network';
import { conditionOf } from '../model/state';
import type { Studies } from '../studies/studies';
import type { Report } from './report';

export const quantityTitles: Readonly<Record<BoardQuantity, string>> = {
  current: 'Busbar current',
  peak: 'Peak current',
  shortTime: 'Short-time current',
};

/** Yields the share that is done. */
export function* boardsReport(studies: Studies, conditions: readonly Condition[]): Generator<number, Report> {
  const { network } = studies;
  const rows = yield* boardTable(studies, conditions);
  const boards = boardsIn(network);
  const links = boardLinks(network);
  const nameOfBoard = new Map(boards.map(({ id, name }) => [id, name]));
  const bill = billOf(network);
  return {
    title: 'Boards',
    owner: settingsOf(network).owner,
    sections: [
      {
        title: 'Basis',
        facts: [
          ['Conditions', conditions.map(({ name }) => name).join(', ')],
          [
            'Result',
            `${rows.length} boards, ${rows.filter(({ verdict }) => verdict === 'short').length} with a rating that is too small, ${rows.filter(({ verdict }) => verdict === 'unknown').length} with one that is not known`,
          ],
        ],
      },
      {
        title: 'How they feed each other',
        table: {
          columns: [
            { head: 'Board', wide: 2 },
            { head: 'kV', figure: true },
            { head: 'Sections', figure: true },
            { head: 'Outlets', figure: true },
            { head: 'Fed from', wide: 4 },
            { head: 'Feeds', wide: 4 },
          ],
          rows: boards.map(({ id, name, nominalKv, sections, outlets }) => ({
            cells: [
              name,
              nominalKv,
              sections.length,
              outlets.length,
              links
                .filter(({ to }) => to === id)
                .map(({ from, over }) => `${nameOfBoard.get(from)} (${nameIn(network, over)})`)
                .join(', '),
              links
                .filter(({ from }) => from === id)
                .map(({ to, over }) => `${nameOfBoard.get(to)} (${nameIn(network, over)})`)
                .join(', '),
            ],
          })),
        },
      },
      {
        title: 'Ratings of the busbars',
        table: {
          columns: [
            { head: 'Section', wide: 2 },
            { head: 'What', wide: 2 },
            { head: 'is', figure: true },
            { head: 'rated', figure: true },
            { head: '', wide: 0.6 },
            { head: 'next standard size', figure: true, wide: 1.4 },
            { head: 'Condition', wide: 2 },
            { head: '', wide: 1.2 },
          ],
          rows: rows.flatMap(({ ratings }) =>
            ratings.map(({ section, what, value, rated, unit, next, condition, verdict }) => ({
              cells: [
                nameIn(network, section),
                quantityTitles[what],
                value,
                rated,
                unit,
                next,
                condition ? (conditionOf(network, condition)?.name ?? '') : '',
                verdict === 'holds' ? 'holds' : verdict === 'short' ? 'too small' : 'not known',
              ],
              ...(verdict !== 'holds' && { tone: verdict === 'short' ? ('fail' as const) : ('warn' as const) }),
            })),
          ),
        },
      },
      {
        title: 'Bill of material',
        table: {
          columns: [
            { head: 'Board', wide: 1.6 },
            { head: 'Kind', wide: 1.6 },
            { head: 'Type', wide: 4 },
            { head: 'Number', figure: true, wide: 0.8 },
            { head: 'Names', wide: 4 },
          ],
          rows: bill.map(({ board, kind, type, count, names }) => ({
            cells: [board, kind, type, count, names.join(', ')],
          })),
        },
      },
    ],
  };
}
