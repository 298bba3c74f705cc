/** Margins of the pairs on the project's charts. */
import { pairMargin, pairStates, type PairMargin } from '../../grading/margin';
import { marginWords } from '../../grading/network';
import { settingsOf, ofKind } from '../../model/network';
import type { GradingChart, GradingPair } from '../../model/protection';
import { curvesOf } from '../../protection/curve';
import { deviceOf, type Device } from '../../protection/device';
import type { DeviceSeen } from '../../protection/family';
import { familyOf } from '../../protection/registry';
import { formula, quantityOf, type Trace } from '../../working/trace';
import { checkRule, type Check, type CheckVerdict, type Context, type Subject } from '../check';

interface Pair {
  readonly chart: GradingChart;
  readonly pair: GradingPair;
}

const verdictOf: Readonly<Record<PairMargin['verdict'], CheckVerdict>> = {
  holds: 'holds',
  short: 'short',
  blind: 'short',
  noBackup: 'doubtful',
  unknown: 'doubtful',
};

export const pairsRule = checkRule<Pair>({
  id: 'grading.pairs',
  title: 'Grading margin',
  advice: {
    'grading.short': 'Raise the upper curve or lower the lower one; the bench proposes a setting.',
    'grading.blind': 'Lower the pickup of the device that does not see the fault.',
    'grading.noBackup': 'Lower the pickup of the upstream device, or accept that it gives no backup here.',
    'grading.unknown': 'Check the current transformers of both devices, and the supply.',
  },
  subjects: ({ network }) =>
    ofKind(network, 'gradingChart').flatMap((chart) =>
      chart.pairs.map((pair): Subject<Pair> => {
        const elements = [pair.downstream, pair.upstream].map((id) => network.elements.get(id));
        const inputs = [pair.downstream, pair.upstream].flatMap((id) => {
          const device = deviceOf(network, id);
          const places = device ? [...device.inputs.map(({ through }) => through), ...device.opens] : [];
          return places.map((place) => network.elements.get(place));
        });
        return {
          key: `${chart.id} ${pair.downstream} ${pair.upstream}`,
          value: { chart, pair },
          on: [chart, settingsOf(network), ...elements, ...inputs],
        };
      }),
    ),
  test(context, { chart, pair }, trace): Check[] {
    const { network, studies, conditions } = context;
    const below = deviceOf(network, pair.downstream);
    const above = deviceOf(network, pair.upstream);
    if (!below || !above) return [];
    const states = pairStates(studies, below, above, chart.mode, conditions);
    const margin = pairMargin(network, states, pair, chart.mode);
    writeWorking(context, [below, above], margin, trace);
    const { decisive, wantedS, verdict } = margin;
    const what = marginWords(margin);
    return [
      {
        id: `pair ${chart.id} ${pair.downstream} ${pair.upstream}`,
        rule: 'grading.pairs',
        code: `grading.${verdict}`,
        subject: chart.id,
        elements: [below.id, above.id],
        title: `Margin ${below.name} → ${above.name}, ${chart.mode} faults`,
        value: decisive?.marginS ?? null,
        bound: wantedS,
        unit: 's',
        sense: 'atLeast',
        deciding: decisive && { condition: decisive.condition, kind: decisive.kind },
        verdict: verdictOf[verdict],
        severity: verdict === 'short' || verdict === 'blind' ? 'error' : 'warning',
        message: `${below.name} → ${above.name}, ${chart.mode} faults: ${what}`,
      },
    ];
  },
});

/** Both operating times at the decisive currents, by the functions that trip there, and their difference. */
function writeWorking(
  { network, studies, conditions }: Context,
  devices: readonly [Device, Device],
  { decisive, pair, wantedS }: PairMargin,
  trace: Trace,
): void {
  if (!decisive) return;
  const chart = ofKind(network, 'gradingChart').find(({ pairs }) => pairs.includes(pair));
  if (!chart) return;
  const state = pairStates(studies, ...devices, chart.mode, conditions).find(
    ({ kind, condition }) => kind === decisive.kind && condition === decisive.condition,
  )!;
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
