'use client';

import { ActionIcon, Switch } from '@mantine/core';
import { IconMessagePlus } from '@tabler/icons-react';
import { useState } from 'react';
import { verdictTitles, type CheckVerdict } from '@mesura/core/checks/check';
import { faultKindTitles, type FaultKind } from '@mesura/core/faults/kinds';
import { formatCurrent, formatNumber, plainNumber } from '@mesura/core/fields/quantity';
import { originTitles } from '@mesura/core/proposals/origin';
import { valueKey, type SheetContent, type SheetValue } from '@mesura/core/sheets/content';
import { notFinite } from '@mesura/core/sheets/finite';
import { verdictTitles as trialTitles } from '@mesura/core/trials/words';
import { Chip } from '../../desk/Chip';
import { Marks } from '../../plots/Marks';
import { sheetScene } from '../../plots/sheetChart';
import { planeScene, zonesScene } from '../../plots/sheetPlanes';
import type { Scene } from '../../plots/scene';
import bench from '../../card/bench.module.css';
import plots from '../../plots/plots.module.css';

const tones: Readonly<Record<CheckVerdict, 'pass' | 'warn' | 'fail'>> = {
  holds: 'pass',
  short: 'fail',
  doubtful: 'warn',
  notApplicable: 'warn',
};

const withUnit = (value: number | string, unit: string): string =>
  typeof value === 'string' ? value : `${plainNumber(value)}${unit && `\u2009${unit}`}`;

