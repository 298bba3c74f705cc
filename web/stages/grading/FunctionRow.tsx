'use client';

import type { ReactNode } from 'react';
import { ActionIcon, NativeSelect } from '@mantine/core';
import { IconMinus, IconPlus } from '@tabler/icons-react';
import type { CurrentTransformer } from '@mesura/core/model/switching';
import type { CharacteristicName, OvercurrentFunction } from '@mesura/core/model/protection';
import { characteristics } from '@mesura/core/protection/overcurrent/characteristics';
import { isDefinite } from '@mesura/core/protection/overcurrent/relay';
import { isSettable, snap } from '@mesura/core/protection/overcurrent/settings';
import { formatNumber, plainNumber } from '../../card/quantity';
import { QuantityField } from '../../card/QuantityField';
import classes from './grading.module.css';

export type SettingField = 'pickup' | 'timeMultiplier' | 'delayS';

interface Props {
  fn: OvercurrentFunction;
  ct: CurrentTransformer | undefined;
  /** Takes the changed function; a text answer is a refusal. */
  onChange: (fn: OvercurrentFunction) => string | null;
  extra?: ReactNode;
}

const options = Object.entries(characteristics).map(([value, { title }]) => ({ value, label: title }));

/** The settings of one function in the device's own steps, with what they mean in primary and secondary amperes. */
export function FunctionRow({ fn, ct, onChange, extra }: Props) {
  const set = (field: SettingField, value: number | null): string | null => {
    if (value === null) return 'A value is needed here.';
    const { min, max, step } = fn.ranges[field];
    if (value < min || value > max) return `The device takes ${plainNumber(min)} to ${plainNumber(max)}.`;
    if (!isSettable(fn.ranges[field], value))
      return `The device has steps of ${plainNumber(step)}; next is ${plainNumber(snap(fn.ranges[field], value))}.`;
    return onChange({ ...fn, [field]: snap(fn.ranges[field], value) });
  };
  const stepper = (field: SettingField, label: string, unit: string) => (
    <div className={classes.setting}>
      <span className={classes.settingLabel}>{label}</span>
      <div className={classes.stepper}>
        <ActionIcon
          variant="default"
          size={28}
          aria-label={`${fn.code} ${label} one step down`}
          onClick={() => set(field, snap(fn.ranges[field], fn[field] - fn.ranges[field].step))}
        >
          <IconMinus size={12} />
        </ActionIcon>
        <QuantityField
          compact
          label={`${fn.code} ${label}`}
          unit={unit}
          value={fn[field]}
          onCommit={(value) => set(field, value)}
        />
        <ActionIcon
          variant="default"
          size={28}
          aria-label={`${fn.code} ${label} one step up`}
          onClick={() => set(field, snap(fn.ranges[field], fn[field] + fn.ranges[field].step))}
        >
          <IconPlus size={12} />
        </ActionIcon>
      </div>
    </div>
  );
  const definite = isDefinite(fn);
  return (
    <div
      className={classes.function}
      data-off={!fn.enabled || undefined}
      role="group"
      aria-label={`Function ${fn.code}`}
    >
      <strong className={classes.code}>{fn.code}</strong>
      <div className={classes.setting}>
        <span className={classes.settingLabel}>characteristic</span>
        <NativeSelect
          aria-label={`${fn.code} characteristic`}
          size="xs"
          w={158}
          disabled={fn.code.startsWith('50')}
          data={options}
          value={fn.code.startsWith('50') ? 'definite' : fn.characteristic}
          onChange={(event) => onChange({ ...fn, characteristic: event.currentTarget.value as CharacteristicName })}
        />
      </div>
      {stepper('pickup', 'pickup', '× In')}
      {definite ? stepper('delayS', 'delay', 's') : stepper('timeMultiplier', 'multiplier', '')}
      <div className={classes.setting}>
        <span className={classes.settingLabel}>primary · secondary</span>
        <span className={`figure ${classes.amperes}`}>
          {ct
            ? `${formatNumber(fn.pickup * ct.primaryA, 3)} A · ${formatNumber(fn.pickup * ct.secondaryA, 3)} A`
            : 'no CT'}
        </span>
      </div>
      <span className={classes.extra}>{extra}</span>
    </div>
  );
}
