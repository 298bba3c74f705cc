/** Trials on networks of their own: the events that follow a fault, what stays supplied, and the currents of every interval. */
import type { FaultKind } from '@mesura/core/faults/kinds';
import { terminalPlace } from '@mesura/core/faults/iec60909/study';
import type { Disturbance } from '@mesura/core/faults/solution/solve';
import { magnitude } from '@mesura/core/linear/complex';
import { maximumSources, minimumSources } from '@mesura/core/model/condition';
import { elementId, type ElementId } from '@mesura/core/model/fields';
import { find, ofKind, type Network } from '@mesura/core/model/network';
import type { State } from '@mesura/core/model/state';
import type { Relay } from '@mesura/core/model/protection';
import type { Switch } from '@mesura/core/model/switching';
import type { Device, DeviceElement } from '@mesura/core/protection/device';
import { familyNamed } from '@mesura/core/protection/registry';
import {
  functionCodes,
  type CharacteristicName,
  type OvercurrentFunction,
} from '@mesura/core/protection/overcurrent/schema';
import type { DeviceFunction } from '@mesura/core/protection/schemas';
import type { EventKind, FaultStage, TrialEvent } from '@mesura/core/trials/event';
import { Grid, type Sight } from '@mesura/core/trials/grid';
import { actorsOf, play, type Actor, type Played } from '@mesura/core/trials/play';
import { meltingStage } from '@mesura/core/trials/stage';
import type { Studies } from '@mesura/core/studies/studies';
import type { Pair, ReferenceCase } from './case';
import { phaseOf, type LoopPhase, type Open } from './distance';
import { unitFunction, unitRating } from './protection';

interface StageCase {
  readonly id: string;
  readonly quantity: 'phase' | 'residual' | 'negative';
  readonly characteristic: CharacteristicName;
  readonly pickupA: number;
  readonly timeMultiplier?: number;
  readonly delayS?: number;
  readonly reset: {
    readonly kind: 'instant' | 'definite' | 'dependent';
    readonly timeS?: number;
    readonly trS?: number;
  };
  readonly directional?: {
    readonly vt: string;
    readonly looks: 'line' | 'bus';
    readonly ctReversed?: boolean;
    readonly characteristicAngleDeg: number;
    readonly sectorDeg: number;
    readonly minPolarisingV: number;
    readonly withoutVoltage: 'block' | 'memory';
  };
}

type DeviceCase =
  | {
      readonly kind: 'relay';
      readonly id: string;
      readonly at: string;
      readonly inService: boolean;
      readonly trips: readonly string[];
      readonly stages: readonly StageCase[];
    }
  | {
      readonly kind: 'breakerFailure';
      readonly id: string;
      readonly switch: string;
      readonly at: string;
      readonly currentA: number;
      readonly delayS: number;
      readonly trips: readonly string[];
    }
  | {
      readonly kind: 'recloser';
      readonly id: string;
      readonly at: string;
      readonly switch: string;
      readonly operations: readonly { readonly stages: readonly StageCase[] }[];
      readonly deadS: readonly number[];
      readonly reclaimS: number;
    }
  | {
      readonly kind: 'fuse';
      readonly id: string;
      readonly at: string;
      readonly melting: [number, number][];
      readonly clearing: [number, number][];
      readonly cooling: 'none' | 'atOnce';
    };

interface FaultCase {
  readonly kind: FaultKind;
  readonly odd?: LoopPhase;
  readonly bus?: string;
  readonly line?: string;
  readonly x?: number;
  readonly phaseROhm?: number;
  readonly earthROhm?: number;
}

interface EventCase {
  readonly t: number;
  readonly what: string;
  readonly device: string;
  readonly function?: string;
  readonly switch?: string;
  readonly phases?: readonly string[];
}

interface StateCase {
  readonly fromS: number;
  readonly faultA: readonly number[];
  readonly seenA: Readonly<Record<string, { readonly phases: readonly number[]; readonly residual: number }>>;
}

export interface TrialCase {
  readonly id: string;
  readonly network: string;
  readonly condition: { readonly case: 'max' | 'min'; readonly motors: 'in' | 'out' };
  readonly fault: FaultCase & {
    readonly then?: readonly (FaultCase & { readonly atS: number })[];
    readonly goneAfterDeadS?: number;
  };
  readonly devices: readonly DeviceCase[];
  readonly breakers: Readonly<Record<string, { readonly openS: number; readonly stuck?: boolean }>>;
  readonly expected: Readonly<Record<string, unknown>> & { readonly events: readonly EventCase[] };
  readonly states?: readonly StateCase[];
  readonly tolerance: { readonly timeS: number; readonly currentRel: number };
}

