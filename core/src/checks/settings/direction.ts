/** Whether pickups tell faults ahead from faults behind, and directional functions look where their device stands for. */
import { deviceFigures, kindsFor, nothingA, type FaultFigure } from '../../grading/figures';
import { directionRoom, largestBehind } from '../../grading/directions';
import { faultKindTitles } from '../../faults/kinds';
import { quantityOfMode } from '../../protection/curve';
import { currentOf, mainInput, timeCurrents, type Device } from '../../protection/device';
import { formula, quantityOf, type Trace } from '../../working/trace';
import { checkRule, digits, type Check, type Context } from '../check';
import { deviceSubjects } from '../devices';

const modes = ['phase', 'earth'] as const;
type Mode = (typeof modes)[number];

export const directionRule = checkRule<Device>({
  id: 'settings.direction',
  title: 'Faults ahead and behind',
  advice: {
    'setting.direction':
      'Give the function a direction and the relay a voltage transformer, or split the supply: no pickup tells the two apart.',
    'setting.polarity':
      'Check the direction it looks into, the polarity of its current transformer and of its voltage transformer.',
  },
  subjects: (context) => deviceSubjects(context, ({ voltageAt }) => [voltageAt?.element]),
  test: (context, device, trace) => modes.flatMap((mode) => [...ofMode(context, device, mode, trace)]),
});

function* ofMode({ studies, conditions }: Context, device: Device, mode: Mode, trace: Trace): Generator<Check> {
  const quantity = quantityOfMode[mode];
  const main = mainInput(device);
  // A link melts whichever way the current flows, and opens its own place only.
  if (!main || device.kind === 'fuse') return;
  const functions = timeCurrents(device).filter((fn) => fn.quantity === quantity && fn.input === main.id);
  if (functions.length === 0) return;
  const figures = deviceFigures(studies, device, conditions);
  const sized = (list: readonly FaultFigure[]) =>
    list
      .filter(({ kind }) => kindsFor(mode).includes(kind))
      .map((figure) => ({ figure, ampere: currentOf(figure.seen, quantity) }))
      .filter(({ ampere }) => ampere > nothingA);
  const plain = functions.filter(({ measure, accuracy }) => !measure && accuracy !== null);
  const behind = sized(figures.behind).sort((p, q) => q.ampere - p.ampere)[0];
  const ahead = sized(figures.farEnd).sort((p, q) => p.ampere - q.ampere)[0];
  if (plain.length > 0 && behind && ahead) {
    const by = plain.reduce((p, q) => (q.pickupA < p.pickupA ? q : p));
    const needs = directionRoom(behind.ampere, ahead.ampere, by.pickupA);
    trace.section(`${device.name}, ${by.code}`, device.id);
    trace.step(
      'Iahead/Ibehind',
      formula`${quantityOf('Iahead', ahead.ampere, 'A')} / ${quantityOf('Ibehind', behind.ampere, 'A')}`,
      ahead.ampere / behind.ampere,
    );
    yield {
      id: `direction ${device.id} ${mode}`,
      rule: 'settings.direction',
      code: 'setting.direction',
      subject: device.id,
      title: `Faults behind ${device.name}, ${mode} faults`,
      value: behind.ampere,
      bound: largestBehind(ahead.ampere, by.pickupA),
      unit: 'A',
      sense: 'atMost',
      deciding: { condition: behind.figure.condition, kind: behind.figure.kind, place: behind.figure.place },
      verdict: needs === 'direction' ? 'doubtful' : 'holds',
      severity: 'warning',
      message: `${device.name}, ${by.code}: a ${faultKindTitles[behind.figure.kind]} fault behind it drives ${digits(behind.ampere)} A backward, the smallest ahead is ${digits(ahead.ampere)} A, pickup ${digits(by.pickupA)} A`,
    };
  }
  const looking = functions.filter(({ measure, fn }) => measure && looksForward(fn));
  const close = sized(figures.closeIn).filter(({ ampere }) => looking.some(({ pickupA }) => ampere >= pickupA));
  if (looking.length === 0 || close.length === 0 || device.voltageAt === null) return;
  const seesAny = close.some(({ figure }) => looking.some((fn) => fn.measure!(figure.seen) >= fn.pickupA));
  const most = close.reduce((p, q) => (q.ampere > p.ampere ? q : p));
  yield {
    id: `polarity ${device.id} ${mode}`,
    rule: 'settings.direction',
    code: 'setting.polarity',
    subject: device.id,
    title: `Direction of ${looking[0].code}`,
    value: null,
    bound: null,
    unit: 'A',
    sense: 'atLeast',
    deciding: { condition: most.figure.condition, kind: most.figure.kind, place: most.figure.place },
    verdict: seesAny ? 'holds' : 'short',
    severity: 'error',
    message: seesAny
      ? `${device.name}, ${looking[0].code}: sees faults ahead`
      : `${device.name}, ${looking[0].code}: looks forward, yet takes every fault just ahead of it, up to ${digits(most.ampere)} A, for one behind`,
  };
}

const looksForward = (fn: object): boolean =>
  'direction' in fn && (fn.direction as { looks?: string } | null)?.looks === 'forward';
