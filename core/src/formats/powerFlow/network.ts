/** A solved power-flow case as a network: per unit to ohms, types of buses to what holds them there. What such a case does not say is assumed, and told. */
import type { Bus } from '../../model/switching';
import { isolatedNeutral, neutralOf, type ElementId } from '../../model/fields';
import type { Operation } from '../../model/sources';
import { Brought } from '../brought';
import { FileRefusal } from '../format';
import { branchTypes, busTypes } from './form';
import type { BranchFigures, BusFigures, PowerFlowCase } from './read';

export const title = 'IEEE common data format';
export const sourcePrefix = 'power-flow case';

/** For buses that tell no voltage: any would do, currents in amperes follow from it. */
const assumedKv = 132;
/** By which the length of a line is guessed from its reactance. */
const usualOhmPerKm = 0.4;
const assumedFaultKa = 10;

export function* networkOfCase(given: PowerFlowCase): Generator<number, Brought> {
  const name = given.title || 'power-flow case';
  const brought = new Brought(title, `${sourcePrefix} ${name}`.slice(0, 120), name);
  const buses = new Map<number, Bus>();
  let done = 0;
  const all = given.buses.length + given.branches.length;
  for (const bus of given.buses) {
    if (++done % 500 === 0) yield done / all;
    if (buses.has(bus.number)) {
      brought.wrong.add('a bus number is used twice; the second is left out', `${bus.number} (line ${bus.line})`);
      continue;
    }
    const made = busFrom(bus, brought);
    if (made) buses.set(bus.number, made);
  }
  const told = new Set<number>();
  for (const bus of given.buses) {
    const at = buses.get(bus.number);
    if (at && !told.has(bus.number)) atBus(bus, at, given, brought);
    told.add(bus.number);
  }
  if (!given.buses.some(({ type }) => type === busTypes.slack))
    brought.assumed.add('no bus holds the angle (type 3): the load flow takes one of the machines');
  const parallel = new Map<string, number>();
  for (const branch of given.branches) {
    if (++done % 500 === 0) yield done / all;
    const [from, to] = [buses.get(branch.tapBus), buses.get(branch.zBus)];
    if (!from || !to) {
      const missing = from ? branch.zBus : branch.tapBus;
      brought.wrong.add(
        'a branch ends at a bus that is not in the file, and is left out',
        `bus ${missing} (line ${branch.line})`,
      );
      continue;
    }
    const pair = `${branch.tapBus}-${branch.zBus}`;
    const nth = (parallel.get(pair) ?? 0) + 1;
    parallel.set(pair, nth);
    branchFrom(branch, nth === 1 ? pair : `${pair}-${nth}`, [from, to], given, brought);
  }
  for (const { title: other } of given.others)
    brought.left.add(`the section "${other}" is not read: areas and interchange are nothing that currents depend on`);
  if (brought.elements.length === 0) throw new FileRefusal('none of its buses can be taken');
  return brought;
}

const labelOf = ({ number, name }: BusFigures): string => name || `Bus ${number}`;

function busFrom(bus: BusFigures, brought: Brought): Bus | null {
  const id = `bus ${bus.number}`;
  if (bus.baseKv > 0) return brought.add('bus', id, labelOf(bus), { nominalKv: bus.baseKv });
  brought.assumed.add(`nominal voltage ${assumedKv} kV, where the file gives none`, labelOf(bus));
  return brought.add('bus', id, labelOf(bus), {}, { nominalKv: assumedKv });
}

/** What feeds and draws at a bus. */
function atBus(bus: BusFigures, at: Bus, { baseMva }: PowerFlowCase, brought: Brought): void {
  const label = labelOf(bus);
  const join = (element: { id: ElementId } | null) =>
    element && brought.join({ element: element.id, terminal: 0 }, { element: at.id, terminal: 0 });
  const isHeld = bus.type === busTypes.heldVoltage || bus.type === busTypes.slack;
  const volts = bus.desiredVoltage > 0 ? bus.desiredVoltage : bus.voltage;
  if (bus.type === busTypes.slack) {
    brought.assumed.add(
      `fault level ${assumedFaultKa} kA, R/X 0.1, X0/X1 1 of the network behind the slack bus`,
      label,
    );
    const level = {
      given: 'current',
      ikKa: assumedFaultKa,
      skMva: null,
      rOverX: 0.1,
      x0OverX1: 1,
      r0OverX0: 0.1,
    } as const;
    join(
      brought.add(
        'networkFeeder',
        `source ${bus.number}`,
        `Network at ${label}`,
        { voltagePercent: 100 * (volts || 1) },
        { earthed: true, max: level, min: level },
      ),
    );
  } else if (isHeld || bus.generationMw !== 0 || bus.generationMvar !== 0)
    join(machineFrom(bus, at, isHeld, volts, brought));
  if (bus.loadMw !== 0 || bus.loadMvar !== 0) join(loadFrom(bus, at, brought));
  if (bus.shuntB !== 0)
    join(
      brought.add(
        'shunt',
        `shunt ${bus.number}`,
        `Shunt at ${label}`,
        {
          type: bus.shuntB > 0 ? 'capacitor' : 'reactor',
          ratedMvar: Math.abs(bus.shuntB) * baseMva,
          ratedKv: at.nominalKv,
        },
        { neutral: isolatedNeutral },
      ),
    );
  if (bus.shuntG > 0)
    join(
      brought.add('load', `conductance ${bus.number}`, `Conductance at ${label}`, {
        ratedMva: bus.shuntG * baseMva,
        powerFactor: 1,
        behaves: 'constantImpedance',
      }),
    );
  else if (bus.shuntG < 0) brought.left.add('a shunt conductance below nought is left out', label);
}

