import { caloriesOf } from '@mesura/core/arc/clothing';
import { methodTitles } from '@mesura/core/arc/judge';
import { decidingCase, governingDevice, spotName, type ArcRow } from '@mesura/core/arc/study';
import { formatNumber } from '@mesura/core/fields/quantity';
import { settingsOf, type Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import type { SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';

const deciding = ({ worst }: ArcRow) => worst && decidingCase(worst);

/** Who ends the arc that decides, or that nothing does. */
export function clearedBy(network: Network, row: ArcRow): string {
  if (!row.worst) return 'no current';
  const by = governingDevice(network, row.worst);
  return by ? `${by.name}, ${by.code}` : `nothing within ${formatNumber(row.longestS, 3)} s`;
}

export function arcColumns(network: Network, compare: boolean): SortColumn<ArcRow>[] {
  const { limitCal } = settingsOf(network).arc;
  return [
    { id: 'place', head: 'Place', text: true, width: 200, value: ({ spot }) => spotName(network, spot) },
    {
      id: 'arcing',
      head: 'Iarc kA',
      title: 'Arcing current that decides, of the bolted current at the beginning',
      value: (row) => deciding(row)?.arcingKa ?? null,
      digits: 3,
    },
    { id: 'burns', head: 't s', title: 'How long it burns', value: (row) => deciding(row)?.burnsS ?? null, digits: 3 },
    { id: 'by', head: 'Cleared by', text: true, width: 124, value: (row) => clearedBy(network, row) },
    {
      id: 'energy',
      head: 'cal/cm²',
      value: (row) => (deciding(row) ? caloriesOf(deciding(row)!.energy) : null),
      digits: 3,
      cell: (row) => {
        const own = deciding(row);
        if (!own) return '';
        const cal = caloriesOf(own.energy);
        const shown = formatNumber(cal, 3);
        return cal > limitCal ? <Chip state="fail">{shown}</Chip> : shown;
      },
    },
    ...(compare
      ? [
          {
            id: 'other',
            head: 'other edition',
            title: 'By the other edition of IEEE 1584, its own clearing times',
            value: ({ other }: ArcRow) => other && caloriesOf(decidingCase(other).energy),
            digits: 3,
          },
        ]
      : []),
    {
      id: 'boundary',
      head: 'AFB mm',
      title: 'Boundary at 1.2 cal/cm²',
      value: (row) => deciding(row)?.boundaryMm ?? null,
      digits: 4,
    },
    {
      id: 'condition',
      head: 'Condition',
      text: true,
      width: 86,
      value: ({ worst }) => (worst ? (conditionOf(network, worst.condition)?.name ?? '') : ''),
    },
    {
      id: 'method',
      head: 'Method',
      text: true,
      title: 'Coefficients nobody here could confirm carry a mark',
      value: ({ worst }) => (worst ? methodTitles[worst.method] : ''),
      cell: ({ worst }) =>
        !worst ? (
          ''
        ) : worst.method === 'theoretical' ? (
          <Chip state="warn">theory</Chip>
        ) : (
          <>
            {worst.method} {!worst.confirmed && <Chip state="warn">as remembered</Chip>}
          </>
        ),
    },
  ];
}
