/** What would resolve a conflict: tried one by one, and offered only where it does. */
import { deviceFigures, kindsFor, nothingA } from '../grading/figures';
import { pairMargin } from '../grading/margin';
import type { Condition } from '../model/condition';
import { primaryCurrents } from '../model/standardSizes';
import { nominalKvAt } from '../grading/chart/basis';
import type { Studies } from '../studies/studies';
import { currentOf, mainInput, withFunction, type Device, type DeviceElement } from '../protection/device';
import type { Setting, TimeCurrent } from '../protection/family';
import type { OvercurrentFunction } from '../protection/overcurrent/schema';
import { effectiveCurrent } from '../protection/overcurrent/timeCurrent';
import { familyOf } from '../protection/registry';
import type { ElementId } from '../model/fields';
import { directed } from './complete';
import { asksAnew, type Demand } from './demand';
import type { Figures } from './figures';
import type { Judged } from './order';
import type { Way } from './proposal';
import { firstStep, modeOf, settingOf, stepsOf, type Steps } from './slots';

const almost = 1e-9;
/** Of a voltage transformer that is not there yet; directions do not depend on it. */
const usualSecondaryV = 100;
const plain = (value: number): string => String(Number(value.toPrecision(6)));

/** Other characteristics of the upper function with which a pair would hold within what rules allow. `ceiling`: the time that they allow it at most. */
export function characteristicWays(
  studies: Studies,
  { pair, states, mode }: Judged,
  upper: Device,
  curve: TimeCurrent,
  trials: ReadonlyMap<ElementId, DeviceElement>,
  ceiling: Demand | undefined,
): Way[] {
  const element = trials.get(upper.id) ?? upper.element;
  const fn = element.functions.find(({ id }) => id === curve.fn.id)!;
  const family = familyOf(fn);
  const choice = family.choices?.(fn).find(({ field, fixed }) => field === 'characteristic' && !fixed);
  if (!choice || !settingOf(curve, 'time') || !family.withChoice) return [];
  return choice.options.flatMap(({ value: characteristic, label }): Way[] => {
    if (characteristic === choice.value || ['own', 'points'].includes(characteristic)) return [];
    const other = family.withChoice!(fn, 'characteristic', characteristic);
    const time = family.settings(other).find(({ role }) => role === 'time');
    const steps = time && stepsOf(time);
    if (!time || !steps) return [];
    const set = (value: number) => family.withSetting(other, time.field, value);
    const holds = (value: number) => {
      const trial = withFunction(element, set(value));
      return (
        pairMargin(studies.network, states, pair, mode, new Map([...trials, [upper.id, trial]])).verdict !== 'short'
      );
    };
    const value = firstStep(steps, holds);
    if (value === null) return [];
    const rating = upper.inputs.find(({ id }) => id === curve.input)!.rating;
    const at = family.timeCurrents!(set(value), rating).find(({ part }) => part === curve.part)!;
    if (ceiling?.atA != null && at.at(ceiling.atA).earliestS > ceiling.value + almost) return [];
    const words = `${curve.code} of ${upper.name} as ${label}, ${time.title.toLowerCase()} ${value}${time.unit && ` ${time.unit}`}`;
    return [{ kind: 'characteristic', functionId: fn.id, characteristic, field: time.field, value, words }];
  });
}

/** Rated primary currents that are tried, in amperes. */
const ratios = primaryCurrents(10, 10_000);

/**
 * The rated primary current nearest to the built one with which a pickup meets all demands. `demandsAt`: what they are with another one; `carries`: what rules ask
 * of it by the load. Multiples of the rated current keep their steps.
 */