/** Null for any other form of case. */
export function trialPairs(each: ReferenceCase, open: Open): Pair[] | null {
  const given = each as unknown as Partial<TrialCase>;
  if (!given.devices || !given.breakers || typeof given.network !== 'string' || !given.fault) return null;
  return trial(given as TrialCase, open(`networks/${given.network}`));
}

const motors = ['asynchronousMotor', 'staticDrive'] as const;

export interface CaseTrial {
  readonly played: Played;
  readonly grid: Grid;
  readonly actors: readonly Actor[];
}

/** Plays a case. */
export function playedCase(given: TrialCase, studies: Studies): CaseTrial {
  const { network } = studies;
  const state: State = {
    condition: given.condition.case === 'max' ? maximumSources.id : minimumSources.id,
    ...(given.condition.motors === 'out' && {
      alterations: { stopped: motors.flatMap((kind) => ofKind(network, kind).map(({ id }) => id)) },
    }),
  };
  const devices = given.devices.map((each) => deviceOf(each, network));
  const dead = given.devices.flatMap((each) => (each.kind === 'relay' && !each.inService ? [elementId(each.id)] : []));
  const actors = actorsOf(devices, { dead, silent: [] }).map((actor, k) => adjusted(actor, given.devices[k]));
  const grid = new Grid(studies, state, devices);
  const { then = [], goneAfterDeadS, ...first } = given.fault;
  const faults: FaultStage[] = [
    { atS: 0, faults: [faultOf(first)] },
    // What is not said anew stays.
    ...then.map(({ atS, ...change }) => ({ atS, faults: [faultOf({ ...first, ...change })] })),
  ];
  const played = play({
    actors,
    stand: grid,
    openingS: (id) => given.breakers[id]?.openS ?? 0,
    faults,
    goneAfterDeadS: goneAfterDeadS ?? null,
    failures: {
      stuck: Object.entries(given.breakers).flatMap(([id, { stuck }]) => (stuck ? [elementId(id)] : [])),
      dead,
      silent: [],
    },
    untilS: 7200,
  });
  return { played, grid, actors };
}

function faultOf({ kind, odd, bus, line, x, phaseROhm = 0, earthROhm = 0 }: FaultCase): Disturbance {
  return {
    type: 'shunt',
    place: bus === undefined ? { at: 'line', element: elementId(line!), fraction: x! } : terminalPlace(elementId(bus)),
    kind,
    odd: phaseOf(odd ?? null),
    phaseOhm: { re: phaseROhm, im: 0 },
    earthOhm: { re: earthROhm, im: 0 },
  };
}

function deviceOf(each: DeviceCase, network: Network): Device {
  const id = elementId(each.id);
  const towards = 1 as const;
  const input = { id: 'in', through: elementId(each.at), towards, reversed: false, rating: unitRating };
  const common = { id, name: each.id, voltageAt: null, openingS: 0 };
  switch (each.kind) {
    case 'relay': {
      const directional = each.stages.find((stage) => stage.directional)?.directional;
      const bus = directional && find(network, 'bus', elementId(directional.vt));
      const functions = each.stages.map((stage) => functionOf(stage, bus?.nominalKv ?? 0));
      const opens = each.trips.map(elementId);
      return {
        ...common,
        kind: 'relay',
        element: relayOf(id, functions, opens),
        inputs: [{ ...input, reversed: directional?.ctReversed ?? false }],
        functions,
        opens,
        voltageAt: bus ? { element: bus.id, reversed: false, ratedKv: bus.nominalKv, secondaryV: 100 } : null,
      };
    }
    case 'breakerFailure': {
      const functions: DeviceFunction[] = [
        {
          ...familyNamed('breakerFailure').fresh(elementId('50BF'), '50BF', elementId('in')),
          pickup: each.currentA,
          delayS: each.delayS,
          opens: each.trips.map(elementId),
        },
      ];
      const watched = [elementId(each.switch)];
      return {
        ...common,
        kind: 'relay',
        element: relayOf(id, functions, watched),
        inputs: [input],
        functions,
        opens: watched,
      };
    }
    case 'recloser': {
      const { operations, deadS, reclaimS } = each;
      const same = (k: number) => JSON.stringify(operations[k]) === JSON.stringify(operations[0]);
      const fastShots = operations.every((_, k) => same(k)) ? 0 : operations.findIndex((_, k) => !same(k));
      const slow = operations[operations.length - 1].stages.map((stage) => functionOf(stage, 0));
      const fast = fastShots > 0 ? operations[0].stages.map((stage) => functionOf(stage, 0)) : [];
      const functions: DeviceFunction[] = [
        ...fast.map((fn) => ({ ...fn, operations: 'fast' as const })),
        ...slow.map((fn) => ({ ...fn, operations: fastShots > 0 ? ('slow' as const) : ('all' as const) })),
        {
          ...familyNamed('reclosing').fresh(elementId('79'), '79', null),
          shots: operations.length,
          fastShots,
          deadTimesS: [...deadS],
          reclaimS,
        },
      ];
      const opens = [elementId(each.switch)];
      return { ...common, kind: 'recloser', element: switchOf(opens[0], functions), inputs: [input], functions, opens };
    }
    case 'fuse': {
      const functions: DeviceFunction[] = [
        {
          ...familyNamed('fuse').fresh(id, 'gG', null),
          points: { melting: each.melting, clearing: each.clearing },
        },
      ];
      return {
        ...common,
        kind: 'fuse',
        element: switchOf(id, functions),
        inputs: [input],
        functions,
        opens: [elementId(each.at)],
      };
    }
  }
}

