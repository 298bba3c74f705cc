'use client';

import { useState, type ReactNode } from 'react';
import { ActionIcon, NativeSelect } from '@mantine/core';
import { IconMinus, IconPlus } from '@tabler/icons-react';
import type { InputRating, Setting } from '@mesura/core/protection/family';
import type { Origin } from '@mesura/core/model/deviceFunction';
import { originOf, originWords } from '@mesura/core/proposals/origin';
import { familyOf } from '@mesura/core/protection/registry';
import type { DeviceFunction } from '@mesura/core/protection/schemas';
import { isSettable, snap } from '@mesura/core/protection/settings/range';
import { formatNumber, plainNumber } from '@mesura/core/fields/quantity';
import { steppedTo } from './dragging';
import { QuantityField } from '../../card/QuantityField';
import classes from './grading.module.css';

interface Props {
  fn: DeviceFunction;
  /** Of the input that it measures at; null where it leads to no current transformer. */
  rating: InputRating | null;
  /** Takes the changed function; a text answer is a refusal. */
  onChange: (fn: DeviceFunction) => string | null;
  extra?: ReactNode;
  /** Current inputs of its device, by what they measure at. */
  inputs?: readonly { readonly id: string; readonly label: string }[];
}

/** The settings of one function in the device's own steps, with what they mean in primary and secondary amperes. */
export function FunctionRow({ fn, rating, onChange, extra, inputs }: Props) {
  const family = familyOf(fn);
  const code = family.code(fn);
  const row = rating ? family.sheet?.(fn, rating) : undefined;
  const [all, setAll] = useState(false);
  const shown = <T extends { readonly more?: boolean }>(list: readonly T[]) => list.filter(({ more }) => all || !more);
  const choices = family.choices?.(fn, inputs) ?? [];
  const settings = family.settings(fn);
  const hasMore = [...choices, ...settings].some(({ more }) => more);
  return (
    <div
      className={classes.function}
      data-off={!fn.enabled || undefined}
      role="group"
      aria-label={`Function ${code}`}
      title={family.name(fn)}
    >
      <strong className={classes.code}>{code}</strong>
      {shown(choices).map(({ field, title, value, options, fixed }) => (
        <div key={field} className={classes.setting}>
          <span className={classes.settingLabel}>{title}</span>
          <NativeSelect
            aria-label={`${code} ${title}`}
            size="xs"
            w={158}
            disabled={fixed}
            data={[...options]}
            value={value}
            onChange={(event) => onChange(family.withChoice!(fn, field, event.currentTarget.value))}
          />
        </div>
      ))}
      {shown(settings).map((setting) => (
        <SettingField
          key={setting.field}
          code={code}
          setting={setting}
          origin={originOf(fn, setting.field)}
          onChange={(value) => onChange(family.withSetting(fn, setting.field, value))}
        />
      ))}
      {family.sheet && (
        <div className={classes.setting}>
          <span className={classes.settingLabel}>primary · secondary</span>
          <span className={`figure ${classes.amperes}`}>
            {row ? `${formatNumber(row.primaryA, 3)} A · ${formatNumber(row.secondaryA, 3)} A` : 'no CT'}
          </span>
        </div>
      )}
      {hasMore && (
        <button type="button" className={classes.proposal} onClick={() => setAll(!all)} aria-expanded={all}>
          {all ? 'less' : 'more'}
        </button>
      )}
      <span className={classes.extra}>{extra}</span>
    </div>
  );
}

function SettingField({
  code,
  setting,
  origin,
  onChange,
}: {
  code: string;
  setting: Setting;
  origin: Origin | null;
  onChange: (value: number) => string | null;
}) {
  const { title, unit, value, range, sizes } = setting;
  const label = title.length > 2 ? title.toLowerCase() : title;
  const set = (wanted: number | null): string | null => {
    if (wanted === null) return 'A value is needed here.';
    if (sizes && !sizes.includes(wanted)) {
      const nearest = sizes.reduce((p, q) => (Math.abs(q - wanted) < Math.abs(p - wanted) ? q : p));
      return `Not made in this size; nearest ${plainNumber(nearest)}.`;
    }
    if (!range) return onChange(wanted);
    const { min, max, step } = range;
    if (wanted < min || wanted > max) return `The device takes ${plainNumber(min)} to ${plainNumber(max)}.`;
    if (!isSettable(range, wanted))
      return `Not an available setting (steps of ${plainNumber(step)}); nearest ${plainNumber(snap(range, wanted))}.`;
    return onChange(snap(range, wanted));
  };
  const step = (way: 1 | -1, word: string, icon: ReactNode) =>
    (range || sizes) && (
      <ActionIcon
        variant="default"
        size={28}
        aria-label={`${code} ${label} one step ${word}`}
        onClick={() => set(steppedTo(setting, way))}
      >
        {icon}
      </ActionIcon>
    );
  return (
    <div className={classes.setting}>
      <span className={classes.settingLabel} title={origin ? originWords(origin) : undefined}>
        {label}
        {origin && <em> {origin.proposed === null ? 'by rule' : 'overridden'}</em>}
      </span>
      <div className={classes.stepper}>
        {step(-1, 'down', <IconMinus size={12} />)}
        <QuantityField compact label={`${code} ${label}`} unit={unit} value={value} onCommit={set} />
        {step(1, 'up', <IconPlus size={12} />)}
      </div>
    </div>
  );
}
