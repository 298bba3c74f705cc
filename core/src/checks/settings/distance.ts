/**
 * Distance protection beside what stands around it: the load of the line in an emergency stays outside of all zones, zone 2 and 3 wait for those of the lines
 * that follow wherever they reach into them, and earth faults with the resistance usual at the voltage are seen.
 */
import { solidFault } from '../../faults/kinds';
import { magnitude } from '../../linear/complex';
import { find, settingsOf } from '../../model/network';
import { devicesOf, inputOf, type Device } from '../../protection/device';
import { tripOf } from '../../protection/distance';
import type { DistanceFunction } from '../../protection/distance/schema';
import { seenUnder } from '../../protection/seen';
import { farEnds } from '../../protection/zone';
import { circuitAt, circuitsOf, isSameEnd, pathsFrom } from '../../reach/circuits';
import { loadAngleDeg, loadOhm, reachAlong, type LoadCharacteristic } from '../../reach/loadability';
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
      ...distanceRelays(context.studies).map(({ device: { id } }) => id),
    ]).filter(({ value }) => fnOf(value) && value.voltageAt),
  test: (context, device, trace) => {
    const fn = fnOf(device)!;
    const [end] = endsOf(context.studies, device);
    if (!end) return [];
    return [
      ...ofLoad(context, device, fn, end, trace),
      ...ofTiming(context, device, fn, end, trace),
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

/** All distance relays with the line ends that they look into. */
const distanceRelays = (studies: Studies): readonly Standing[] =>
  devicesOf(studies.network).flatMap((device): Standing[] => {
    const fn = fnOf(device);
    const [end] = fn ? endsOf(studies, device) : [];
    return fn && end ? [{ device, fn, end }] : [];
  });

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
      const along = reachAlong(shapeOf(fn, reach, zone.resistanceOhm / secondary), loadAngleDeg);
      const cut =
        fn.loadCut && fn.loadCut.angleDeg > loadAngleDeg
          ? fn.loadCut.resistanceOhm / secondary / Math.cos((loadAngleDeg * Math.PI) / 180)
          : Infinity;
      return { name: zone.name, ohm: Math.min(along, cut) };
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

const shapeOf = (fn: DistanceFunction, reach: number, resistance: number): LoadCharacteristic => {
  const angleDeg = fn.lineAngleDeg;
  switch (fn.characteristic) {
    case 'mho':
      return { type: 'mho', reach, angleDeg };
    case 'offsetMho':
      return { type: 'offsetMho', reach, offset: fn.offsetPercent / 100, angleDeg };
    case 'quadrilateral':
      return {
        type: 'quadrilateral',
        resistance,
        reactance: reach * Math.sin((angleDeg * Math.PI) / 180),
        lineAngleDeg: angleDeg,
        tiltDeg: fn.tiltDeg,
      };
  }
};

/** Reaches on the steps of relays differ by so much of what they are meant to be. */
const stepShare = 0.005;

/** Zones 2 and 3 against zones 1 and 2 of each line that follows: what reaches past the end of that zone waits for the next one. */
function* ofTiming(
  { studies, network }: Context,
  device: Device,
  fn: DistanceFunction,
  end: LineEnd,
  trace: Trace,
): Generator<Check> {
  const { assembly } = studies.max;
  const nodeOf = ({ line, terminal }: LineEnd) => assembly.topology.nodeAt(line, terminal);
  const own = circuitAt(network, end);
  const home = nodeOf(end);
  const others = distanceRelays(studies);
  const wanted = settingsOf(network).wantedMarginS;
  const secondary = secondaryOf(device, fn);
  for (const { to, ohm } of pathsFrom(assembly, own, end)) {
    const next = others.filter(
      (other) =>
        !own.ends.some((each) => isSameEnd(each, other.end)) &&
        nodeOf(other.end) === nodeOf(to) &&
        // A line that leads back to the own busbar is no backup of this one.
        circuitsOf(network)
          .find(({ lines }) => lines.includes(other.end.line))!
          .ends.some((each) => nodeOf(each) !== nodeOf(to) && nodeOf(each) !== home),
    );
    for (const other of next) {
      for (const level of [2, 3] as const) {
        const zone = zoneOf(fn, level);
        const [before, after] = [zoneOf(other.fn, level - 1), zoneOf(other.fn, level)];
        if (!zone || !before) continue;
        const reach = zone.reachOhm / secondary;
        const otherSecondary = secondaryOf(other.device, other.fn);
        const ends = magnitude(ohm) + before.reachOhm / otherSecondary;
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
}

const zoneOf = (fn: DistanceFunction, level: number) =>
  fn.zones.find(({ name, enabled, looks }) => name === String(level) && enabled && looks !== 'reverse');

/** Larger ones are not looked for, in ohms. */
const mostOhm = 400;

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
    const sees = (ohm: number): boolean => {
      const fault = { ...solidFault('1ph'), earthOhm: { re: ohm, im: 0 } };
      const [seen] = seenUnder(study, placeOn(end.line, 0.5), [fault], [device]);
      const at = seen?.devices[0]?.[input.id];
      return at !== undefined && tripOf(fn, input.rating, at).trip !== null;
    };
    let [low, high] = [0, mostOhm];
    if (sees(high)) low = high;
    else
      while (high - low > 0.02) {
        const middle = (low + high) / 2;
        if (sees(middle)) low = middle;
        else high = middle;
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
