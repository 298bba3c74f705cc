import { clearedBy, type ArcLine } from '@mesura/core/arc/table';
import { formatNumber } from '@mesura/core/fields/quantity';
import { settingsOf, type Network } from '@mesura/core/model/network';
import type { SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';

/** `earlier`: energies in a version of before, by place, in cal/cm²; null where none is chosen. */
export function arcColumns(
  network: Network,
  compare: boolean,
  earlier: ReadonlyMap<string, number> | null,
): SortColumn<ArcLine>[] {
  const { limitCal } = settingsOf(network).arc;
  return [
    { id: 'place', head: 'Place', text: true, width: 200, value: ({ name }) => name },
    {
      id: 'arcing',
      head: 'Iarc kA',
      title: 'Arcing current that decides, of the bolted current at the beginning',
      value: ({ worst }) => worst?.arcingKa ?? null,
      digits: 3,
    },
    { id: 'burns', head: 't s', title: 'How long it burns', value: ({ worst }) => worst?.burnsS ?? null, digits: 3 },
    { id: 'by', head: 'Cleared by', text: true, width: 124, value: (line) => clearedBy(line) },
    {
      id: 'energy',
      head: 'cal/cm²',
      value: ({ worst }) => worst?.cal ?? null,
      digits: 3,
      cell: ({ worst }) => {
        if (!worst) return '';
        const shown = formatNumber(worst.cal, 3);
        return worst.cal > limitCal ? <Chip state="fail">{shown}</Chip> : shown;
      },
    },
    ...(earlier
      ? [
          {
            id: 'earlier',
            head: 'before',
            title: 'cal/cm² in the version that is compared with',
            value: ({ key }: ArcLine) => earlier.get(key) ?? null,
            digits: 3,
            cell: ({ key, worst }: ArcLine) => {
              const was = earlier.get(key);
              if (was === undefined) return worst ? <Chip state="warn">new</Chip> : '';
              const isOther = worst && Math.abs(worst.cal - was) > 0.005 * Math.max(was, worst.cal);
              if (!isOther) return formatNumber(was, 3);
              return <Chip state={worst.cal > was ? 'fail' : 'pass'}>{formatNumber(was, 3)}</Chip>;
            },
          },
        ]
      : []),
    ...(compare
      ? [
          {
            id: 'other',
            head: 'other edition',
            title: 'By the other edition of IEEE 1584, its own clearing times',
            value: ({ otherCal }: ArcLine) => otherCal,
            digits: 3,
          },
        ]
      : []),
    {
      id: 'boundary',
      head: 'AFB mm',
      title: 'Boundary at 1.2 cal/cm²',
      value: ({ worst }) => worst?.boundaryMm ?? null,
      digits: 4,
    },
    { id: 'condition', head: 'Condition', text: true, width: 86, value: ({ worst }) => worst?.conditionName ?? '' },
    {
      id: 'method',
      head: 'Method',
      text: true,
      title: 'Coefficients nobody here could confirm carry a mark',
      value: ({ worst }) => worst?.method ?? '',
      cell: ({ worst, system, row }) =>
        !worst ? (
          ''
        ) : worst.outside ? (
          <Chip state="warn">theory</Chip>
        ) : (
          <>
            {system === 'dc' ? 'd.c.' : row.system === 'ac' && row.row.worst?.method}{' '}
            {!worst.confirmed && <Chip state="warn">as remembered</Chip>}
          </>
        ),
    },
  ];
}
