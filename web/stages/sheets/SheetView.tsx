'use client';

import { faultKindTitles, type FaultKind } from '@mesura/core/faults/kinds';
import { notFinite } from '@mesura/core/sheets/finite';
import type { SheetContent } from '@mesura/core/sheets/sheet';
import { Chip } from '../../desk/Chip';
import { formatCurrent, formatNumber, plainNumber, withUnit } from '@mesura/core/fields/quantity';
import bench from '../../card/bench.module.css';

/** A sheet on the screen: the same content as the PDF. */
export function SheetView({ content }: { content: SheetContent }) {
  const { ct } = content;
  const wrong = notFinite(content);
  if (wrong)
    return (
      <p role="alert">
        This sheet cannot be shown: {wrong.join(' → ')} is not a number. Check the data that it comes from.
      </p>
    );
  return (
    <>
      <dl style={{ display: 'grid', gridTemplateColumns: 'auto 1fr', gap: '2px 16px', margin: 0, fontSize: 13 }}>
        <dt className={bench.muted}>Device</dt>
        <dd style={{ margin: 0 }}>{content.relay.device}</dd>
        <dt className={bench.muted}>Current transformer</dt>
        <dd style={{ margin: 0 }}>
          {ct ? `${ct.name}, ${plainNumber(ct.primaryA)}/${plainNumber(ct.secondaryA)} A, ${ct.accuracy}` : 'none'}
        </dd>
        <dt className={bench.muted}>Trips</dt>
        <dd style={{ margin: 0 }}>{content.trips.join(', ') || 'nothing'}</dd>
      </dl>
      <h4 className={bench.subtitle}>Settings</h4>
      <table className={`${bench.table} figures`} aria-label="Settings">
        <thead>
          <tr>
            <th>Function</th>
            <th>Characteristic</th>
            <th className="number">× In</th>
            <th className="number">primary</th>
            <th className="number">secondary</th>
            <th className="number">multiplier</th>
            <th className="number">delay</th>
          </tr>
        </thead>
        <tbody>
          {content.functions.map((fn, k) => (
            <tr key={k}>
              <td>{fn.code}</td>
              <td>{fn.characteristic}</td>
              <td className="number">{plainNumber(fn.pickupIn)}</td>
              <td className="number">{withUnit(fn.primaryA, 'A')}</td>
              <td className="number">{withUnit(fn.secondaryA, 'A')}</td>
              <td className="number">{fn.timeMultiplier === null ? '' : plainNumber(fn.timeMultiplier)}</td>
              <td className="number">{fn.delayS === null ? '' : `${plainNumber(fn.delayS)}\u2009s`}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {content.origins && (
        <ul className={bench.muted} aria-label="Where values came from" style={{ margin: '4px 0', paddingLeft: 16 }}>
          {content.origins.map(({ code, setting, words }) => (
            <li key={`${code} ${setting}`}>
              {code}, {setting.toLowerCase()}: {words}
            </li>
          ))}
        </ul>
      )}
      <h4 className={bench.subtitle}>Fault currents used</h4>
      <table className={`${bench.table} figures`} aria-label="Fault currents used">
        <thead>
          <tr>
            <th>Fault at</th>
            <th>Kind</th>
            <th>Condition</th>
            <th className="number">phase</th>
            <th className="number">3I0</th>
            <th className="number">operating time</th>
          </tr>
        </thead>
        <tbody>
          {content.faults.map((fault, k) => (
            <tr key={k}>
              <td>{fault.place}</td>
              <td>{faultKindTitles[fault.kind as FaultKind]}</td>
              <td>{fault.condition}</td>
              <td className="number">{formatCurrent(fault.phaseA)}</td>
              <td className="number">{fault.residualA < 0.5 ? '–' : formatCurrent(fault.residualA)}</td>
              <td className="number">
                {fault.tripS === null ? 'no trip' : `${fault.tripS.toFixed(3)}\u2009s (${fault.by})`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {content.sensitivities.map((each) => (
        <p key={each.measured} className={bench.muted} style={{ margin: '4px 0 0' }}>
          Smallest {each.measured} fault at {each.place}: {formatCurrent(each.currentA)}, {formatNumber(each.factor, 3)}{' '}
          × pickup.
        </p>
      ))}
      <h4 className={bench.subtitle}>Grading</h4>
      {content.margins.map((margin) => (
        <p key={`${margin.chart}${margin.downstream}${margin.upstream}`} style={{ margin: '2px 0', fontSize: 13 }}>
          {margin.downstream} → {margin.upstream} ({margin.measured}):{' '}
          {margin.marginS === null ? (
            margin.reason
          ) : (
            <span className="figure">
              {margin.marginS.toFixed(3)} s at {formatCurrent(margin.atA!)}, required {plainNumber(margin.wantedS)}{' '}
              s{' '}
            </span>
          )}{' '}
          <Chip state={margin.verdict === 'holds' ? 'pass' : 'fail'}>
            {margin.verdict === 'holds' ? 'OK' : margin.verdict === 'short' ? 'not met' : 'not graded'}
          </Chip>
        </p>
      ))}
      {content.margins.length === 0 && <p className={bench.muted}>This device belongs to no grading pair.</p>}
    </>
  );
}