function machineFrom(bus: BusFigures, at: Bus, isHeld: boolean, volts: number, brought: Brought) {
  const label = labelOf(bus);
  const limits = bus.maxMvar > bus.minMvar;
  const operation: Operation = isHeld
    ? {
        holds: 'voltage',
        activeMw: bus.generationMw,
        reactiveMvar: 0,
        voltagePercent: 100 * (volts || 1),
        minMvar: limits ? bus.minMvar : null,
        maxMvar: limits ? bus.maxMvar : null,
      }
    : {
        holds: 'power',
        activeMw: bus.generationMw,
        reactiveMvar: bus.generationMvar,
        voltagePercent: 100,
        minMvar: null,
        maxMvar: null,
      };
  const needed = Math.max(
    Math.hypot(bus.generationMw, bus.generationMvar),
    limits ? Math.max(Math.abs(bus.minMvar), Math.abs(bus.maxMvar)) : 0,
    1,
  );
  brought.assumed.add(
    'rated power, power factor 0.85 and x″d 20 % of machines, as the file tells operation only',
    label,
  );
  return brought.add(
    'synchronousMachine',
    `machine ${bus.number}`,
    `Machine at ${label}`,
    { operation },
    { ratedMva: Number((needed / 0.85).toPrecision(3)), ratedKv: at.nominalKv, powerFactor: 0.85, xd2Percent: 20 },
  );
}

/** A load, or what feeds a power of its own in where it is below nought. */
function loadFrom(bus: BusFigures, at: Bus, brought: Brought) {
  const label = labelOf(bus);
  const mva = Math.hypot(bus.loadMw, bus.loadMvar);
  if (bus.loadMw >= 0)
    return brought.add('load', `load ${bus.number}`, `Load at ${label}`, {
      ratedMva: mva,
      powerFactor: Math.max(bus.loadMw / mva, 1e-9),
      reactive: bus.loadMvar < 0 ? 'leading' : 'lagging',
      behaves: 'constantPower',
    });
  brought.assumed.add('a load below nought is a source behind a converter that gives no fault current', label);
  return brought.add(
    'converterSource',
    `load ${bus.number}`,
    `Infeed at ${label}`,
    {
      operation: {
        holds: 'power',
        activeMw: -bus.loadMw,
        reactiveMvar: -bus.loadMvar,
        voltagePercent: 100,
        minMvar: null,
        maxMvar: null,
      },
    },
    { ratedMva: Number(mva.toPrecision(3)), ratedKv: at.nominalKv, faultRatio: 0 },
  );
}

function branchFrom(
  branch: BranchFigures,
  id: string,
  ends: readonly [Bus, Bus],
  given: PowerFlowCase,
  brought: Brought,
): void {
  const name = `${ends[0].name} – ${ends[1].name}`;
  if (branch.x <= 0) {
    const what =
      branch.x < 0
        ? 'a branch with a reactance below nought (a winding of a star equivalent, or a series capacitor)'
        : 'a branch without reactance';
    return brought.left.add(`${what} is left out`, `${name} (line ${branch.line})`);
  }
  const isLine =
    branch.type === branchTypes.line &&
    (branch.ratio === 0 || branch.ratio === 1) &&
    ends[0].nominalKv === ends[1].nominalKv;
  const made = isLine
    ? lineFrom(branch, id, name, ends[0].nominalKv, given, brought)
    : transformerFrom(branch, id, name, ends, given, brought);
  if (!made) return;
  const [first, second] = isLine || ends[0].nominalKv >= ends[1].nominalKv ? ends : [ends[1], ends[0]];
  brought.join({ element: made.id, terminal: 0 }, { element: first.id, terminal: 0 });
  brought.join({ element: made.id, terminal: 1 }, { element: second.id, terminal: 0 });
}

