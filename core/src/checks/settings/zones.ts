/** Zones of distance protection: the first never sees a fault at the far busbar, the second always does, whatever feeds in. */
import { faultKinds, faultKindTitles, solidFault, type FaultCondition, type FaultKind } from '../../faults/kinds';
import { terminalPlace } from '../../faults/iec60909/study';
import { magnitude } from '../../linear/complex';
import { nameOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { ofKind } from '../../model/network';
import type { State } from '../../model/state';
import { inputOf, type Device } from '../../protection/device';
import { inZone, measuredLoops, withZoneK0 } from '../../protection/distance/measured';
import type { DistanceFunction, DistanceZone } from '../../protection/distance/schema';
import type { Loop, LoopName } from '../../protection/distance/loops';
import { parallelOf } from '../../protection/distance';
import { seenUnder } from '../../protection/seen';
import { farEnds } from '../../protection/zone';
import { circuitAt, pathsFrom } from '../../reach/circuits';
import { loopsOfFault } from '../../reach/region';
import { earthFaultOhm } from '../../reach/resistance';
import type { LineEnd } from '../../reach/seen';
import type { Studies } from '../../studies/studies';
import { formula, quantityOf, type Trace } from '../../working/trace';
import { checkRule, digits, type Check, type Context } from '../check';
import { behindIt, deviceSubjects } from '../devices';

export const zonesRule = checkRule<Device>({
  id: 'settings.zones',
  title: 'Zones and the far end',
  advice: {
    'setting.zone1': 'Shorten zone 1: with the errors of relay and transformers it sees faults beyond the far busbar.',
    'setting.zone2': 'Lengthen zone 2: in this condition it does not reach the far busbar with all errors against it.',
  },
  subjects: (context) =>
    deviceSubjects(context, (device) => [device.voltageAt?.element, ...behindIt(context)(device)]).filter(({ value }) =>
      value.functions.some(({ family, enabled }) => family === 'distance' && enabled),
    ),
  test: (context, device, trace) =>
    device.functions.flatMap((fn) =>
      fn.family === 'distance' && fn.enabled && device.voltageAt ? [...ofFunction(context, device, fn, trace)] : [],
    ),
});

/** A state that zones are judged in, and what is said of it beyond its condition. */
interface Judged {
  readonly state: State;
  readonly words: string;
}

/** Lines on common towers with those ahead: in service, out, and out and earthed at both ends, when their current helps or hinders most. */
export function mutualStates({ network }: Studies, condition: ElementId, lines: readonly ElementId[]): Judged[] {
  const beside = ofKind(network, 'lineCoupling').flatMap(({ first, second }) =>
    lines.includes(first) !== lines.includes(second) ? [lines.includes(first) ? second : first] : [],
  );
  const named = (id: ElementId) => nameOf(network.elements.get(id)!);
  return [
    { state: { condition }, words: '' },
    ...[...new Set(beside)].flatMap((line): Judged[] => [
      { state: { condition, outage: line }, words: `, ${named(line)} out` },
      { state: { condition, alterations: { earthed: [line] } }, words: `, ${named(line)} out and earthed` },
    ]),
  ];
}

const solid = faultKinds.map(solidFault);
/** Besides, with the resistance that is usual at the voltage, and with half of it. */
const resistive = (kv: number): FaultCondition[] =>
  [0.5, 1].map((share) => ({ ...solidFault('1ph'), earthOhm: { re: share * earthFaultOhm(kv), im: 0 } }));

/** A loop of a fault at a far end, as a share of the reach. */
interface Sight {
  readonly share: number;
  readonly loop: Loop;
  readonly kind: FaultKind;
  readonly condition: ElementId;
  readonly place: ElementId;
  /** Resistance, and what is out, in words. */
  readonly through: string;
  readonly words: string;
}

/** Far ends of the lines that a device looks into, of a tee all of them. */
export function linesAhead(studies: Studies, device: Device): LineEnd[] {
  const { assembly } = studies.max;
  return farEnds(studies.max, device).flatMap(({ element, terminal }) =>
    studies.network.elements.get(element)?.kind === 'line'
      ? pathsFrom(assembly, circuitAt(studies.network, { line: element }), {
          line: element,
          terminal: 1 - terminal,
        }).map(({ to }) => to)
      : [],
  );
}

/** Beyond so many times its reach a zone is not looked at. */
const farthest = 50;

/** By how much all reaches of a zone must be multiplied until a loop lies in it; {@link farthest} where it does not even then. */
function shareOf(fn: DistanceFunction, zone: DistanceZone, loop: Loop): number {
  if (!inZone(fn, zone, loop, farthest)) return farthest;
  let [low, high] = [0, farthest];
  while (high - low > 1e-9 * high) {
    const middle = (low + high) / 2;
    if (inZone(fn, zone, loop, middle)) high = middle;
    else low = middle;
  }
  return high;
}

function sightsAt(
  studies: Studies,
  states: readonly Judged[],
  faults: readonly FaultCondition[],
  device: Device,
  fn: DistanceFunction,
  zone: DistanceZone,
): Sight[][] {
  const input = inputOf(device, fn.input);
  return states.flatMap(({ state, words }) => {
    const study = studies.iec60909(state);
    return linesAhead(studies, device).flatMap(({ line, terminal }): Sight[][] =>
      seenUnder(study, terminalPlace(line, terminal), faults, [device]).flatMap((seen, k): Sight[][] => {
        const at = seen?.devices[0]?.[input.id];
        if (!at?.vectors) return [];
        const names: readonly LoopName[] = loopsOfFault(faults[k]);
        const parallel = parallelOf(fn, at.inputs);
        const loops = measuredLoops(withZoneK0(fn, zone), input.rating, at.vectors, parallel).filter(({ name }) =>
          names.includes(name),
        );
        if (loops.length === 0) return [];
        const ohm = faults[k].earthOhm.re;
        return [
          loops.map((loop) => ({
            share: shareOf(fn, zone, loop),
            loop,
            kind: faults[k].kind,
            condition: state.condition,
            place: line,
            through: ohm > 0 ? ` through ${digits(ohm)} Ω` : '',
            words: words === '' ? '' : `${words},`,
          })),
        ];
      }),
    );
  });
}

const least = (list: readonly Sight[]): Sight => list.reduce((p, q) => (q.share < p.share ? q : p));

function* ofFunction(
  { studies, conditions }: Context,
  device: Device,
  fn: DistanceFunction,
  trace: Trace,
): Generator<Check> {
  const error = fn.reachErrorPercent / 100;
  const zoneOf = (name: string) =>
    fn.zones.find((zone) => zone.name === name && zone.enabled && zone.looks !== 'reverse');
  const [first, second] = [zoneOf('1'), zoneOf('2')];
  const told = (
    name: 'zone1' | 'zone2',
    sight: Sight,
    over: Pick<Check, 'bound' | 'sense' | 'verdict' | 'message'>,
  ): Check => {
    trace.section(`${device.name}, 21`, device.id);
    trace.step(
      'Z/Zr',
      formula`${quantityOf(`|Z${sight.loop.name}|`, magnitude(sight.loop.impedance!), 'Ω')} / ${quantityOf('reach towards it', magnitude(sight.loop.impedance!) / sight.share, 'Ω')}`,
      sight.share,
    );
    return {
      id: `${name} ${device.id} ${fn.id}`,
      rule: 'settings.zones',
      code: `setting.${name}`,
      subject: device.id,
      title: name === 'zone1' ? 'Zone 1 within the line' : 'Zone 2 covers the line',
      value: sight.share,
      unit: '',
      deciding: { condition: sight.condition, kind: sight.kind, place: sight.place },
      severity: 'error',
      ...over,
    };
  };
  const lines = linesAhead(studies, device).flatMap(({ line }) => circuitAt(studies.network, { line }).lines);
  const plain = conditions.map(({ id: condition }): Judged => ({ state: { condition }, words: '' }));
  if (first) {
    const states = conditions.flatMap(({ id }) => mutualStates(studies, id, lines));
    const faults = [...solid, ...resistive(device.voltageAt!.ratedKv)];
    const all = sightsAt(studies, states, faults, device, fn, first).flat();
    if (all.length > 0) {
      const worst = least(all);
      const sees = worst.share <= 1 + error;
      const kind = faultKindTitles[worst.kind];
      yield told('zone1', worst, {
        bound: 1 + error,
        sense: 'atLeast',
        verdict: sees ? 'short' : 'holds',
        message: `${device.name}: a ${kind} fault${worst.through} at the far busbar${worst.words} comes to ${digits(worst.share)} of the reach of zone 1${sees ? `, which with ${digits(100 * error)} % of error sees it` : ''}`,
      });
    }
  }
  if (second) {
    // Of each fault the loop that is seen best.
    const faults = sightsAt(studies, plain, solid, device, fn, second);
    const looked = faults.map(least);
    if (looked.length > 0) {
      const worst = looked.reduce((p, q) => (q.share > p.share ? q : p));
      const misses = worst.share > 1 - error;
      const kind = faultKindTitles[worst.kind];
      const isBlind = worst.share >= farthest;
      yield told('zone2', worst, {
        bound: 1 - error,
        sense: 'atMost',
        verdict: misses ? 'short' : 'holds',
        message: `${device.name}: a ${kind} fault at the far busbar ${
          isBlind
            ? 'is not seen by zone 2, however far it reaches'
            : `comes to ${digits(worst.share)} of the reach of zone 2`
        }${misses && !isBlind ? `, which with ${digits(100 * error)} % of error does not see it` : ''}`,
      });
    }
  }
}
