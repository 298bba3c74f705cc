/** `mesura boards`: boards, how they feed each other, what their busbars carry and withstand, the bill of material. */
import { billOf, billRows } from '@mesura/core/switchboards/bill';
import { boardLinks, boardsIn } from '@mesura/core/switchboards/board';
import { boardTable, type BoardRating } from '@mesura/core/switchboards/ratings';
import { quantityTitles } from '@mesura/core/reports/boards';
import { csv } from '@mesura/core/formats/tables/csv';
import { nameIn } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { finished } from '@mesura/core/working/steps';
import { networkFor, plainFormat, type Command, type Outcome, studiesOf } from '../command';
import { conditionsAsked, oneOf, Refusal } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

/** Exit code 1 where there is no board, 3 where a rating is too small. */
export const boardsCommand: Command = {
  name: 'boards',
  takes: 'FILE',
  summary: studySummaries.boards,
  run(call): Outcome {
    const { values } = call;
    const network = networkFor(call, 'boards');
    const studies = studiesOf(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const all = boardsIn(network);
    const isCalled = ({ name, sections }: (typeof all)[number], asked: string): boolean =>
      name === asked || sections.some((id) => id === asked || nameIn(network, id) === asked);
    for (const name of values.at ?? [])
      if (!all.some((each) => isCalled(each, name)))
        throw new Refusal(2, `no board is called "${name}"; there are: ${all.map((each) => each.name).join(', ')}`);
    const boards = all.filter((each) => !values.at || values.at.some((name) => isCalled(each, name)));
    if (boards.length === 0) return { code: 1, output: '', errors: 'There are no boards.\n' };
    const format = plainFormat(values);
    const show = values.show?.map((each) => oneOf('--show', each, ['bill', 'links'])) ?? [];
    const names = new Set(boards.map(({ name }) => name));
    const bill = billOf(network).filter(({ board }) => names.has(board));
    const ids = new Set(boards.map(({ id }) => id));
    const links = boardLinks(network).filter(({ from, to }) => ids.has(from) || ids.has(to));
    const rows = finished(boardTable(studies, conditions)).filter(({ board }) => ids.has(board));
    const code = rows.some(({ verdict }) => verdict === 'short') ? 3 : 0;
    const nameOf = new Map(all.map(({ id, name }) => [id, name]));
    if (format === 'json')
      return {
        code,
        output: `${JSON.stringify(
          {
            command: 'boards',
            boards: boards.map((board) => ({
              ...board,
              ratings: rows.find((row) => row.board === board.id)?.ratings ?? [],
            })),
            links: links.map((link) => ({
              ...link,
              fromName: nameOf.get(link.from),
              toName: nameOf.get(link.to),
              overName: nameIn(network, link.over),
            })),
            bill,
          },
          null,
          2,
        )}\n`,
        errors: '',
      };
    if (show.includes('bill')) {
      if (format === 'csv') return { code, output: csv(billRows(bill)), errors: '' };
      const columns: Column<(typeof bill)[number]>[] = [
        { head: 'board', name: 'board', value: ({ board }) => board },
        { head: 'kind', name: 'kind', value: ({ kind }) => kind },
        { head: 'type', name: 'type', value: ({ type }) => type },
        { head: 'number', name: 'number', value: ({ count }) => count },
        { head: 'names', name: 'names', value: (line) => line.names.join(', ') },
      ];
      return { code, output: tableOf(columns, bill, format), errors: '' };
    }
    if (show.includes('links')) {
      const columns: Column<(typeof links)[number]>[] = [
        { head: 'from', name: 'from', value: ({ from }) => nameOf.get(from) ?? '' },
        { head: 'over', name: 'over', value: ({ over }) => nameIn(network, over) },
        { head: 'to', name: 'to', value: ({ to }) => nameOf.get(to) ?? '' },
      ];
      return { code, output: tableOf(columns, links, format), errors: '' };
    }
    const ratings = rows.flatMap(({ board, ratings: own }) => own.map((rating) => ({ ...rating, board })));
    const columns: Column<BoardRating & { board: (typeof rows)[number]['board'] }>[] = [
      { head: 'board', name: 'board', value: ({ board }) => nameOf.get(board) ?? '' },
      { head: 'section', name: 'section', value: ({ section }) => nameIn(network, section) },
      { head: 'what', name: 'what', value: ({ what }) => quantityTitles[what] },
      { head: 'is', name: 'is', value: ({ value }) => value },
      { head: 'rated', name: 'rated', value: ({ rated }) => rated },
      { head: '', name: 'unit', value: ({ unit }) => unit },
      { head: 'next size', name: 'next_size', value: ({ next }) => next },
      {
        head: 'condition',
        name: 'condition',
        value: ({ condition }) => (condition ? (conditionOf(network, condition)?.name ?? '') : ''),
      },
      { head: 'verdict', name: 'verdict', value: ({ verdict }) => verdict },
    ];
    return { code, output: tableOf(columns, ratings, format), errors: '' };
  },
};
