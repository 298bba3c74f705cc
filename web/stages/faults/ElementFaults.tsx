'use client';

import type { Bus } from '@mesura/core/model/switching';
import { goTo } from '../../desk/deskState';
import { busPlace, setFaults } from './state';
import { formatNumber } from '@mesura/core/fields/quantity';
import { currentSymbol, useFaultTable } from './useFaults';
import bench from '../../card/bench.module.css';

/** The fault level of one bus, beside its data. */
export function ElementFaults({ bus }: { bus: Bus }) {
  const { value, isCurrent } = useFaultTable();
  const row = value?.rows.find((each) => each.place.at === 'terminal' && each.place.element === bus.id);
  if (!row) return null;
  return (
    <>
      <h3 className={bench.subtitle}>Faults here</h3>
      <p className={isCurrent ? undefined : bench.stale} style={{ fontSize: 13, margin: 0 }}>
        {row.result ? (
          <span className="figure">
            {currentSymbol(row.method)} {formatNumber(row.result.ikA / 1000)} kA
            {row.result.ipA !== null && ` · ip ${formatNumber(row.result.ipA / 1000)} kA`}
            {row.result.xOverR !== null && ` · X/R ${formatNumber(row.result.xOverR, 3)}`}{' '}
          </span>
        ) : (
          `${row.problems.map((problem) => problem.message).join('; ')} `
        )}
        <button
          type="button"
          className={bench.input}
          onClick={() => {
            setFaults({ place: busPlace(bus.id) });
            goTo('faults');
          }}
        >
          where it comes from
        </button>
      </p>
    </>
  );
}
