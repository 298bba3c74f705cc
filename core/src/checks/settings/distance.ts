/**
 * Distance protection beside what stands around it: the load of the line in an emergency stays outside of all zones, zone 2 and 3 wait for those of the lines
 * that follow wherever they reach into them, and earth faults with the resistance usual at the voltage are seen.
 */
import { solidFault } from '../../faults/kinds';
import { magnitude } from '../../linear/complex';
import { find, settingsOf, type Network } from '../../model/network';
import { devicesOf, inputOf, type Device } from '../../protection/device';
import { tripOf } from '../../protection/distance';
import type { DistanceFunction } from '../../protection/distance/schema';
import { seenUnder } from '../../protection/seen';
import { farEnds } from '../../protection/zone';
import { circuitAt, isSameEnd, pathsFrom } from '../../reach/circuits';
import { loadAngleDeg, loadOhm, reachAlong, characteristicOf } from '../../reach/loadability';
import { placeOn } from '../../reach/ends';
import { earthFaultOhm } from '../../reach/resistance';
import type { LineEnd } from '../../reach/seen';
import { toSecondary } from '../../protection/distance/loops';
import type { Studies } from '../../studies/studies';
import { formula, quantityOf, type Trace } from '../../working/trace';
import { checkRule, digits, type Check, type Context } from '../check';
import { behindIt, deviceSubjects } from '../devices';

export const distanceRule = checkRule<Device>({
  id: 'settings.distance',
  title: 'Distance protection, load and neighbours',
  advice: {
    'setting.zoneLoad': 'Narrow the resistance of the zone, cut the load out, or shorten the zone.',
    'setting.zoneTiming': 'Shorten the zone, or delay it beyond the zone of the line that follows.',
    'setting.zoneResistance':
      'Widen the resistance of earth loops, or rely on directional earth-fault protection for such faults.',
  },
  subjects: (context) =>
    deviceSubjects(context, (device) => [
      device.voltageAt?.element,
      ...behindIt(context)(device),
      ...followers(context.studies, device).map(({ device: { id } }) => id),
    ]).filter(({ value }) => fnOf(value) && value.voltageAt),
  test: (context, device, trace) => {
    const fn = fnOf(device)!;
    const [end] = endsOf(context.studies, device);
    if (!end) return [];
    return [
      ...ofLoad(context, device, fn, end, trace),
      ...ofTiming(context, device, fn, trace),
      ...ofResistance(context, device, fn, end, trace),
    ];
  },
});

const fnOf = ({ functions }: Device) =>
  functions.find((each): each is DistanceFunction => each.family === 'distance' && each.enabled);

/** Ends of lines that a device looks into. */
const endsOf = (studies: Studies, device: Device): LineEnd[] =>
  farEnds(studies.max, device).flatMap(({ element, terminal }) =>
    studies.network.elements.get(element)?.kind === 'line' ? [{ line: element, terminal: 1 - terminal }] : [],
  );

interface Standing {
  readonly device: Device;
  readonly fn: DistanceFunction;
  readonly end: LineEnd;
}

const known = new WeakMap<Network, readonly Standing[]>();

/** All distance relays with the line ends that they look into; found once for a model. */
function distanceRelays(studies: Studies): readonly Standing[] {
  const { network } = studies;
  let all = known.get(network);
  if (!all) {
    all = devicesOf(network).flatMap((device): Standing[] => {
      const fn = fnOf(device);
      const [end] = fn ? endsOf(studies, device) : [];
      return fn && end ? [{ device, fn, end }] : [];
    });
    known.set(network, all);
  }
  return all;
}

interface Follower extends Standing {
  /** From the device to the busbar where it stands, in ohms. */
  readonly toOhm: number;
}

