/** What a differential function takes from the network as a matter of fact: the base current of each side, how its currents are turned, which zero sequence counts. */
import type { ElementId } from '../model/fields';
import { find, type Network } from '../model/network';
import { parseVectorGroup, parseVectorGroup3, type Winding } from '../model/vectorgroup';
import type { Device } from '../protection/device';
import { sideCurrentA } from '../protection/differential/compensation';
import type { DifferentialFunction, DifferentialSide } from '../protection/differential/schema';
import { heardInput } from '../protection/device';
import { neighboursOf, regionOf } from './region';
import { terminalKey } from '../model/topology';
import { splitKey } from '../studies/cut';

const zeroOf = (winding: Winding): DifferentialSide['zero'] => (winding === 'D' ? 'kept' : 'removed');

interface RatedWinding {
  readonly terminal: number;
  readonly ratedKv: number;
  readonly clock: number;
  readonly winding: Winding;
}

interface Protected {
  readonly ratedMva: number;
  readonly windings: readonly RatedWinding[];
}

function transformerIn(network: Network, id: ElementId): Protected | null {
  const two = find(network, 'transformer', id);
  if (two) {
    const group = parseVectorGroup(two.vectorGroup);
    return group
      ? {
          ratedMva: two.ratedMva,
          windings: [
            { terminal: 0, ratedKv: two.hvKv, clock: 0, winding: group.hv },
            { terminal: 1, ratedKv: two.lvKv, clock: group.clock, winding: group.lv },
          ],
        }
      : null;
  }
  const three = find(network, 'threeWindingTransformer', id);
  const group = three && parseVectorGroup3(three.vectorGroup);
  return three && group
    ? {
        ratedMva: three.hvMv.ratedMva,
        windings: [three.hvKv, three.mvKv, three.lvKv].map((ratedKv, k) => ({
          terminal: k,
          ratedKv,
          clock: group.clocks[k],
          winding: group.windings[k],
        })),
      }
    : null;
}

/** Sides for all inputs of the device: what the function does not name yet comes in, what is gone leaves. */
function withAllSides(device: Device, fn: DifferentialFunction): DifferentialFunction {
  const heard = fn.partners.map(heardInput);
  const wanted = device.inputs.filter(({ id, from }) =>
    from ? heard.includes(id) : fn.code !== '87L' || id === fn.input,
  );
  const sides = wanted.map(({ id, rating }): DifferentialSide => {
    const known = fn.sides.find(({ input }) => input === id);
    return known ?? { input: id as ElementId, baseA: rating.primaryA, clock: 0, zero: 'kept' };
  });
  return { ...fn, sides };
}

/** The function with sides that fit what it protects; the rest of it stays. */
export function fitted(network: Network, device: Device, before: DifferentialFunction): DifferentialFunction {
  const fn = withAllSides(device, before);
  switch (fn.code) {
    case '87T':
      return fittedToTransformer(network, device, fn);
    case '87N': {
      const at = device.inputs.find(({ star }) => star);
      const unit = at && transformerIn(network, at.through);
      const side = unit?.windings.find(({ terminal }) => terminal === at!.star!.terminal);
      const baseA = unit && side ? sideCurrentA(unit.ratedMva, side.ratedKv) : (device.inputs[0]?.rating.primaryA ?? 1);
      return { ...fn, sides: fn.sides.map((each) => ({ ...each, baseA, clock: 0, zero: 'kept' as const })) };
    }
    case '87G':
    case '87M': {
      const { elements } = regionOf(network, device, fn);
      const rated = elements.map((id) => ratedCurrentA(network, id)).find((each) => each !== null);
      const baseA = rated ?? device.inputs[0]?.rating.primaryA ?? 1;
      return { ...fn, sides: fn.sides.map((each) => ({ ...each, baseA, clock: 0, zero: 'kept' as const })) };
    }
    default: {
      const largest = Math.max(...device.inputs.map(({ rating }) => rating.primaryA));
      const sides = fn.sides.map((each) => ({ ...each, baseA: largest, clock: 0, zero: 'kept' as const }));
      return { ...fn, sides, ...(fn.chargingA !== null && { chargingA: chargingOf(network, device, fn) }) };
    }
  }
}

/** Rated current of a machine; null for anything else. */
function ratedCurrentA(network: Network, id: ElementId): number | null {
  const generator = find(network, 'synchronousMachine', id);
  if (generator) return sideCurrentA(generator.ratedMva, generator.ratedKv);
  const motor = find(network, 'asynchronousMotor', id);
  if (!motor) return null;
  return sideCurrentA(motor.ratedMw / ((motor.powerFactor * motor.efficiencyPercent) / 100), motor.ratedKv);
}

function fittedToTransformer(network: Network, device: Device, fn: DifferentialFunction): DifferentialFunction {
  const { elements } = regionOf(network, device, fn);
  const id = elements.find((each) => transformerIn(network, each) !== null);
  const unit = id && transformerIn(network, id);
  if (!unit) return fn;
  const sides = fn.sides.map((side): DifferentialSide => {
    const input = device.inputs.find((each) => each.id === side.input);
    const terminal = input && terminalTowards(network, input.through, input.towards, id);
    const winding = unit.windings.find((each) => each.terminal === terminal);
    if (!winding) return side;
    // A delta has no zero sequence in its lines; one fed from an earthing transformer inside the zone does.
    const zero = zeroOf(winding.winding);
    return { ...side, baseA: round(sideCurrentA(unit.ratedMva, winding.ratedKv)), clock: winding.clock, zero };
  });
  return { ...fn, sides };
}

/** Five digits: what a relay's front takes. */
const round = (value: number): number => Number(value.toPrecision(5));

/** Which terminal of an element is met first from a current transformer; undefined where it is not. */
export function terminalTowards(
  network: Network,
  from: ElementId,
  towards: number,
  element: ElementId,
): number | undefined {
  const neighbours = neighboursOf(network);
  const reached = new Set([terminalKey(from, towards)]);
  for (const key of reached)
    for (const next of neighbours.get(key) ?? []) {
      const [at, terminal] = splitKey(next);
      if (at === element) return terminal;
      if (at !== from) reached.add(next);
    }
  return undefined;
}

/** Charging current at rated voltage of the lines inside, in amperes. */
export function chargingOf(network: Network, device: Device, fn: DifferentialFunction): number {
  const { elements } = regionOf(network, device, fn);
  const kv = device.voltageAt?.ratedKv ?? 0;
  const total = elements.reduce((sum, id) => {
    const line = find(network, 'line', id);
    return sum + (line ? line.b1UsPerKm * line.lengthKm * line.circuits : 0);
  }, 0);
  return Number(((total * 1e-6 * kv * 1000) / Math.sqrt(3)).toPrecision(4));
}
