/** Load flow with its outages, motors that start and run up: files of the form of `core/reference/study/load.json`. */
import { flowFigures } from '@mesura/core/flow/figures';
import { loadFlow, type LoadFlow } from '@mesura/core/flow/loadFlow';
import { runUp } from '@mesura/core/flow/motor';
import { flowWithout } from '@mesura/core/flow/outages';
import { startMotor } from '@mesura/core/flow/start';
import { elementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { idle } from '@mesura/core/model/sources';
import { Builder } from '@mesura/core/test/network';
import { pairsOf, type Inputs, type Pair, type ReferenceCase, type Tolerance } from './case';

/** A case with its figures beside what was computed. */
export interface ComputedCase {
  readonly of: ReferenceCase;
  readonly pairs: readonly Pair[];
}

interface BusData {
  readonly bus: number;
  readonly loadMw: number;
  readonly loadMvar: number;
  readonly shuntMvarAtOnePu: number;
  readonly generatorMw?: number;
  readonly holdsPu?: number;
  readonly minMvar?: number;
  readonly maxMvar?: number;
}

interface BranchData {
  readonly branch: string;
  readonly rPu: number;
  readonly xPu: number;
  readonly bPu: number;
  readonly tapAtFirst: number;
  readonly kind: 'line' | 'transformer';
}

interface FlowData {
  readonly baseMva: number;
  readonly frequencyHz: 50 | 60;
  readonly slack: { readonly bus: number; readonly pu: number };
  readonly buses: readonly BusData[];
  readonly branches: readonly BranchData[];
}

interface OutageCase {
  readonly id: string;
  readonly outage: string;
  readonly tolerance?: Tolerance;
  readonly status?: string;
  readonly withoutLimits?: object | null;
  readonly withLimits?: object | null;
}

interface LoadFile {
  readonly data?: FlowData;
  readonly printed?: { readonly voltages?: readonly { bus: number; pu: number; angleDeg: number }[] };
  readonly base?: object;
  readonly baseWithLimits?: object;
  readonly outages?: readonly OutageCase[];
  readonly motorStarts?: readonly ReferenceCase[];
  readonly runUps?: readonly ReferenceCase[];
}

/** Any voltage level serves a network in per unit. */
const levelKv = 132;
const busName = (bus: number) => `B${bus}`;
const branchName = (branch: string) => `L${branch}`;

/** Null for a file of another form. */
export function loadCases(file: object): ComputedCase[] | null {
  const { data, printed, base, baseWithLimits, outages = [], motorStarts = [], runUps = [] } = file as LoadFile;
  if (!data && motorStarts.length + runUps.length === 0) return null;
  const tolerance = outages[0]?.tolerance ?? { abs: 1e-6 };
  const flows = data && new Flows(data);
  const whole = (id: string, expected: object | undefined, limits: boolean): ComputedCase[] =>
    expected && flows ? [compared({ id, tolerance, status: 'verified' }, expected, flows.figures(null, limits))] : [];
  return [
    ...(printed?.voltages && flows ? [flows.printedVoltages(printed.voltages)] : []),
    ...whole('base', base, false),
    ...whole('baseWithLimits', baseWithLimits, true),
    ...(flows
      ? outages.flatMap(({ outage, withoutLimits, withLimits, ...of }) => [
          ...(withoutLimits === undefined
            ? []
            : [compared(of, { withoutLimits }, { withoutLimits: flows.figures(outage, false) })]),
          ...(withLimits === undefined
            ? []
            : [compared(of, { withLimits }, { withLimits: flows.figures(outage, true) })]),
        ])
      : []),
    ...motorStarts.map((each) => compared(each, each.expected, started(each.inputs!))),
    ...runUps.map((each) => compared(each, each.expected, ranUp(each.inputs!))),
  ];
}

const compared = (of: ReferenceCase, expected: unknown, computed: unknown): ComputedCase => ({
  of,
  pairs: pairsOf(expected, computed),
});

/** The network in per unit, solved as drawn and with a branch out. */
class Flows {
  private readonly network: Network;

  constructor(private readonly data: FlowData) {
    this.network = networkOf(data);
  }

  private flow(outage: string | null, limits: boolean): LoadFlow {
    const flow = loadFlow(this.network, { voltageFactor: () => 1, control: limits });
    return outage === null ? flow : flowWithout(flow, elementId(branchName(outage)), limits);
  }

  /** Null without a solution. */
  figures(outage: string | null, limits: boolean): object | null {
    const flow = this.flow(outage, limits);
    if (!flow.converged) return null;
    const { baseMva, buses, branches, slack } = this.data;
    const { buses: voltages, branches: flows, sources, balance } = flowFigures(flow);
    const perUnit = (baseMva / (Math.sqrt(3) * levelKv)) * 1000;
    const order = branches.map(({ branch }) => branch).filter((branch) => branch !== outage);
    const ends = order.map((branch) => {
      const { ends: both } = flows.find(({ element }) => element === branchName(branch))!;
      const [from, to] = both;
      return {
        branch,
        fromMw: from.mw,
        fromMvar: from.mvar,
        toMw: to.mw,
        toMvar: to.mvar,
        fromPu: from.ampere / perUnit,
        toPu: to.ampere / perUnit,
        pu: Math.max(from.ampere, to.ampere) / perUnit,
        mva: Math.max(Math.hypot(from.mw, from.mvar), Math.hypot(to.mw, to.mvar)),
      };
    });
    const at = new Map(voltages.map(({ bus, percent, angleDeg }) => [bus as string, { pu: percent / 100, angleDeg }]));
    const rows = buses.map(({ bus }) => ({ bus, ...at.get(busName(bus))! }));
    const alive = rows.filter(({ pu }) => pu > 0);
    const source = (bus: number) => sources.find(({ element }) => element === `G${bus}`)!;
    const generators = buses.filter(({ holdsPu, bus }) => holdsPu !== undefined && at.get(busName(bus))!.pu > 0);
    const limited = generators.flatMap(({ bus }) => {
      const { atLimit } = source(bus);
      return atLimit ? [[bus, atLimit] as const] : [];
    });
    const most = <T>(list: readonly T[], of: (each: T) => number) => list.reduce((p, q) => (of(q) > of(p) ? q : p));
    const lowest = most(alive, ({ pu }) => -pu);
    const { branch: heaviest, pu } = most(ends, (each) => each.pu);
    const { branch: largest, mva } = most(ends, (each) => each.mva);
    return {
      largestCurrent: { branch: heaviest, pu },
      largestFlow: { branch: largest, mva },
      lowestVoltage: { bus: lowest.bus, pu: lowest.pu },
      deadBuses: rows.filter((row) => row.pu === 0).map(({ bus }) => bus),
      slackMw: source(slack.bus).mw,
      slackMvar: source(slack.bus).mvar,
      lossesMw: balance.lossMw,
      generatorMvar: Object.fromEntries(generators.map(({ bus }) => [bus, source(bus).mvar])),
      atLimit: Object.fromEntries(limited),
      voltages: rows.filter((row) => row.pu > 0),
      voltagesPu: rows.map((row) => row.pu),
      branches: ends,
    };
  }

  /** To the digits that were printed, and a little beyond: the printed set is not exact in itself. */
  printedVoltages(voltages: readonly { bus: number; pu: number; angleDeg: number }[]): ComputedCase {
    const computed = flowFigures(this.flow(null, false)).buses;
    const rows = voltages.map(({ bus }) => {
      const { percent, angleDeg } = computed.find((each) => each.bus === busName(bus))!;
      return { bus, pu: percent / 100, angleDeg };
    });
    const of = { id: 'printed', tolerance: { abs: 6e-4, absDeg: 0.02 }, status: 'recalled' };
    return compared(of, voltages, rows);
  }
}

function networkOf({ baseMva, frequencyHz, slack, buses, branches }: FlowData): Network {
  const b = new Builder({ frequencyHz, baseMva });
  const ohm = levelKv ** 2 / baseMva;
  for (const { bus, loadMw, loadMvar, shuntMvarAtOnePu, generatorMw, holdsPu, minMvar, maxMvar } of buses) {
    const name = busName(bus);
    b.add('bus', name, { nominalKv: levelKv });
    const ratedMva = Math.hypot(loadMw, loadMvar);
    if (ratedMva > 0) {
      b.add('load', `D${bus}`, {
        ratedMva,
        powerFactor: loadMw / ratedMva,
        reactive: loadMvar < 0 ? 'leading' : 'lagging',
      });
      b.join(`D${bus}`, name);
    }
    if (shuntMvarAtOnePu !== 0) {
      const type = shuntMvarAtOnePu > 0 ? 'capacitor' : 'reactor';
      b.add('shunt', `C${bus}`, { type, ratedMvar: Math.abs(shuntMvarAtOnePu), ratedKv: levelKv });
      b.join(`C${bus}`, name);
    }
    if (bus === slack.bus) {
      b.add('networkFeeder', `G${bus}`, { voltagePercent: 100 * slack.pu });
      b.join(`G${bus}`, name);
    } else if (holdsPu !== undefined) {
      const operation = {
        ...idle,
        holds: 'voltage' as const,
        activeMw: generatorMw ?? 0,
        voltagePercent: 100 * holdsPu,
        minMvar: minMvar ?? null,
        maxMvar: maxMvar ?? null,
      };
      b.add('synchronousMachine', `G${bus}`, { ratedMva: 100, ratedKv: levelKv, operation });
      b.join(`G${bus}`, name);
    }
  }
  for (const { branch, rPu, xPu, bPu, tapAtFirst, kind } of branches) {
    const name = branchName(branch);
    const [from, to] = branch.split('-');
    if (kind === 'line')
      b.add('line', name, {
        lengthKm: 1,
        r1OhmPerKm: rPu * ohm,
        x1OhmPerKm: xPu * ohm,
        b1UsPerKm: (bPu / ohm) * 1e6,
      });
    else
      b.add('transformer', name, {
        ratedMva: baseMva,
        // A tap below 1 makes the first side the lower one, whatever it is called.
        hvKv: levelKv * tapAtFirst,
        lvKv: levelKv,
        ukPercent: 100 * Math.hypot(rPu, xPu),
        uRPercent: 100 * rPu,
        vectorGroup: 'YNyn0',
      });
    b.join(`${name}:0`, busName(Number(from)), `${name}:1`, busName(Number(to)));
  }
  return b.network();
}

interface StartInputs {
  readonly nominalKv: number;
  readonly sourcePu: number;
  readonly faultLevelMva: number;
  readonly rOverX: number;
  readonly transformer: { readonly ratedMva: number; readonly ukPercent: number; readonly uRPercent: number } | null;
  readonly cable: { readonly rOhm: number; readonly xOhm: number };
  readonly motor: {
    readonly ratedMw: number;
    readonly efficiency: number;
    readonly cosPhi: number;
    readonly startingRatio: number;
    readonly startingCosPhi: number;
    readonly reduce?: number;
  };
  readonly priorLoad: { readonly mw: number; readonly mvar: number; readonly behaves: string } | null;
}

/** The source's own voltage is given: it stands before an impedance of its own, which a line plays. */
function started(inputs: Inputs): object | null {
  const { nominalKv, sourcePu, faultLevelMva, rOverX, transformer, cable, motor, priorLoad } =
    inputs as unknown as StartInputs;
  const b = new Builder();
  const firm = { given: 'power' as const, ikKa: null, skMva: 1e13, rOverX: 0, x0OverX1: 1, r0OverX0: 0 };
  const series = (name: string, from: string, to: string, r: number, x: number) => {
    b.add('line', name, { lengthKm: 1, r1OhmPerKm: r, x1OhmPerKm: x });
    b.join(`${name}:0`, from, `${name}:1`, to);
  };
  for (const bus of ['S', 'T', 'B', 'M']) b.add('bus', bus, { nominalKv });
  b.add('networkFeeder', 'Q', { max: firm, min: firm, voltagePercent: 100 * sourcePu });
  b.join('Q', 'S');
  const xSource = nominalKv ** 2 / faultLevelMva / Math.hypot(1, rOverX);
  series('Z', 'S', 'T', rOverX * xSource, xSource);
  if (transformer) {
    b.add('transformer', 'TR', { ...transformer, hvKv: nominalKv, lvKv: nominalKv, vectorGroup: 'Dyn11' });
    b.join('TR:0', 'T', 'TR:1', 'B');
  } else {
    b.add('switch', 'L', { type: 'link' });
    b.join('T', 'L:0', 'L:1', 'B');
  }
  series('C', 'B', 'M', cable.rOhm, cable.xOhm);
  const ratedMva = priorLoad ? Math.hypot(priorLoad.mw, priorLoad.mvar) : 0;
  if (priorLoad && ratedMva > 0) {
    const kind = priorLoad.behaves.replace(/ (.)/, (_, letter: string) => letter.toUpperCase());
    b.add('load', 'P', {
      ratedMva,
      powerFactor: priorLoad.mw / ratedMva,
      behaves: kind as 'constantPower',
    });
    b.join('P', 'B');
  }
  b.add('asynchronousMotor', 'X', {
    ratedMw: motor.ratedMw,
    ratedKv: nominalKv,
    powerFactor: motor.cosPhi,
    efficiencyPercent: 100 * motor.efficiency,
    startingRatio: motor.startingRatio,
    startPowerFactor: motor.startingCosPhi,
  });
  b.join('X', 'M');
  const { reduce: reduction = 1 } = motor;
  const result = startMotor(b.network(), elementId('X'), { voltageFactor: () => 1, reduction });
  if (!result.ok) return null;
  const { motor: data, buses, terminalPercent, startingA, torqueFactor } = result.start;
  const board = buses.find(({ bus }) => bus === 'B')!;
  return {
    motorRatedA: data.ratedA,
    boardBeforePercent: board.beforePercent,
    boardStartPercent: board.startPercent,
    dipPercent: board.dipPercent,
    motorTerminalPercent: terminalPercent,
    startingA,
    // The case counts the voltage alone.
    torqueFactor: torqueFactor / reduction,
  };
}

interface RunInputs {
  readonly inertiaKgm2: number;
  readonly syncRpm: number;
  readonly breakdownNm: number;
  readonly breakdownSlip: number;
  readonly load: {
    readonly kind: 'constant' | 'linear' | 'quadratic';
    readonly Nm?: number;
    readonly NmAtSync?: number;
  };
  readonly voltagePu: number;
  readonly endSlip: number;
}

const ranUp = (inputs: Inputs): object => {
  const { inertiaKgm2, syncRpm, breakdownNm, breakdownSlip, load, voltagePu, endSlip } = inputs as unknown as RunInputs;
  return runUp({
    torque: { breakdownNm, breakdownSlip },
    load: { follows: load.kind, nm: load.Nm ?? load.NmAtSync ?? 0 },
    inertiaKgM2: inertiaKgm2,
    synchronousRpm: syncRpm,
    endSlip,
    factor: () => voltagePu ** 2,
  });
};
