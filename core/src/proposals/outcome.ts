/** What a proposal comes to: values beside the stored ones, conflicts, measures. */
import type { ElementId } from '../model/fields';
import { find } from '../model/network';
import { nextPrimaryA } from '../model/standardSizes';
import {
  deviceFrom,
  deviceOf,
  mainInput,
  timeCurrents,
  withFunctions,
  type Device,
  type DeviceElement,
} from '../protection/device';
import { tolerance } from '../grading/least';
import { familyOf } from '../protection/registry';
import { flowIn } from '../studies/loads';
import { settingWords } from './complete';
import { demandsOf } from './demand';
import { kindsBehind } from './figures';
import { valueNow } from './origin';
import {
  widerS,
  type Measures,
  type Proposal,
  type ProposedPart,
  type ProposedRatio,
  type ProposedValue,
} from './proposal';
import { almost, type Work, type Change } from './work';

export function outcome(work: Work): Proposal {
  const { given } = work.ground;
  const values: ProposedValue[] = [];
  const elements: DeviceElement[] = [];
  for (const device of work.devices) {
    const own = [...work.changes.values()].filter((each) => each.device === device.id);
    const plain = own
      .filter(({ functionId }) => !given.has(`${device.id} ${functionId}`))
      .map((change) => valueOf(work, device, change));
    const wholes = device.functions
      .filter(({ id }) => given.has(`${device.id} ${id}`))
      .flatMap(({ id }) => wholeOf(work, device, id, own) ?? []);
    values.push(...plain, ...wholes);
    // What was added and found no room is not added.
    const added = new Set(wholes.map(({ functionId }) => functionId));
    const { functions } = storedOf(work, device);
    const element = work.trials.get(device.id) ?? device.element;
    const kept = element.functions.filter(({ id }) => added.has(id) || functions.some((fn) => fn.id === id));
    if (wholes.length > 0 || plain.some(({ from, to }) => from !== to)) elements.push(withFunctions(element, kept));
  }
  const changed = values.filter(({ from, to }) => from !== to);
  return {
    strategy: work.options.strategy,
    book: work.book.name,
    values,
    conflicts: [...work.conflicts].sort(([p], [q]) => (p < q ? -1 : 1)).map(([, each]) => each),
    leftOut: work.leftOut,
    remarks: remarks(work),
    ratios: ratios(work),
    elements,
    measures: { ...measures(work), devicesTouched: elements.length, valuesChanged: changed.length },
  };
}

function storedOf(work: Work, device: Device): DeviceElement {
  return deviceOf(work.ground.stored, device.id)!.element;
}

function valueOf(work: Work, device: Device, { functionId, field, setting, steps, by }: Change): ProposedValue {
  const trial = work.trials.get(device.id)!;
  const [before, after] = [storedOf(work, device), trial].map((of) =>
    of.functions.find(({ id }) => id === functionId)!,
  );
  const curves = timeCurrents(device).filter(({ fn }) => fn.id === functionId);
  const curve = timeCurrents(deviceFrom(work.studies.network, trial)!).find(
    ({ fn, part }) => fn.id === functionId && part === setting?.part,
  );
  return {
    device: device.id,
    deviceName: device.name,
    functionId,
    code: curve?.code ?? curves[0]?.code ?? familyOf(after).code(after),
    field,
    title: setting?.title ?? 'In use',
    unit: setting?.unit ?? '',
    from: valueNow(before, field)!,
    to: valueNow(after, field)!,
    primaryA: setting?.role === 'pickup' ? (curve?.pickupA ?? null) : null,
    by,
    isTypical: steps?.isTypical ?? false,
  };
}

/** A function that is added or given a direction, in one; null where there is no room for one that was to be added. */
function wholeOf(work: Work, device: Device, functionId: ElementId, own: readonly Change[]): ProposedValue | null {
  const before = storedOf(work, device).functions.find(({ id }) => id === functionId);
  const fn = work.fnOf(device, functionId);
  if (!fn.enabled) return null;
  const parts = own
    .filter((change) => change.functionId === functionId)
    .map(({ field, by }): ProposedPart => ({ field, value: valueNow(fn, field)!, by }));
  const asking = [...work.ground.given.get(`${device.id} ${functionId}`)!, ...parts.flatMap(({ by }) => by)];
  return {
    device: device.id,
    deviceName: device.name,
    functionId,
    code: familyOf(fn).code(fn),
    field: before ? 'direction' : 'function',
    title: before ? 'Direction' : 'Function added',
    unit: '',
    from: before ? `${familyOf(before).code(before)}, ${settingWords(before)}` : 'none',
    to: `${before ? 'forward, ' : ''}${settingWords(fn)}`,
    primaryA: null,
    by: asking.filter(({ title }, k) => asking.findIndex((other) => other.title === title) === k),
    isTypical: false,
    whole: { fn, parts },
  };
}

/** A load that is not known asks nothing: whoever takes the pickups must know. */
function remarks(work: Work): string[] {
  return work.conditions
    .filter(({ id }) => !flowIn(work.studies, id).converged)
    .map(({ name }) => `${name}: the load flow has no solution, no load of this condition is counted`);
}

function ratios(work: Work): ProposedRatio[] {
  const { network } = work.studies;
  const found = new Map<ElementId, ProposedRatio>();
  for (const device of work.devices) {
    const ct = find(network, 'currentTransformer', mainInput(device)!.through);
    if (!ct) continue;
    const kinds = kindsBehind(work.plantOf(device));
    const demands = demandsOf(work.book, 'currentTransformer', kinds, 'primary', work.figures(device, 'phase'));
    const lower = demands.filter(({ sense }) => sense === 'atLeast');
    if (lower.length === 0) continue;
    const by = lower.reduce((p, q) => (q.value > p.value ? q : p));
    if (by.value <= ct.primaryA * (1 + almost) || by.value <= (found.get(ct.id)?.by.value ?? 0)) continue;
    const to = nextPrimaryA(by.value);
    found.set(ct.id, { ct: ct.id, ctName: ct.name, deviceName: device.name, from: ct.primaryA, to, by });
  }
  return [...found.values()];
}

function measures(work: Work): Pick<Measures, 'worstMarginS' | 'slowestS' | 'pairs' | 'pairsShort'> {
  let worstMarginS: number | null = null;
  let pairsShort = 0;
  const beyond = work.options.strategy === 'widest' ? widerS : 0;
  for (const judged of work.pairs) {
    const { decisive, wantedS, verdict } = work.final.get(judged.key)!;
    // What only lacks the width that was wished for is met.
    const isShort = verdict === 'short' && !(decisive && decisive.marginS >= wantedS - beyond - tolerance);
    if (isShort) pairsShort++;
    if (decisive) worstMarginS = Math.min(worstMarginS ?? Infinity, decisive.marginS - (wantedS - beyond));
  }
  const times = work.devices.flatMap((device) => {
    const curves = timeCurrents(work.now(device)).filter(({ quantity }) => quantity === 'phase');
    const largest = curves.length > 0 ? work.figures(device, 'phase').largestFault.value : null;
    const timeS = largest === null ? Infinity : Math.min(...curves.map(({ at }) => at(largest).earliestS));
    return Number.isFinite(timeS) ? [timeS] : [];
  });
  return {
    worstMarginS,
    slowestS: times.length > 0 ? Math.max(...times) : null,
    pairs: work.pairs.length,
    pairsShort,
  };
}
