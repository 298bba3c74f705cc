/** The slowest setting of a device that keeps an energy below what is wanted, as long as it still waits for those behind it. */
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { nameIn, withElements } from '../model/network';
import { askedPairs } from '../grading/network';
import { pairMargin, pairStates } from '../grading/margin';
import { deviceOf, withFunction } from '../protection/device';
import type { Setting } from '../protection/family';
import { familyOf } from '../protection/registry';
import { snap } from '../protection/settings/range';
import { Studies } from '../studies/studies';
import { caloriesOf } from './clothing';
import { ArcKeeper, decidingCase, type ArcRow } from './study';

export interface ArcProposal {
  readonly device: ElementId;
  readonly function: ElementId;
  readonly field: string;
  readonly title: string;
  readonly unit: string;
  readonly from: number;
  readonly to: number;
  readonly beforeCal: number;
  readonly afterCal: number;
}

export type ArcProposed =
  { readonly ok: true; readonly proposal: ArcProposal } | { readonly ok: false; readonly why: string };

/** Yields the share that is done. `row`: the place as it stands. */
export function* proposeArc(
  studies: Studies,
  conditions: readonly Condition[],
  row: ArcRow,
  wantedCal: number,
): Generator<number, ArcProposed> {
  const { network } = studies;
  const refuse = (why: string): ArcProposed => ({ ok: false, why });
  if (!row.worst) return refuse('Nothing feeds an arc here.');
  const beforeCal = caloriesOf(decidingCase(row.worst).energy);
  if (beforeCal <= wantedCal) return refuse(`It is ${figure(beforeCal)} cal/cm² already.`);
  const { governing } = decidingCase(row.worst);
  if (!governing) return refuse('Nothing clears it within the longest time: no setting of a device decides.');
  const device = deviceOf(network, governing.device);
  const fn = device?.functions.find(({ id }) => id === governing.fn);
  const setting =
    fn &&
    familyOf(fn)
      .settings(fn)
      .find((each): each is Setting => each.role === 'time');
  const name = `${nameIn(network, governing.device)}, ${governing.code}`;
  if (!device || !fn || !setting?.range) return refuse(`${name} decides, and has no time to set.`);
  const { range } = setting;
  const keeper = new ArcKeeper();
  const options = { compare: false, only: [row.spot.bus] };
  const tried = (value: number) =>
    withElements(network, [withFunction(device.element, familyOf(fn).withSetting(fn, setting.field, value))]);
  const energyAt = (value: number): number => {
    const next = new Studies(tried(value), { studies, changed: [device.id] });
    const steps = keeper.run(next, conditions, options);
    let step = steps.next();
    while (!step.done) step = steps.next();
    const found = step.value.find(({ spot }) => spot.key === row.spot.key)?.worst;
    return found ? caloriesOf(decidingCase(found).energy) : Infinity;
  };
  const fastest = energyAt(range.min);
  yield 0.1;
  if (fastest > wantedCal)
    return refuse(
      `${name}: even at ${figure(range.min)} ${setting.unit} it is ${figure(fastest)} cal/cm². A faster stage, or another device, has to clear it.`.replace(
        '  ',
        ' ',
      ),
    );
  // A slower setting never gives less energy: the largest one below is found by halving the steps.
  let [low, high] = [0, Math.round((setting.value - range.min) / range.step)];
  let done = 0;
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (energyAt(snap(range, range.min + middle * range.step)) <= wantedCal) low = middle;
    else high = middle;
    yield Math.min(0.1 + 0.08 * ++done, 0.8);
  }
  const to = snap(range, range.min + low * range.step);
  const afterCal = energyAt(to);
  const lost = selectivityLost(studies, tried(to), conditions, device.id);
  if (lost)
    return refuse(
      `${name} at ${figure(to)} ${setting.unit} would bring it to ${figure(afterCal)} cal/cm², and would no longer wait for ${lost}.`.replace(
        '  ',
        ' ',
      ),
    );
  return {
    ok: true,
    proposal: {
      device: device.id,
      function: fn.id,
      field: setting.field,
      title: setting.title,
      unit: setting.unit,
      from: setting.value,
      to,
      beforeCal,
      afterCal,
    },
  };
}

/** Devices that the changed one waits for as it is stored, and would not as it is tried. */
function selectivityLost(
  studies: Studies,
  tried: Studies['network'],
  conditions: readonly Condition[],
  device: ElementId,
): string | null {
  const { network } = studies;
  const changed = new Map([[device, deviceOf(tried, device)!.element]]);
  for (const { pair, mode, ruling } of askedPairs(studies, conditions)) {
    if (pair.upstream !== device || ruling?.graded === false) continue;
    const [below, above] = [deviceOf(network, pair.downstream), deviceOf(network, pair.upstream)];
    if (!below || !above) continue;
    const states = pairStates(studies, below, above, mode, conditions);
    if (pairMargin(network, states, pair, mode).verdict === 'short') continue;
    if (pairMargin(network, states, pair, mode, changed).verdict === 'short') return below.name;
  }
  return null;
}

const figure = (value: number): string => String(Number(value.toPrecision(3)));
