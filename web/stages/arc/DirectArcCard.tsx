'use client';

import { useState } from 'react';
import { Button } from '@mantine/core';
import { caloriesOf, clothingFor, shockBoundaries, shockSource } from '@mesura/core/arc/clothing';
import { directMethods, type DirectMethod } from '@mesura/core/arc/directCurrent';
import {
  decidingDirect,
  directMethodTitles,
  type DirectArcCase,
  type DirectArcRow,
} from '@mesura/core/arc/directStudy';
import { directMethodName } from '@mesura/core/arc/table';
import { formatNumber } from '@mesura/core/fields/quantity';
import { nameIn, settingsOf, type Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import type { Section } from '@mesura/core/working/trace';
import { WorkingView } from '../../card/WorkingView';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { DirectPlaceForm } from './DirectPlaceForm';
import bench from '../../card/bench.module.css';

function ending(network: Network, { limited, governing }: DirectArcCase, longestS: number): string {
  if (limited) return `not cleared within ${formatNumber(longestS, 3)} s`;
  if (!governing) return 'goes out by itself';
  return `${nameIn(network, governing.device)}, ${governing.code}, at ${formatNumber(governing.currentA, 3)} A`;
}

/** A board of direct current: every condition by every method, what decides, what it burns in, how it was found. */
export function DirectArcCard({ row, isCurrent }: { row: DirectArcRow; isCurrent: boolean }) {
  const network = useProject((state) => state.network);
  const { arc } = settingsOf(network);
  const [asked, setAsked] = useState<{ condition: string; method: DirectMethod } | null>(null);
  const bus = network.elements.get(row.bus);
  if (bus?.kind !== 'bus') return null;
  const { worst, at, longestS } = row;
  const own = worst && decidingDirect(worst);
  const step = own && clothingFor(arc.clothing, own.energy);
  const shock = shockBoundaries(at.nominalV / 1000, 'dc');
  return (
    <section aria-label={`Arc at ${bus.name}`} className={isCurrent ? undefined : bench.stale}>
      <h3 className={bench.subtitle} style={{ marginTop: 10 }}>
        {bus.name}, direct current
      </h3>
      {!worst || !own ? (
        <p className={bench.muted}>
          {worst ? 'No arc can burn here by the method that is chosen.' : 'Nothing feeds an arc here.'}
        </p>
      ) : (
        <p style={{ margin: '0 0 4px' }}>
          <strong>{formatNumber(caloriesOf(own.energy), 3)} cal/cm²</strong> ({formatNumber(own.energy, 3)} J/cm²) at{' '}
          {formatNumber(at.distanceMm, 4)} mm, boundary {formatNumber(own.boundaryMm, 4)} mm.{' '}
          {step ? `Wear: ${step.wear}.` : 'No work on it energised.'}
        </p>
      )}
      <p className={bench.muted}>
        {at.title}, gap {formatNumber(at.gapMm, 4)} mm,{' '}
        {at.box ? `enclosure a = ${formatNumber(at.box.aMm, 4)} mm, k = ${formatNumber(at.box.k, 3)}` : 'open air'};
        formulas as remembered
        {shock &&
          `; approach: limited ${formatNumber(shock.limitedM, 2)} m, restricted ${
            shock.restrictedM === null ? 'avoid contact' : `${formatNumber(shock.restrictedM, 2)} m`
          }, ${shockSource}`}
      </p>
      {row.results.length > 0 && (
        <table className={`${bench.table} figures`} aria-label="By condition and method">
          <thead>
            <tr>
              <th>Condition</th>
              <th>Method</th>
              <th className="number">Ibf kA</th>
              <th className="number">Iarc kA</th>
              <th className="number">Uarc V</th>
              <th className="number">t s</th>
              <th className="number">cal/cm²</th>
              <th title="The device whose opening ends the arc, and the current through it">Ended by</th>
            </tr>
          </thead>
          <tbody>
            {row.results.flatMap((result) =>
              directMethods.map((method) => {
                const each = result.cases[method];
                const ask = () => each && setAsked({ condition: result.condition, method });
                return (
                  <tr
                    key={`${result.condition} ${method}`}
                    data-clickable
                    data-active={(asked?.condition === result.condition && asked.method === method) || undefined}
                    tabIndex={0}
                    onClick={ask}
                    onKeyDown={(event) => event.key === 'Enter' && ask()}
                    title={directMethodTitles[method]}
                  >
                    <td>{conditionOf(network, result.condition)?.name}</td>
                    <td>{directMethodName(method)}</td>
                    <td className="number">{formatNumber(result.boltedA / 1000, 4)}</td>
                    {each ? (
                      <>
                        <td className="number">{formatNumber(each.currentA / 1000, 4)}</td>
                        <td className="number">{formatNumber(each.voltageV, 3)}</td>
                        <td className="number">{formatNumber(each.burnsS, 3)}</td>
                        <td className="number">
                          {formatNumber(caloriesOf(each.energy), 3)}{' '}
                          {result === worst && worst.decides === method && <span className={bench.kind}>decides</span>}
                        </td>
                        <td>{ending(network, each, longestS)}</td>
                      </>
                    ) : (
                      <td colSpan={5}>no arc can burn, or the gap is beyond the table</td>
                    )}
                  </tr>
                );
              }),
            )}
          </tbody>
        </table>
      )}
      {asked && <Working row={row} {...asked} onClose={() => setAsked(null)} />}
      <DirectPlaceForm bus={bus} at={at} />
    </section>
  );
}

function Working({
  row,
  condition,
  method,
  onClose,
}: {
  row: DirectArcRow;
  condition: string;
  method: DirectMethod;
  onClose: () => void;
}) {
  const network = useProject((state) => state.network);
  const { value } = useCore<readonly Section[]>(`d.c. arc working ${row.key} ${condition} ${method}`, (service) =>
    service.directArcWorking(row, condition as never, method),
  );
  if (!value) return null;
  return (
    <>
      <Button size="compact-xs" variant="subtle" onClick={onClose}>
        Hide the working
      </Button>
      <WorkingView
        working={{
          title: `${nameIn(network, row.bus)}, ${conditionOf(network, condition as never)?.name ?? ''}, ${directMethodTitles[method]}`,
          sections: value,
          omitted: 0,
        }}
      />
    </>
  );
}