/** Distance relays of the lines that follow those of a device; a line that leads back to its own busbar is none. */
function followers(studies: Studies, device: Device): readonly Follower[] {
  const [end] = fnOf(device) ? endsOf(studies, device) : [];
  if (!end) return [];
  const { network, max } = studies;
  const { assembly } = max;
  const nodeOf = ({ line, terminal }: LineEnd) => assembly.topology.nodeAt(line, terminal);
  const own = circuitAt(network, end);
  const home = nodeOf(end);
  return pathsFrom(assembly, own, end).flatMap(({ to, ohm }) =>
    distanceRelays(studies).flatMap((other): Follower[] => {
      if (nodeOf(other.end) !== nodeOf(to) || own.ends.some((each) => isSameEnd(each, other.end))) return [];
      const leadsOn = circuitAt(network, other.end).ends.some(
        (each) => nodeOf(each) !== nodeOf(to) && nodeOf(each) !== home,
      );
      return leadsOn ? [{ ...other, toOhm: magnitude(ohm) }] : [];
    }),
  );
}

const secondaryOf = (device: Device, fn: DistanceFunction): number => {
  const { voltageAt } = device;
  const { rating } = inputOf(device, fn.input);
  return voltageAt ? toSecondary(rating, { primaryKv: voltageAt.ratedKv, secondaryV: voltageAt.secondaryV }) : 1;
};

const common = (device: Device, fn: DistanceFunction, name: string): Pick<Check, 'id' | 'rule' | 'subject'> => ({
  id: `${name} ${device.id} ${fn.id}`,
  rule: 'settings.distance',
  subject: device.id,
});

/** What lies below this multiple of the load is told as a warning. */
const wantedOverLoad = 1.15;

function* ofLoad(
  { network }: Context,
  device: Device,
  fn: DistanceFunction,
  end: LineEnd,
  trace: Trace,
): Generator<Check> {
  const line = find(network, 'line', end.line)!;
  const ampere = line.emergencyA ?? line.ratedA;
  const { ratedKv } = device.voltageAt!;
  if (ampere === null) return;
  const secondary = secondaryOf(device, fn);
  const load = loadOhm(ratedKv, ampere * line.circuits);
  const reaches = fn.zones
    .filter(({ enabled, looks }) => enabled && looks !== 'reverse')
    .map((zone) => {
      const reach = zone.reachOhm / secondary;
      const shape = { reach, resistance: zone.resistanceOhm / secondary, angleDeg: fn.lineAngleDeg };
      return { name: zone.name, ohm: reachAlong(characteristicOf(fn, shape, secondary)) };
    });
  if (reaches.length === 0) return;
  const worst = reaches.reduce((p, q) => (q.ohm > p.ohm ? q : p));
  const factor = load / worst.ohm;
  trace.section(`${device.name}, 21`, device.id);
  trace.step(
    'Zload/Z',
    formula`${quantityOf('Zload', load, 'Ω')} / ${quantityOf(`reach of zone ${worst.name} at ${loadAngleDeg}°`, worst.ohm, 'Ω')}`,
    factor,
  );
  yield {
    ...common(device, fn, 'zoneLoad'),
    code: 'setting.zoneLoad',
    title: 'Load outside of all zones',
    value: factor,
    bound: wantedOverLoad,
    unit: '× reach',
    sense: 'atLeast',
    deciding: null,
    verdict: factor < 1 ? 'short' : factor < wantedOverLoad ? 'doubtful' : 'holds',
    severity: factor < 1 ? 'error' : 'warning',
    message: `${device.name}: at 0.85 of the nominal voltage the emergency load of ${line.name}, ${digits(load)} Ω, is ${digits(factor)} × the reach of zone ${worst.name} at ${loadAngleDeg}°`,
  };
}

/** Reaches on the steps of relays differ by so much of what they are meant to be. */
const stepShare = 0.005;

