/** Distribution and power transformers: preferred ratings (IEC 60076-1), least short-circuit impedance (IEC 60076-5, Table 1), typical load losses. */
import { neutralOf } from '../../model/fields';
import { leastUkPercent } from '../../drawing/shape/typical';
import { shipped, type LibraryEntry } from '../entry';

const fixed = { side: 'none', position: 0, steps: 0, stepPercent: 0, holds: 'nothing', targetPercent: 100 };
const offLoad = { side: 'hv', position: 0, steps: 2, stepPercent: 2.5, holds: 'nothing', targetPercent: 100 };
const onLoad = { side: 'hv', position: 0, steps: 8, stepPercent: 1.25, holds: 'lv', targetPercent: 100 };
const isolated = neutralOf('isolated');
const solid = neutralOf('solid');

const make = (ratedMva: number, hvKv: number, lvKv: number, vectorGroup: string): LibraryEntry => {
  const toLow = lvKv < 1;
  const starred = vectorGroup.includes('n') || vectorGroup.includes('N');
  return shipped(
    `tr-${ratedMva * 1000}-${hvKv}-${lvKv}`,
    'transformer',
    `${ratedMva < 1 ? `${ratedMva * 1000} kVA` : `${ratedMva} MVA`}, ${hvKv}/${lvKv} kV, ${vectorGroup}`,
    {
      ratedMva,
      hvKv,
      lvKv,
      ukPercent: leastUkPercent(ratedMva),
      uRPercent: Number((1.05 * ratedMva ** -0.28).toPrecision(2)),
      vectorGroup,
      tap: toLow ? offLoad : hvKv >= 33 ? onLoad : fixed,
      hvNeutral: vectorGroup.startsWith('YN') ? solid : isolated,
      lvNeutral: toLow && starred ? solid : isolated,
      x0OverX1: starred ? 0.95 : null,
      r0OverR1: starred ? 1 : null,
    },
    'uk: IEC 60076-5, Table 1; load losses typical',
  );
};

export const transformers: readonly LibraryEntry[] = [
  ...[0.05, 0.1, 0.16, 0.2, 0.25, 0.315, 0.4, 0.5, 0.63, 0.8, 1, 1.25, 1.6, 2, 2.5].map((mva) =>
    make(mva, 11, 0.42, mva < 0.2 ? 'Yzn11' : 'Dyn11'),
  ),
  ...[0.63, 1, 1.6, 2.5].map((mva) => make(mva, 33, 0.42, 'Dyn11')),
  ...[2.5, 4, 6.3].map((mva) => make(mva, 11, 3.45, 'Dyn11')),
  ...[5, 6.3, 8, 10, 12.5, 16, 20, 25].map((mva) => make(mva, 33, 11.5, 'Dyn11')),
  ...[16, 20, 25, 31.5, 40, 63].map((mva) => make(mva, 132, 11.5, 'YNd1')),
  ...[25, 31.5, 40, 45, 63, 90].map((mva) => make(mva, 132, 34.5, 'YNd1')),
];
