'use client';

import { Button } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { SettingRange } from '@mesura/core/model/deviceFunction';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { settingsOf } from '@mesura/core/model/network';
import type { DistanceZone } from '@mesura/core/protection/distance/schema';
import { familyOf } from '@mesura/core/protection/registry';
import { snap } from '@mesura/core/protection/settings/range';
import type { ReachRow } from '@mesura/core/reach/plan';
import { perPrimaryOhm, type OhmUnit } from '@mesura/core/reach/units';
import type { Decided, Reaches, ZoneNumber } from '@mesura/core/reach/zones';
import { QuantityField } from '../../card/QuantityField';
import { Chip } from '../../desk/Chip';
import { useStoreFunction } from '../../desk/useStoreFunction';
import { useProject } from '../../project/ProjectContext';
import { useReachState } from './state';
import bench from '../../card/bench.module.css';
import classes from '../settings/settings.module.css';

/** A zone of a line end. */
export interface ReachLine {
  readonly row: ReachRow;
  readonly zone: Reaches;
}

export const unitSigns: Readonly<Record<OhmUnit, string>> = {
  primary: 'Ω',
  secondary: 'Ω sec.',
  percent: '% of line',
  perUnit: 'p.u.',
};

/** Why a zone reaches as far as it does. */
export function ReachCard({ line: { row, zone }, onTake }: { line: ReachLine; onTake: (onlyZone: boolean) => void }) {
  const { relay } = row;
  const canTake = relay?.fn && relay.secondary !== null;
  const parts = [
    ['Reach', zone.reach, 'Ω'],
    ['Reach of earth loops', zone.reachEarth === zone.reach ? null : zone.reachEarth, 'Ω'],
    ['Resistance', zone.resistance, 'Ω'],
    ['Resistance of earth loops', zone.resistanceEarth === zone.resistance ? null : zone.resistanceEarth, 'Ω'],
    ['Delay', zone.delay, 's'],
  ] as const;
  return (
    <article className={bench.card} aria-label={`Zone ${zone.zone} of ${row.stationName}, ${row.lineName}`}>
      <div className={bench.cardBody}>
        <div className={bench.head}>
          <h3 className={bench.title}>
            {row.stationName}, {row.lineName} <span className={bench.kind}>Zone {zone.zone}</span>
          </h3>
          <span className={bench.spacer} />
          {canTake && (
            <>
              <Button size="compact-xs" variant="default" onClick={() => onTake(true)}>
                Take zone {zone.zone}
              </Button>
              <Button size="compact-xs" variant="light" onClick={() => onTake(false)}>
                Take all of {relay.device.name}
              </Button>
            </>
          )}
        </div>
        {!relay && <p className={bench.muted}>No relay measures at this end.</p>}
        {relay && !relay.fn && <p className={bench.muted}>{relay.device.name} has no distance protection.</p>}
        {relay?.fn && relay.secondary === null && (
          <p className={bench.muted}>
            <Chip state="warn">no voltage</Chip> {relay.device.name} measures at no voltage transformer: secondary ohms
            are not known.
          </p>
        )}
        {relay?.fn && relay.secondary !== null && <StoredFields row={row} zone={zone.zone} />}
        {parts.map(
          ([title, decided, unit]) =>
            decided && <DecidedLine key={title} title={title} decided={decided} unit={unit} />,
        )}
      </div>
    </article>
  );
}

/** What the relay has stored for a zone, set by hand in whichever unit is at hand. */
function StoredFields({ row, zone }: { row: ReachRow; zone: ZoneNumber }) {
  const network = useProject((state) => state.network);
  const storeFunction = useStoreFunction();
  const { unit } = useReachState();
  const { device, fn, secondary } = row.relay!;
  const index = fn!.zones.findIndex(({ name, enabled }) => enabled && name === String(zone));
  const factor = perPrimaryOhm(unit, row, settingsOf(network).baseMva);
  if (index < 0 || factor === null || secondary === null) return null;
  const stored = fn!.zones[index];
  const put = (field: keyof DistanceZone, value: number, range: SettingRange): string | null => {
    const set = snap(range, value);
    if (value < range.min * (1 - 1e-9) || value > range.max * (1 + 1e-9))
      return `The relay takes ${range.min} to ${range.max} secondary.`;
    return storeFunction(
      { device: device.id, function: fn!.id },
      (now) => familyOf(now).withSetting(now, `zones.${index}.${field}`, set),
      `${device.name}: zone ${zone} by hand`,
    )
      ? null
      : 'not stored';
  };
  const ohm = (field: 'reachOhm' | 'reachEarthOhm' | 'resistanceOhm' | 'resistanceEarthOhm', title: string) => (
    <QuantityField
      key={field}
      compact
      label={title}
      unit={unit === 'percent' ? '%' : unit === 'perUnit' ? '' : 'Ω'}
      value={Number(((stored[field] / secondary) * factor).toPrecision(5))}
      onCommit={(value) =>
        value === null ? 'a value is needed' : put(field, (value / factor) * secondary, fn!.ranges.ohm)
      }
    />
  );
  return (
    <div className={bench.head} aria-label={`Stored in ${device.name}`} role="group">
      <span className={bench.muted}>stored, {unitSigns[unit]}: reach</span>
      {ohm('reachOhm', 'Stored reach')}
      <span className={bench.muted}>earth</span>
      {ohm('reachEarthOhm', 'Stored reach, earth')}
      {fn!.characteristic === 'quadrilateral' && (
        <>
          <span className={bench.muted}>R</span>
          {ohm('resistanceOhm', 'Stored resistance')}
          <span className={bench.muted}>earth</span>
          {ohm('resistanceEarthOhm', 'Stored resistance, earth')}
        </>
      )}
      <span className={bench.muted}>after</span>
      <QuantityField
        compact
        label="Stored delay"
        unit="s"
        value={stored.delayS}
        onCommit={(value) => (value === null ? 'a value is needed' : put('delayS', value, fn!.ranges.delayS))}
      />
    </div>
  );
}

function DecidedLine({ title, decided, unit }: { title: string; decided: Decided; unit: string }) {
  const network = useProject((state) => state.network);
  const { value, by, elements, against } = decided;
  const named = (id: ElementId) => {
    const element = network.elements.get(id);
    return element ? nameOf(element) : id;
  };
  return (
    <p style={{ margin: '4px 0' }}>
      <strong>{title}</strong> {formatNumber(value, 4)} {unit}: {by.rule.title}{' '}
      <span className={bench.muted}>
        = {by.rule.formula}. {by.rule.reason}
      </span>
      {by.figures.map(({ name, value: figure, elements: of }) => (
        <span key={name} className={classes.figure}>
          {name} = {figure ? formatNumber(Math.hypot(figure.re, figure.im), 4) : '–'} {name === 'margin' ? 's' : 'Ω'}
          {of.length > 0 && `, ${of.map(named).join(' + ')}`}
        </span>
      ))}
      {against.map(({ rule, value: asked }) => (
        <span key={rule.id} className={classes.figure}>
          not met: {rule.title}, {rule.sense === 'atLeast' ? 'at least' : 'at most'} {formatNumber(asked, 4)} {unit}
        </span>
      ))}
      {elements.length === 0 && by.figures.length === 0 && <span className={bench.muted}> (a fixed value)</span>}
    </p>
  );
}