/** Zones 2 and 3 against zones 1 and 2 of each line that follows: what reaches past the end of that zone waits for the next one. */
function* ofTiming(
  { studies, network }: Context,
  device: Device,
  fn: DistanceFunction,
  trace: Trace,
): Generator<Check> {
  const wanted = settingsOf(network).wantedMarginS;
  const secondary = secondaryOf(device, fn);
  for (const other of followers(studies, device)) {
    for (const level of [2, 3] as const) {
      const zone = zoneOf(fn, level);
      const [before, after] = [zoneOf(other.fn, level - 1), zoneOf(other.fn, level)];
      if (!zone || !before) continue;
      const reach = zone.reachOhm / secondary;
      const otherSecondary = secondaryOf(other.device, other.fn);
      const ends = other.toOhm + before.reachOhm / otherSecondary;
      const isPast = reach > ends * (1 + stepShare);
      // Past its end the next zone clears; within it, that zone itself.
      const against = isPast && after ? after : before;
      const margin = zone.delayS - against.delayS;
      trace.section(`${device.name} → ${other.device.name}`, device.id);
      trace.step(
        'margin',
        formula`${quantityOf(`zone ${zone.name}`, zone.delayS, 's')} - ${quantityOf(`zone ${against.name}`, against.delayS, 's')}`,
        margin,
        's',
      );
      const holds = margin >= wanted - 1e-9;
      yield {
        ...common(device, fn, `zoneTiming${level} ${other.device.id}`),
        code: 'setting.zoneTiming',
        elements: [device.id, other.device.id],
        title: `Zone ${level} waits for ${other.device.name}`,
        value: margin,
        bound: wanted,
        unit: 's',
        sense: 'atLeast',
        deciding: null,
        verdict: holds ? 'holds' : 'short',
        severity: 'error',
        message: `${device.name}: zone ${level} of ${digits(reach)} Ω ${isPast ? 'reaches past' : 'ends within'} zone ${before.name} of ${other.device.name}, which ends at ${digits(ends)} Ω, and waits ${digits(margin)} s for its zone ${against.name} (required ${wanted} s)`,
      };
    }
  }
}

const zoneOf = (fn: DistanceFunction, level: number) =>
  fn.zones.find(({ name, enabled, looks }) => name === String(level) && enabled && looks !== 'reverse');

/** Larger ones are not looked for, finer ones not told, in ohms; so many are tried at once. */
const mostOhm = 400;
const finestOhm = 0.02;
const atOnce = 5;

/**
 * The largest resistance of a single-phase fault in the middle of the line that is still seen, in the worst condition. Nearer to the far end the relay there sees
 * more of it, and when its breaker has opened so does this one.
 */
function* ofResistance(
  { studies, conditions }: Context,
  device: Device,
  fn: DistanceFunction,
  end: LineEnd,
  trace: Trace,
): Generator<Check> {
  const input = inputOf(device, fn.input);
  const wanted = earthFaultOhm(device.voltageAt!.ratedKv);
  const found = conditions.map((condition) => {
    const study = studies.iec60909({ condition: condition.id });
    const place = placeOn(end.line, 0.5);
    // Many resistances at once: what the place needs is found once for all of them.
    const seen = (ohms: readonly number[]): boolean[] =>
      seenUnder(
        study,
        place,
        ohms.map((ohm) => ({ ...solidFault('1ph'), earthOhm: { re: ohm, im: 0 } })),
        [device],
      ).map((each) => {
        const at = each?.devices[0]?.[input.id];
        return at !== undefined && tripOf(fn, input.rating, at).trip !== null;
      });
    let [low, high] = [0, mostOhm];
    while (high - low > finestOhm) {
      const step = (high - low) / atOnce;
      const ohms = Array.from({ length: atOnce }, (_, k) => low + (k + 1) * step);
      const first = seen(ohms).indexOf(false);
      if (first < 0) low = high;
      else [low, high] = [low + first * step, low + (first + 1) * step];
    }
    return { ohm: low, condition: condition.id };
  });
  const worst = found.reduce((p, q) => (q.ohm < p.ohm ? q : p));
  trace.section(`${device.name}, 21`, device.id);
  trace.step(
    'seen − usual',
    formula`${quantityOf('seen', worst.ohm, 'Ω')} - ${quantityOf('usual', wanted, 'Ω')}`,
    worst.ohm - wanted,
    'Ω',
  );
  const holds = worst.ohm >= wanted;
  yield {
    ...common(device, fn, 'zoneResistance'),
    code: 'setting.zoneResistance',
    title: 'Earth faults with resistance in the middle of the line',
    value: worst.ohm,
    bound: wanted,
    unit: 'Ω',
    sense: 'atLeast',
    deciding: { condition: worst.condition, kind: '1ph', place: end.line },
    verdict: holds ? 'holds' : 'doubtful',
    severity: 'warning',
    message: `${device.name}: a single-phase fault in the middle of the line is seen up to ${digits(worst.ohm)} Ω (${digits(wanted)} Ω are usual at ${device.voltageAt!.ratedKv} kV)`,
  };
}