const relayOf = (id: ElementId, functions: readonly DeviceFunction[], breakers: readonly ElementId[]): DeviceElement =>
  ({
    kind: 'relay',
    id,
    functions,
    inputs: [],
    circuits: [{ id: 'trip', name: 'Trip', breakers }],
  }) as unknown as Relay;
const switchOf = (id: ElementId, functions: readonly DeviceFunction[]): DeviceElement =>
  ({ kind: 'switch', id, functions }) as unknown as Switch;

const codes = { phase: '51', residual: '51N', negative: '46' } as const;

function functionOf(stage: StageCase, nominalKv: number): OvercurrentFunction {
  const { quantity, reset, directional } = stage;
  const rated = (quantity === 'phase' ? 1 : Math.sqrt(3)) * nominalKv * 1000;
  return {
    ...unitFunction({
      characteristic: stage.characteristic,
      pickup: stage.pickupA,
      timeMultiplier: stage.timeMultiplier ?? 1,
      delayS: stage.delayS ?? 0,
      dependentTo: null,
      reset: reset.kind,
      resetS: reset.timeS ?? reset.trS ?? 0,
    }),
    id: elementId(stage.id),
    input: elementId('in'),
    code: functionCodes.find((code) => code === codes[quantity])!,
    direction: directional
      ? {
          looks: directional.looks === 'line' ? 'forward' : 'reverse',
          characteristicAngleDeg: directional.characteristicAngleDeg,
          sectorDeg: directional.sectorDeg,
          minPolarisingPercent: (100 * directional.minPolarisingV) / rated,
          withoutVoltage: directional.withoutVoltage,
        }
      : null,
  };
}

/** A link that forgets what has molten in it, as some cases have it. */
function adjusted(actor: Actor, each: DeviceCase): Actor {
  if (each.kind !== 'fuse' || each.cooling !== 'atOnce') return actor;
  const stages = actor.stages.map((stage) => {
    const [curve] = familyNamed('fuse').timeCurrents!(stage.fn as never, unitRating);
    return { ...stage, ...meltingStage(curve, true) };
  });
  return { ...actor, stages };
}

const words: Partial<Record<EventKind, string>> = {
  pickUp: 'picks up',
  dropOut: 'drops out',
  trip: 'trips',
  melt: 'melts',
  open: 'opens',
  failToOpen: 'fails to open',
  close: 'closes',
  lockOut: 'locks out',
  ready: 'ready again',
  gone: 'fault current gone',
  again: 'fault current again',
  change: 'fault changes',
  extinguish: 'fault extinguishes',
};

/** By what an event is, without its time. */
const signature = ({ what, device, function: fn, switch: at, phases }: Omit<EventCase, 't'>): string =>
  [what, what === 'opens' || what === 'fails to open' ? '' : device, fn, at, phases?.join('+')]
    .filter(Boolean)
    .join(' ');

function signatureOf({ kind, device, fn, element, phases }: TrialEvent): string | null {
  const what = words[kind];
  if (!what) return null;
  return signature({
    what,
    device: device ?? '',
    function: kind === 'melt' ? undefined : fn,
    switch: element,
    phases: phases?.map((phase) => `L${phase + 1}`),
  });
}