/** A sheet on the screen: the same content as the PDF. `comment`: on a value, where it waits to be checked. */
export function SheetView({
  content,
  comment,
}: {
  content: SheetContent;
  comment?: (key: string, title: string) => void;
}) {
  const wrong = notFinite(content);
  if (wrong)
    return (
      <p role="alert">
        This sheet cannot be shown: {wrong.join(' → ')} is not a number. Check the data that it comes from.
      </p>
    );
  const { inputs, station, relay, trips } = content;
  return (
    <>
      <dl style={{ display: 'grid', gridTemplateColumns: 'auto 1fr', gap: '2px 16px', margin: 0, fontSize: 13 }}>
        {station && <Fact name="Station" value={station} />}
        <Fact name="Device" value={relay.device} />
        {inputs.map(({ name, type, primary, secondary, accuracy, reversed }, k) => (
          <Fact
            key={k}
            name={
              {
                current: 'Current transformer',
                voltage: 'Voltage transformer',
                neutral: 'Star point',
                winding: 'Winding',
                own: '',
              }[type]
            }
            value={[
              name,
              primary && secondary
                ? type === 'voltage'
                  ? `${plainNumber(primary.value)} kV/${plainNumber(secondary.value)} V`
                  : `${plainNumber(primary.value)}/${plainNumber(secondary.value)} A`
                : '',
              accuracy,
              reversed ? 'polarity reversed' : '',
            ]
              .filter(Boolean)
              .join(', ')}
          />
        ))}
        <Fact name="Trips" value={trips.join(', ') || 'nothing'} />
        {content.notInUse.length > 0 && <Fact name="Not in use" value={content.notInUse.join(', ')} />}
      </dl>
      <Values values={content.values} comment={comment} />
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
                {fault.tripS === null
                  ? content.zones.length + content.planes.length > 0
                    ? 'not by a curve'
                    : 'no trip'
                  : `${fault.tripS.toFixed(3)}\u2009s (${fault.by})`}
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
      <h4 className={bench.subtitle}>Checks</h4>
      <table className={`${bench.table} figures`} aria-label="Checks">
        <tbody>
          {content.statements.map((each) => (
            <tr key={each.id} title={each.message}>
              <td>{each.title}</td>
              <td className="number">
                {each.value === null ? '' : `${formatNumber(each.value, 4)}\u2009${each.unit}`}
              </td>
              <td className="number">
                {each.bound === null
                  ? ''
                  : `${each.sense === 'atLeast' ? '≥' : '≤'} ${formatNumber(each.bound, 4)}\u2009${each.unit}`}
              </td>
              <td>
                <Chip state={tones[each.verdict]}>{verdictTitles[each.verdict]}</Chip>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {content.statements.length === 0 && <p className={bench.muted}>No check is about this device.</p>}
      <h4 className={bench.subtitle}>Grading</h4>
      {content.margins.map((margin) => (
        <p
          key={`${margin.chart}${margin.measured}${margin.downstream}${margin.upstream}`}
          style={{ margin: '2px 0', fontSize: 13 }}
        >
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
      {content.trials.length > 0 && (
        <>
          <h4 className={bench.subtitle}>Trials that it takes part in</h4>
          {content.trials.map(({ id, name, verdict, clearedS, events }) => (
            <p key={id} style={{ margin: '2px 0', fontSize: 13 }}>
              {name}: {events.map(({ atS, text }) => `${formatNumber(atS, 3)}\u2009s ${text}`).join('; ')}
              {clearedS !== null && `; cleared after ${formatNumber(clearedS, 3)}\u2009s`}{' '}
              <Chip state={verdict === 'selective' ? 'pass' : 'fail'}>{trialTitles[verdict]}</Chip>
            </p>
          ))}
        </>
      )}
      {content.chart.map((chart) => (
        <Picture key={chart.measured} title={`Time–current chart, ${chart.measured}`} scene={sheetScene(chart)} />
      ))}
      {content.zones.map((zones) => (
        <Picture
          key={`${zones.code} ${zones.loops}`}
          title={`Zones of ${zones.code}, ${zones.loops} loops`}
          scene={zonesScene(zones, 420, 300)}
        />
      ))}
      {content.planes.map((plane) => (
        <Picture key={plane.code} title={`Plane of ${plane.code}`} scene={planeScene(plane, 480, 240)} />
      ))}
    </>
  );
}

const Fact = ({ name, value }: { name: string; value: string }) => (
  <>
    <dt className={bench.muted}>{name}</dt>
    <dd style={{ margin: 0 }}>{value}</dd>
  </>
);

function Picture({ title, scene }: { title: string; scene: Scene }) {
  const { width, height } = scene.paper;
  return (
    <>
      <h4 className={bench.subtitle}>{title}</h4>
      <svg
        className={plots.plot}
        viewBox={`0 0 ${width} ${height}`}
        style={{ maxWidth: width * 1.2 }}
        role="img"
        aria-label={title}
      >
        <Marks scene={scene} />
      </svg>
    </>
  );
}

/** Values as they are entered, with where each came from. */
function Values({
  values,
  comment,
}: {
  values: readonly SheetValue[];
  comment?: (key: string, title: string) => void;
}) {
  const [all, setAll] = useState(false);
  const shown = values.filter(({ more }) => all || !more);
  return (
    <>
      <div className={bench.head} style={{ margin: '14px 0 2px' }}>
        <h4 className={bench.subtitle} style={{ margin: 0 }}>
          Settings
        </h4>
        <span className={bench.spacer} />
        {values.some(({ more }) => more) && (
          <Switch
            size="xs"
            label="also what is seldom changed"
            checked={all}
            onChange={(event) => setAll(event.currentTarget.checked)}
          />
        )}
      </div>
      <table className={`${bench.table} figures`} aria-label="Settings">
        <thead>
          <tr>
            <th>Function</th>
            <th>Setting</th>
            <th className="number">value</th>
            <th className="number">primary</th>
            <th className="number">secondary</th>
            <th>origin</th>
            {comment && <th />}
          </tr>
        </thead>
        <tbody>
          {shown.map((value, k) => {
            const isNew = k === 0 || shown[k - 1].functionId !== value.functionId;
            const { primary, secondary, state } = value;
            return (
              <tr key={valueKey(value)}>
                <td style={{ fontWeight: 600 }}>{isNew ? value.code : ''}</td>
                <td>{value.setting}</td>
                <td className="number" style={{ fontWeight: 600 }}>
                  {value.shown ?? withUnit(value.value, value.unit)}
                </td>
                <td className="number">{primary && withUnit(primary.value, primary.unit)}</td>
                <td className="number">{secondary && withUnit(secondary.value, secondary.unit)}</td>
                <td className={bench.muted} title={reasonOf(value)}>
                  {state === 'typed' ? '' : originTitles[state]}
                </td>
                {comment && (
                  <td>
                    <ActionIcon
                      size="xs"
                      variant="subtle"
                      aria-label={`Comment on ${value.code} ${value.setting}`}
                      onClick={() => comment(valueKey(value), `${value.code} ${value.setting.toLowerCase()}`)}
                    >
                      <IconMessagePlus size={13} />
                    </ActionIcon>
                  </td>
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
      <ul className={bench.muted} aria-label="Where values came from" style={{ margin: '4px 0', paddingLeft: 16 }}>
        {values
          .filter(({ rules, state }) => rules.length > 0 || state === 'overridden')
          .map((value) => (
            <li key={valueKey(value)}>
              {value.code}, {value.setting.toLowerCase()}: {reasonOf(value)}
            </li>
          ))}
      </ul>
    </>
  );
}

const reasonOf = ({ words, rules }: SheetValue): string =>
  [
    words,
    ...rules.map(
      ({ title, formula, result, unit, clause, remembered }) =>
        `${title}: ${formula}${result === null ? '' : ` = ${formatNumber(result, 4)} ${unit}`}${clause ? ` [${clause}${remembered ? ', as remembered' : ''}]` : ''}`,
    ),
  ].join('; ');
