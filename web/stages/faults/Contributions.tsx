'use client';

import type { FaultDetail, FaultRow } from '@mesura/core/studies/engine';
import { add, angle, magnitude } from '@mesura/core/linear/complex';
import type { PhaseCurrents } from '@mesura/core/sequence/components';
import { settingsOf } from '@mesura/core/model/network';
import { useProject } from '../../project/ProjectContext';
import { formatCurrent, formatNumber } from '@mesura/core/fields/quantity';
import bench from '../../card/bench.module.css';

/** The phase with the most current stands for the phasor shown. */
function leading(phases: PhaseCurrents, like: PhaseCurrents) {
  const keys = ['l1', 'l2', 'l3'] as const;
  return phases[
    keys.reduce((best, key) => (magnitude(like[key]) > magnitude(like[best]) + 1e-9 ? key : best), keys[0])
  ];
}

const phasor = (value: { re: number; im: number }) => {
  const size = magnitude(value);
  if (size < 1e-6) return '0';
  return `${formatCurrent(size)} ∠ ${((angle(value) * 180) / Math.PI).toFixed(1).replace('-', '−')}°`;
};

/** Sum of the shares, where the method gives magnitudes only. */
function totalOf({ contributions }: FaultDetail): PhaseCurrents {
  const sum = (key: keyof PhaseCurrents) =>
    contributions.reduce((total, { phases }) => add(total, phases[key]), { re: 0, im: 0 });
  return { l1: sum('l1'), l2: sum('l2'), l3: sum('l3'), residual: sum('residual') };
}

/** Where the current comes from: the share of everything that ends at the bus, as phasors of the leading phase. */
export function Contributions({ row, detail }: { row: FaultRow; detail: FaultDetail }) {
  const select = useProject((state) => state.select);
  const network = useProject((state) => state.network);
  const { ikA, z1, z0, cFactor } = row.result!;
  const phases = row.result!.phases ?? totalOf(detail);
  const size = Math.max(magnitude(phases.l1), magnitude(phases.l2), magnitude(phases.l3)) || ikA;
  const total = leading(phases, phases);
  const baseOhm = row.nominalKv ** 2 / settingsOf(network).baseMva;
  const ohm = (z: { re: number; im: number }) => `${formatNumber(z.re)} + j${formatNumber(z.im)} Ω`;
  const percent = (z: { re: number; im: number }) =>
    `${formatNumber((z.re / baseOhm) * 100)} + j${formatNumber((z.im / baseOhm) * 100)} %`;
  return (
    <div>
      <div className={bench.muted} style={{ marginBottom: 8 }}>
        Where the <span className="figure">{phasor(total)}</span> come from
      </div>
      {detail.contributions.map((share) => (
        <div key={`${share.element}:${share.terminal}:${share.name}`} className={bench.share}>
          <button
            type="button"
            className={bench.sort}
            style={{ textAlign: 'left' }}
            onClick={() => select([share.element])}
          >
            {share.name}
            {share.remark && <span className={bench.muted}> · {share.remark}</span>}
          </button>
          <span className="figure">{phasor(leading(share.phases, phases))}</span>
          <div className={bench.shareBar}>
            <div
              className={bench.shareFill}
              style={{ width: `${Math.min(100, (magnitude(leading(share.phases, phases)) / size) * 100)}%` }}
            />
          </div>
        </div>
      ))}
      {z1 && (
        <div className={`${bench.muted} figure`} style={{ whiteSpace: 'normal' }}>
          c {cFactor} · Z1 {ohm(z1)} ({percent(z1)} on {settingsOf(network).baseMva} MVA)
          {row.kind === '1ph' || row.kind === '2phE'
            ? ` · Z0 ${z0 ? `${ohm(z0)} (${percent(z0)})` : 'infinite: no earth path'}`
            : ''}
        </div>
      )}
    </div>
  );
}