function lineFrom(
  branch: BranchFigures,
  id: string,
  name: string,
  kv: number,
  { baseMva }: PowerFlowCase,
  brought: Brought,
) {
  const ohm = kv ** 2 / baseMva;
  const lengthKm = Math.min(2000, Math.max(1e-6, (branch.x * ohm) / usualOhmPerKm));
  brought.assumed.add('length of lines so that X1 is 0.4 Ω/km; zero sequence unknown', name);
  return brought.add(
    'line',
    `branch ${id}`,
    name,
    {
      lengthKm,
      r1OhmPerKm: (branch.r * ohm) / lengthKm,
      x1OhmPerKm: (branch.x * ohm) / lengthKm,
      b1UsPerKm: (branch.b / ohm / lengthKm) * 1e6,
      ...ratedCurrent(branch, kv),
    },
    { type: 'overhead', r0OhmPerKm: null, x0OhmPerKm: null, b0UsPerKm: 0 },
  );
}

const ratedCurrent = ({ rating1, rating2 }: BranchFigures, kv: number) => {
  const ampere = (mva: number) => (mva * 1000) / (Math.sqrt(3) * kv);
  return {
    ...(rating1 > 0 && { ratedA: ampere(rating1) }),
    ...(rating2 > rating1 && { emergencyA: ampere(rating2) }),
  };
};

/** The off-nominal ratio stands at the tap bus, the ohms hold at the other: a tap changer there leaves them as they are. */
function transformerFrom(
  branch: BranchFigures,
  id: string,
  name: string,
  [tapBus, zBus]: readonly [Bus, Bus],
  { baseMva }: PowerFlowCase,
  brought: Brought,
) {
  if (branch.b !== 0) brought.left.add('the charging of a transformer is left out', name);
  const tapIsHigh = tapBus.nominalKv >= zBus.nominalKv;
  const [hvKv, lvKv] = tapIsHigh ? [tapBus.nominalKv, zBus.nominalKv] : [zBus.nominalKv, tapBus.nominalKv];
  const perUnit = Math.hypot(branch.r, branch.x);
  // On a rating on which it would exceed 100 % no transformer is built.
  const usual = branch.rating1 > 0 ? branch.rating1 : baseMva;
  const ratedMva = Math.min(usual, (0.9 * baseMva) / perUnit);
  const percent = (value: number) => (100 * value * ratedMva) / baseMva;
  brought.assumed.add('vector group YNyn0 with both neutrals earthed and X0/X1 1 of transformers', name);
  if (branch.rating1 <= 0 || ratedMva < usual) brought.assumed.add('rated power of transformers', name);
  const solid = neutralOf('solid');
  const rated = branch.rating1 > 0 && ratedMva === usual;
  return brought.add(
    'transformer',
    `branch ${id}`,
    name,
    {
      hvKv,
      lvKv,
      ...(rated && { ratedMva }),
      ukPercent: percent(perUnit),
      uRPercent: percent(branch.r),
      shiftDegrees: tapIsHigh ? branch.shiftDegrees : -branch.shiftDegrees,
      tap: tapOf(branch, tapIsHigh ? 'hv' : 'lv'),
    },
    {
      ...(!rated && { ratedMva }),
      vectorGroup: 'YNyn0',
      hvNeutral: solid,
      lvNeutral: solid,
      x0OverX1: 1,
      r0OverR1: 1,
    },
  );
}

/** The ratio as a position of a tap changer: of the steps that the file gives where it stands on one, else of a step that just makes it. */
function tapOf({ ratio, type, step, minTap, maxTap }: BranchFigures, side: 'hv' | 'lv') {
  const off = ratio === 0 ? 0 : 100 * (ratio - 1);
  if (off === 0 && type === branchTypes.fixedTap)
    return { side: 'none', position: 0, steps: 0, stepPercent: 0, holds: 'nothing', targetPercent: 100 } as const;
  const given = 100 * step;
  const onStep = given > 0 && given <= 10 && Math.abs(off / given - Math.round(off / given)) < 1e-6;
  const positions = onStep ? Math.abs(Math.round(off / given)) : Math.max(1, Math.ceil(Math.abs(off) / 10));
  const stepPercent = onStep ? given : Math.abs(off) / positions;
  const farthest = onStep && maxTap > minTap ? Math.round(Math.max(maxTap - 1, 1 - minTap) / step) : positions;
  const steps = Math.min(40, Math.max(positions, farthest));
  return {
    side,
    position: Math.sign(off) * positions,
    steps,
    stepPercent,
    holds: 'nothing',
    targetPercent: 100,
  } as const;
}
