'use client';

import { useState } from 'react';
import { Button } from '@mantine/core';
import { caloriesOf, clothingFor, shockBoundaries, shockSource } from '@mesura/core/arc/clothing';
import { methodTitles } from '@mesura/core/arc/judge';
import { decidingCase, spotName, type ArcCase, type ArcResult, type ArcRow } from '@mesura/core/arc/study';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn, ofKind, settingsOf, type Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { WorkingView } from '../../card/WorkingView';
import { useGoToProblem } from '../../desk/findings';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import type { Section } from '@mesura/core/working/trace';
import { ArcProposal } from './ArcProposal';
import { PlaceForm } from './PlaceForm';
import bench from '../../card/bench.module.css';

/** "BRA Q32 relay, 51, 1.269 s". */
function ending(network: Network, own: ArcCase, longestS: number): string {
  const { governing } = own;
  if (own.limited || !governing) return `not cleared within ${formatNumber(longestS, 3)} s`;
  return `${nameIn(network, governing.device)}, ${governing.code}, ${formatNumber(governing.trippedS, 3)} s`;
}

/** One place: every condition with both arcing currents, what decides, what it burns in, how it was found. */
export function ArcCard({ row, isCurrent }: { row: ArcRow; isCurrent: boolean }) {
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const { arc } = settingsOf(network);
  const { worst, at, spot, longestS } = row;
  const [asked, setAsked] = useState<{ condition: string; reduced: boolean } | null>(null);
  const bus = network.elements.get(spot.bus);
  if (bus?.kind !== 'bus') return null;
  const step = worst && clothingFor(arc.clothing, decidingCase(worst).energy);
  const shock = shockBoundaries(at.voltageKv, 'ac');
  const isAsked = (result: ArcResult, reduced: boolean) =>
    asked ? asked.condition === result.condition && asked.reduced === reduced : false;
  const lines = row.results.flatMap((result) =>
    ([false, true] as const).flatMap((reduced) => {
      const own = reduced ? result.reduced : result.full;
      return own ? [{ result, reduced, own }] : [];
    }),
  );
  return (
    <section aria-label={`Arc at ${spotName(network, spot)}`} className={isCurrent ? undefined : bench.stale}>
      <h3 className={bench.subtitle} style={{ marginTop: 10 }}>
        {spotName(network, spot)}
      </h3>
      {!worst ? (
        <p className={bench.muted}>{row.problems.join('; ') || 'Nothing feeds an arc here.'}</p>
      ) : (
        <>
          <p style={{ margin: '0 0 4px' }}>
            <strong>{formatNumber(caloriesOf(decidingCase(worst).energy), 3)} cal/cm²</strong> (
            {formatNumber(decidingCase(worst).energy, 3)} J/cm²) at {formatNumber(at.distanceMm, 4)} mm, boundary{' '}
            {formatNumber(decidingCase(worst).boundaryMm, 4)} mm.{' '}
            {step ? `Wear: ${step.wear}.` : 'No work on it energised.'}
          </p>
          {worst.remarks.map((remark) => (
            <p key={remark} className={bench.problem}>
              {remark}
            </p>
          ))}
          <p className={bench.muted}>
            {methodTitles[worst.method]}
            {!worst.confirmed && ' (coefficients as remembered)'}; {at.title}, {at.electrodes}, gap{' '}
            {formatNumber(at.gapMm, 4)} mm
            {shock &&
              `; approach: limited ${formatNumber(shock.limitedM, 2)} m, restricted ${
                shock.restrictedM === null ? 'avoid contact' : `${formatNumber(shock.restrictedM, 2)} m`
              }, ${shockSource}`}
          </p>
          <table className={`${bench.table} figures`} aria-label="By condition">
            <thead>
              <tr>
                <th>Condition</th>
                <th>Current</th>
                <th className="number">Ibf kA</th>
                <th className="number">Iarc kA</th>
                <th className="number">t s</th>
                <th className="number">cal/cm²</th>
                <th title="The device whose opening ends the arc, and when it trips">Ended by</th>
              </tr>
            </thead>
            <tbody>
              {lines.map(({ result, reduced, own }) => (
                <tr
                  key={`${result.condition} ${reduced}`}
                  data-clickable
                  data-active={isAsked(result, reduced) || undefined}
                  tabIndex={0}
                  onClick={() => setAsked({ condition: result.condition, reduced })}
                  onKeyDown={(event) => event.key === 'Enter' && setAsked({ condition: result.condition, reduced })}
                  title="Shows the working"
                >
                  <td>{conditionOf(network, result.condition)?.name}</td>
                  <td>{reduced ? 'reduced' : 'full'}</td>
                  <td className="number">{formatNumber(result.boltedKa, 4)}</td>
                  <td className="number">{formatNumber(own.arcingKa, 4)}</td>
                  <td className="number">{formatNumber(own.burnsS, 3)}</td>
                  <td className="number">
                    {formatNumber(caloriesOf(own.energy), 3)}{' '}
                    {result === worst && reduced === (worst.decides === 'reduced') && (
                      <span className={bench.kind}>decides</span>
                    )}
                  </td>
                  <td>{ending(network, own, longestS)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Openings own={decidingCase(worst)} onChoose={(id) => select([id])} />
          <ChartsOf device={decidingCase(worst).governing?.device ?? null} />
          <ArcProposal row={row} />
          {asked && (
            <Working row={row} condition={asked.condition} reduced={asked.reduced} onClose={() => setAsked(null)} />
          )}
        </>
      )}
      <PlaceForm bus={bus} at={at} />
    </section>
  );
}

/** The stages of the arc that decides, and what opened when. */
function Openings({ own, onChoose }: { own: ArcCase; onChoose: (id: ArcCase['openings'][number]['device']) => void }) {
  const network = useProject((state) => state.network);
  return (
    <>
      <p className={bench.muted} style={{ margin: '6px 0 2px' }}>
        Stages:{' '}
        {own.stages
          .map(
            ({ fromS, toS, arcingKa, energy }) =>
              `${formatNumber(fromS, 3)}–${formatNumber(toS, 3)} s ${formatNumber(arcingKa, 3)} kA ${formatNumber(caloriesOf(energy), 3)} cal/cm²`,
          )
          .join('; ')}
      </p>
      {own.openings.length > 0 && (
        <p className={bench.muted} style={{ margin: 0 }}>
          Opened:{' '}
          {own.openings.map(({ device, code, element, trippedS, openedS }, k) => (
            <span key={`${device} ${element} ${openedS}`}>
              {k > 0 && '; '}
              <button type="button" className={bench.sort} onClick={() => onChoose(device)}>
                {nameIn(network, element)} by {nameIn(network, device)}, {code}
              </button>{' '}
              {formatNumber(trippedS, 3)} → {formatNumber(openedS, 3)} s
            </span>
          ))}
        </p>
      )}
    </>
  );
}

/** Grading charts on which the device stands that ends the arc. */
function ChartsOf({ device }: { device: ElementId | null }) {
  const network = useProject((state) => state.network);
  const goTo = useGoToProblem();
  const charts = ofKind(network, 'gradingChart').filter(({ relays }) => device !== null && relays.includes(device));
  if (charts.length === 0) return null;
  return (
    <p className={bench.muted} style={{ margin: '2px 0' }}>
      On charts:{' '}
      {charts.map(({ id, name }, k) => (
        <span key={id}>
          {k > 0 && ', '}
          <button
            type="button"
            className={bench.sort}
            onClick={() => goTo({ severity: 'assumed', code: 'grading.chart', message: '', element: id })}
          >
            {name}
          </button>
        </span>
      ))}
    </p>
  );
}

function Working({
  row,
  condition,
  reduced,
  onClose,
}: {
  row: ArcRow;
  condition: string;
  reduced: boolean;
  onClose: () => void;
}) {
  const network = useProject((state) => state.network);
  const { value } = useCore<readonly Section[]>(`arc working ${row.spot.key} ${condition} ${reduced}`, (service) =>
    service.arcWorking(row, condition as never, reduced),
  );
  if (!value) return null;
  const name = row.results.find((each) => each.condition === condition);
  return (
    <>
      <Button size="compact-xs" variant="subtle" onClick={onClose}>
        Hide the working
      </Button>
      <WorkingView
        working={{
          title: `${spotName(network, row.spot)}, ${name ? conditionOf(network, name.condition)?.name : ''}, ${reduced ? 'reduced' : 'full'} arcing current`,
          sections: value,
          omitted: 0,
        }}
      />
    </>
  );
}