export function ratioWays(
  device: Device,
  curve: TimeCurrent,
  { unit }: Setting,
  steps: Steps,
  demandsAt: (primaryA: number) => { readonly atLeastA: number; readonly atMostA: number },
  carries: readonly Demand[],
): Way[] {
  const built = device.inputs.find(({ id }) => id === curve.input)!.rating.primaryA;
  if (device.kind !== 'relay' || unit !== '× In') return [];
  const fits = ratios.filter((primaryA) => {
    if (carries.some(({ value }) => value > primaryA)) return false;
    const { atLeastA, atMostA } = demandsAt(primaryA);
    const value = firstStep(steps, (each) => each * primaryA >= atLeastA * (1 - almost));
    return value !== null && value * primaryA <= atMostA * (1 + almost);
  });
  if (fits.length === 0) return [];
  const farFrom = (primaryA: number) => Math.abs(Math.log(primaryA / built));
  const primaryA = fits.reduce((p, q) => (farFrom(q) < farFrom(p) ? q : p));
  return [{ kind: 'ratio', primaryA, words: `a current transformer of ${plain(primaryA)} A for ${device.name}` }];
}

/** The function restrained by voltage: a pickup that carries what it must, and yet sees the smallest fault, since the voltage is low then. */
export function voltageWays(
  studies: Studies,
  conditions: readonly Condition[],
  device: Device,
  curve: TimeCurrent,
  steps: Steps,
  carriesA: number,
  sees: Demand,
  figures: Figures,
): Way[] {
  const { fn } = curve;
  const input = device.inputs.find(({ id }) => id === curve.input)!;
  if (device.kind !== 'relay' || fn.family !== 'overcurrent' || fn.code !== '51') return [];
  const value = firstStep(steps, (each) => each * input.rating.primaryA >= carriesA * (1 - almost));
  if (value === null) return [];
  const restrained: OvercurrentFunction = {
    ...fn,
    code: '51V',
    pickup: value,
    voltage: { mode: 'restrained', belowPercent: 80, factor: 0.4 },
  };
  const measuring = withVoltage(studies, device, restrained);
  if (!measuring) return [];
  const seen = deviceFigures(studies, measuring, conditions)
    .farEnd.filter(({ kind, seen: { phaseA } }) => kindsFor('phase').includes(kind) && phaseA > nothingA)
    .map((figure) => effectiveCurrent(restrained, figure.seen));
  if (seen.length === 0) return [];
  const asked = asksAnew(sees, { ...figures, smallestFault: { ...figures.smallestFault, value: Math.min(...seen) } });
  if (asked === null || value * input.rating.primaryA > asked * (1 + almost)) return [];
  const words = `51V of ${device.name}, restrained by voltage, pickup ${plain(value)} × In${withTransformer(device)}`;
  return [{ kind: 'voltage', functionId: fn.id, value, words }];
}

/** A direction, where no voltage transformer is there yet: it must see every fault ahead that the function sees now. */
export function directionWays(
  studies: Studies,
  conditions: readonly Condition[],
  device: Device,
  curve: TimeCurrent,
): Way[] {
  if (curve.fn.family !== 'overcurrent') return [];
  const fn = directed(curve.fn);
  const measuring = withVoltage(studies, device, fn);
  if (!measuring) return [];
  const { farEnd, closeIn } = deviceFigures(studies, measuring, conditions);
  const mode = modeOf(curve);
  const ahead = [...farEnd, ...closeIn].filter(
    ({ kind, seen }) => kindsFor(mode).includes(kind) && currentOf(seen, curve.quantity) > curve.pickupA,
  );
  if (ahead.length === 0 || ahead.some(({ seen }) => effectiveCurrent(fn, seen) < curve.pickupA)) return [];
  const words = `${fn.code} of ${device.name}, forward${withTransformer(device)}`;
  return [{ kind: 'direction', functionId: fn.id, words }];
}

const withTransformer = ({ voltageAt }: Device): string => (voltageAt ? '' : ', with a voltage transformer');

/** The device with a function, measuring the voltage where it measures the current if it has no voltage transformer. */
function withVoltage(studies: Studies, device: Device, fn: OvercurrentFunction): Device | null {
  const { through } = mainInput(device)!;
  const ratedKv = nominalKvAt(studies, through);
  if (!device.voltageAt && ratedKv === null) return null;
  return {
    ...device,
    functions: [fn],
    voltageAt: device.voltageAt ?? {
      element: through,
      reversed: false,
      ratedKv: ratedKv!,
      secondaryV: usualSecondaryV,
    },
  };
}
