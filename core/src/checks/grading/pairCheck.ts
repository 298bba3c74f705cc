/** The margin of one pair as a check, with its working. */
import type { PairMargin, PairState } from '../../grading/margin';
import { marginWords } from '../../grading/network';
import type { GradingPair, Measured } from '../../model/chart';
import type { ElementId } from '../../model/fields';
import { find, type Network } from '../../model/network';
import { curvesOf } from '../../protection/curve';
import { deviceOf, type Device } from '../../protection/device';
import type { DeviceSeen } from '../../protection/family';
import { familyOf } from '../../protection/registry';
import { formula, quantityOf, type Trace } from '../../working/trace';
import type { Check, CheckVerdict } from '../check';

export const pairAdvice = {
  'grading.short': 'Raise the upper curve or lower the lower one; the bench proposes a setting.',
  'grading.blind': 'Lower the pickup of the device that does not see the fault.',
  'grading.noBackup': 'Lower the pickup of the upstream device, or accept that it gives no backup here.',
  'grading.unknown': 'Check the current transformers of both devices, and the supply.',
} as const;

const verdictOf: Readonly<Record<PairMargin['verdict'], CheckVerdict>> = {
  holds: 'holds',
  short: 'short',
  blind: 'short',
  noBackup: 'doubtful',
  unknown: 'doubtful',
};

/** Tells what a margin depends on: both devices, where they measure and what they open. Each device is looked up once. */
export function pairElements(network: Network): (pair: Pick<GradingPair, 'downstream' | 'upstream'>) => unknown[] {
  const known = new Map<ElementId, unknown[]>();
  const of = (id: ElementId): unknown[] => {
    let elements = known.get(id);
    if (!elements) {
      const device = deviceOf(network, id);
      const places = device ? [...device.inputs.map(({ through }) => through), ...device.opens] : [];
      known.set(id, (elements = [id, ...places].map((each) => network.elements.get(each))));
      // What is listed for its type counts too.
      elements.push(find(network, 'libraryEntry', (find(network, 'switch', id)?.entry ?? null) as ElementId | null));
    }
    return elements;
  };
  return ({ downstream, upstream }) => [...of(downstream), ...of(upstream)];
}

export function pairCheck(
  rule: string,
  subject: ElementId,
  key: string,
  mode: Measured,
  devices: readonly [Device, Device],
  states: readonly PairState[],
  margin: PairMargin,
  trace: Trace,
): Check {
  const [below, above] = devices;
  writeWorking(devices, states, margin, trace);
  const { decisive, wantedS, verdict } = margin;
  return {
    id: `pair ${key}`,
    rule,
    code: `grading.${verdict}`,
    subject,
    elements: [below.id, above.id],
    title: `Margin ${below.name} → ${above.name}, ${mode} faults`,
    value: decisive?.marginS ?? null,
    bound: wantedS,
    unit: 's',
    sense: 'atLeast',
    deciding: decisive && { condition: decisive.condition, kind: decisive.kind },
    verdict: verdictOf[verdict],
    severity: verdict === 'short' || verdict === 'blind' ? 'error' : 'warning',
    message: `${below.name} → ${above.name}, ${mode} faults: ${marginWords(margin)}`,
  };
}

/** Both operating times at the decisive currents, by the functions that trip there, and their difference. */
function writeWorking(
  devices: readonly [Device, Device],
  states: readonly PairState[],
  { decisive, wantedS }: PairMargin,
  trace: Trace,
): void {
  const state =
    decisive && states.find(({ kind, condition }) => kind === decisive.kind && condition === decisive.condition);
  if (!state) return;
  const times = devices.map((device, k) => {
    const seen: DeviceSeen = k === 0 ? state.downstream : state.upstream;
    const code = k === 0 ? decisive.downstreamBy : decisive.upstreamBy;
    const tripping = curvesOf(device).functions.find((fn) => fn.code === code)!;
    const input = device.inputs.find(({ id }) => id === tripping.input)!;
    const { phaseA, residualA, negativeA } = seen[input.id];
    const at = decisive.scale;
    trace.section(`${device.name}, ${code}`, device.id);
    familyOf(tripping.fn).respond?.(
      tripping.fn,
      input.rating,
      { phaseA: phaseA * at, residualA: residualA * at, negativeA: negativeA * at },
      trace,
    );
    return quantityOf(k === 0 ? 't1' : 't2', k === 0 ? decisive.downstreamS : decisive.upstreamS, 's');
  });
  trace.section('Margin');
  const margin = trace.step('Δt', formula`${times[1]} - ${times[0]}`, decisive.marginS, 's');
  trace.step(
    'Δt - Δt,required',
    formula`${margin} - ${quantityOf('Δt,required', wantedS, 's')}`,
    decisive.marginS - wantedS,
    's',
  );
}
