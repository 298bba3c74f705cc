/** Zones of distance protection: the first never sees a fault at the far busbar, the second always does, whatever feeds in. */
import { faultKinds, faultKindTitles, solidFault, type FaultKind } from '../../faults/kinds';
import { terminalPlace } from '../../faults/iec60909/study';
import { magnitude } from '../../linear/complex';
import type { Condition } from '../../model/condition';
import type { ElementId } from '../../model/fields';
import { mainInput, type Device } from '../../protection/device';
import { inZone, measuredLoops } from '../../protection/distance/measured';
import type { DistanceFunction, DistanceZone } from '../../protection/distance/schema';
import type { Loop, LoopName } from '../../protection/distance/loops';
import { seenBy } from '../../protection/seen';
import { farEnds } from '../../protection/zone';
import { circuitAt, pathsFrom } from '../../reach/circuits';
import { loopsOfFault } from '../../reach/region';
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

/** A loop of a fault at a far end, as a share of the reach. */
interface Sight {
  readonly share: number;
  readonly loop: Loop;
  readonly kind: FaultKind;
  readonly condition: ElementId;
  readonly place: ElementId;
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

function sightsAt(
  studies: Studies,
  conditions: readonly Condition[],
  device: Device,
  fn: DistanceFunction,
  zone: DistanceZone,
): Sight[][] {
  const input = device.inputs.find(({ id }) => id === fn.input) ?? mainInput(device)!;
  return conditions.flatMap(({ id: condition }) => {
    const study = studies.iec60909({ condition });
    return linesAhead(studies, device).flatMap(({ line, terminal }): Sight[][] =>
      seenBy(study, terminalPlace(line, terminal), faultKinds, [device]).flatMap((seen, k): Sight[][] => {
        const vectors = seen?.devices[0]?.[input.id]?.vectors;
        if (!vectors) return [];
        const names: readonly LoopName[] = loopsOfFault(solidFault(faultKinds[k]));
        const loops = measuredLoops(fn, input.rating, vectors).filter(({ name }) => names.includes(name));
        if (loops.length === 0) return [];
        return [
          loops.map((loop) => ({
            share: magnitude(loop.impedance!) / (loop.isEarth ? zone.reachEarthOhm : zone.reachOhm),
            loop,
            kind: faultKinds[k],
            condition,
            place: line,
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
      formula`${quantityOf(`|Z${sight.loop.name}|`, magnitude(sight.loop.impedance!), 'Ω')} / ${quantityOf('Zr', magnitude(sight.loop.impedance!) / sight.share, 'Ω')}`,
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
  if (first) {
    const all = sightsAt(studies, conditions, device, fn, first).flat();
    if (all.length > 0) {
      const inside = all.filter(({ loop }) => inZone(fn, first, loop, 1 + error));
      const worst = least(inside.length > 0 ? inside : all);
      const kind = faultKindTitles[worst.kind];
      yield told('zone1', worst, {
        bound: 1 + error,
        sense: 'atLeast',
        verdict: inside.length > 0 ? 'short' : 'holds',
        message: `${device.name}: a ${kind} fault at the far busbar comes to ${digits(worst.share)} of the reach of zone 1${inside.length > 0 ? `, which with ${digits(100 * error)} % of error sees it` : ''}`,
      });
    }
  }
  if (second) {
    // Of each fault the loop that is seen best.
    const faults = sightsAt(studies, conditions, device, fn, second);
    const missed = faults.filter((loops) => !loops.some(({ loop }) => inZone(fn, second, loop, 1 - error)));
    const looked = (missed.length > 0 ? missed : faults).map(least);
    if (looked.length > 0) {
      const worst = looked.reduce((p, q) => (q.share > p.share ? q : p));
      const kind = faultKindTitles[worst.kind];
      yield told('zone2', worst, {
        bound: 1 - error,
        sense: 'atMost',
        verdict: missed.length > 0 ? 'short' : 'holds',
        message: `${device.name}: a ${kind} fault at the far busbar comes to ${digits(worst.share)} of the reach of zone 2${missed.length > 0 ? `, which with ${digits(100 * error)} % of error does not see it` : ''}`,
      });
    }
  }
}
