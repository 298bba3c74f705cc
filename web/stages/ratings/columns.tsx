/** Columns of the summaries of ratings. */
import { verdictTitles } from '@mesura/core/checks/check';
import type { RatingCheck, RatingTable, UnknownRating } from '@mesura/core/checks/ratings';
import { shortKindTitles } from '@mesura/core/faults/kinds';
import { formatNumber } from '@mesura/core/fields/quantity';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import type { SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';

const tones = { holds: 'pass', short: 'fail', doubtful: 'warn', notApplicable: 'warn' } as const;
type Column = SortColumn<RatingCheck>;

const nameIn = (network: Network, id: ElementId | null): string => {
  const element = id === null ? undefined : network.elements.get(id);
  return element ? nameOf(element) : '';
};

export function ratingColumns(network: Network, table: RatingTable): Column[] {
  const withUnit = (value: number, unit: string) => `${formatNumber(value)}\u2009${unit}`;
  const timed: Column[] = [
    {
      id: 'time',
      head: 't s',
      title: 'Contact parting, or until the fault is cleared',
      value: (row) => row.duty.timeS,
      digits: 3,
    },
  ];
  const byTable: Record<RatingTable, Column[]> = {
    making: [
      { id: 'xr', head: 'X/R', value: (row) => row.duty.xOverR, digits: 3 },
      {
        id: 'factor',
        head: 'Factor',
        title: 'Peak over the symmetrical current',
        value: (row) => row.duty.factor,
        digits: 4,
      },
    ],
    breaking: [
      { id: 'xr', head: 'X/R', value: (row) => row.duty.xOverR, digits: 3 },
      {
        id: 'dc',
        head: 'd.c. %',
        title: 'D.c. component at contact parting',
        value: (row) => row.duty.dcPercent,
        digits: 3,
      },
      { id: 'factor', head: 'Factor', title: 'Multiplying factor', value: (row) => row.duty.factor, digits: 4 },
    ],
    thermal: [
      ...timed,
      {
        id: 'by',
        head: 'Cleared by',
        text: true,
        value: (row) => nameIn(network, row.duty.clearedBy),
      },
    ],
  };
  return [
    {
      id: 'verdict',
      head: 'Verdict',
      text: true,
      value: (row) => verdictTitles[row.verdict],
      cell: (row) => <Chip state={tones[row.verdict]}>{verdictTitles[row.verdict]}</Chip>,
    },
    { id: 'element', head: 'Element', text: true, width: 92, value: (row) => nameIn(network, row.subject) },
    {
      id: 'check',
      head: 'Rating of',
      text: true,
      width: 96,
      value: (row) => row.duty.rating,
      cell: (row) => <span title={`${row.title}, ${row.duty.standard}`}>{row.duty.rating}</span>,
    },
    {
      id: 'rating',
      head: 'Rating',
      value: (row) => row.value,
      cell: (row) => (
        <span title={row.duty.assumed ? `taken as ${row.duty.assumed}` : row.duty.rating}>
          {row.duty.assumed ? '≈\u2009' : ''}
          {withUnit(row.value, row.unit)}
        </span>
      ),
    },
    {
      id: 'duty',
      head: 'Duty',
      value: (row) => row.bound,
      cell: (row) => (
        <span title={`${row.duty.symbol}${row.duty.whole ? ', whole current at the place' : ''}`}>
          {formatNumber(row.bound)}
        </span>
      ),
    },
    ...byTable[table],
    { id: 'used', head: '% used', value: (row) => row.duty.utilisationPercent, digits: 3 },
    {
      id: 'condition',
      head: 'Decided in',
      text: true,
      width: 132,
      value: (row) => (row.deciding && conditionOf(network, row.deciding.condition)?.name) ?? '',
    },
    {
      id: 'kind',
      head: 'Fault',
      text: true,
      value: (row) => (row.deciding?.kind ? shortKindTitles[row.deciding.kind] : ''),
    },
  ];
}

export const unknownColumns: SortColumn<UnknownRating>[] = [
  { id: 'element', head: 'Element', text: true, value: (row) => row.name },
  { id: 'kind', head: 'Kind', text: true, value: (row) => row.kind },
  { id: 'missing', head: 'Not known', text: true, value: (row) => row.missing.join(', ') },
];
