/** Ranges and steps of settings: what a device can really be set to. */
import type { SettingRange } from '../../model/deviceFunction';

/** The settable value next to `value`, clean of binary rounding. */
export function snap(range: SettingRange, value: number): number {
  if (!Number.isFinite(value)) return range.min;
  const clamped = Math.min(range.max, Math.max(range.min, value));
  const steps = Math.round((clamped - range.min) / range.step);
  const snapped = Math.min(range.min + steps * range.step, range.max);
  return Number(snapped.toFixed(decimals(range)));
}

/** The smallest settable value that is not below `value`; null above the range. */
export function snapUp(range: SettingRange, value: number): number | null {
  if (value > range.max * (1 + 1e-12)) return null;
  const steps = Math.ceil((Math.max(value, range.min) - range.min) / range.step - 1e-9);
  const snapped = range.min + steps * range.step;
  return snapped > range.max * (1 + 1e-12) ? null : Number(snapped.toFixed(decimals(range)));
}

export function isSettable(range: SettingRange, value: number): boolean {
  return Math.abs(snap(range, value) - value) <= range.step * 1e-6;
}

const decimals = (range: SettingRange): number => Math.min(9, Math.max(decimalsOf(range.step), decimalsOf(range.min)));

const decimalsOf = (value: number): number => {
  for (let digits = 0; digits < 9; digits++) if (Math.abs(Number(value.toFixed(digits)) - value) < 1e-10) return digits;
  return 9;
};