function trial(given: TrialCase, studies: Studies): Pair[] {
  const { played, grid } = playedCase(given, studies);
  const left = played.events.flatMap((event) => {
    const name = signatureOf(event);
    return name === null ? [] : [{ name, atS: event.atS }];
  });
  const { timeS } = given.tolerance;
  const { events, ...rest } = given.expected;
  const pairs = events.map(({ t, ...each }): Pair => {
    const name = signature(each.what === 'fault changes' ? { ...each, function: undefined } : each);
    const near = left.filter((other) => other.name === name).sort((p, q) => Math.abs(p.atS - t) - Math.abs(q.atS - t));
    const found = near.at(0);
    if (found) left.splice(left.indexOf(found), 1);
    return { figure: name, expected: t, computed: found?.atS ?? null, allowed: timeS };
  });
  const more = left.map(({ name, atS }): Pair => ({ figure: `${name}, not expected`, expected: null, computed: atS }));
  const scene = { open: new Set(played.open), partly: new Map(played.partly), faults: [] };
  const supplied = grid.supplied(scene);
  const listed = (list: readonly string[]) => [...list].sort().join(' ');
  const phases = [
    ...played.partly.flatMap(([id, open]) => open.map((phase) => `${id} L${phase + 1}`)),
    ...given.devices.flatMap((each) =>
      each.kind === 'fuse' && played.open.includes(elementId(each.at)) ? [1, 2, 3].map((k) => `${each.at} L${k}`) : [],
    ),
  ];
  const fuses = given.devices.flatMap((each) => (each.kind === 'fuse' ? [elementId(each.at)] : []));
  const outcomes: Record<Played['outcome'], string> = {
    cleared: 'cleared',
    extinguished: 'extinguished',
    stillFed: 'still fed',
    noCurrent: 'no current',
  };
  const lists: Record<string, readonly string[]> = {
    lockedOut: played.events.flatMap(({ kind, device }) => (kind === 'lockOut' ? [device!] : [])),
    openSwitches: played.open.filter((id) => !fuses.includes(id)),
    fusePhases: phases,
    suppliedBuses: supplied.buses,
    partlySuppliedBuses: supplied.partly,
  };
  const figures: Record<string, number | string | null> = {
    clearedS: played.clearedS,
    endS: played.endS,
    outcome: outcomes[played.outcome],
  };
  const others = Object.entries(rest).map(([figure, expected]): Pair => {
    if (figure in lists) return { figure, expected: listed(expected as string[]), computed: listed(lists[figure]) };
    return { figure, expected: expected as never, computed: figures[figure], allowed: timeS };
  });
  return [...pairs, ...more, ...others, ...currents(given, played, grid)];
}

/** Currents of every interval, at every current transformer and fuse of a device. */
function currents(given: TrialCase, played: Played, grid: Grid): Pair[] {
  const { timeS, currentRel } = given.tolerance;
  return (given.states ?? []).flatMap(({ fromS, faultA, seenA }): Pair[] => {
    const off = (each: { fromS: number }) => Math.abs(each.fromS - fromS);
    const [near] = [...played.intervals].sort((p, q) => off(p) - off(q));
    // Some moments change nothing, such as a recloser's being ready again.
    const interval = off(near) <= timeS ? near : played.intervals.filter((each) => each.fromS <= fromS).at(-1);
    const sight: Sight | undefined = interval?.sight;
    const beside = (figure: string, expected: number, computed: number | undefined): Pair => ({
      figure: `${figure} from ${fromS} s`,
      expected,
      computed: computed ?? null,
      allowed: Math.max(2e-3, currentRel * Math.abs(expected)),
    });
    return [
      ...faultA.map((each, k) =>
        beside(`fault L${k + 1}`, each, sight && (sight.faultA.length > 0 ? sight.faultA[0][k] : 0)),
      ),
      ...given.devices.flatMap((each, d): Pair[] => {
        const expected = seenA[each.at] as (typeof seenA)[string] | undefined;
        if (!expected) return [];
        const seen = sight?.seen(d)?.[grid.devices[d].inputs[0].id];
        const phases = seen?.vectors?.currents.map(magnitude) ?? (seen ? [0, 0, 0] : []);
        return [
          ...expected.phases.map((value, k) => beside(`${each.id} L${k + 1}`, value, phases[k])),
          beside(`${each.id} 3I0`, expected.residual, seen?.residualA),
        ];
      }),
    ];
  });
}
