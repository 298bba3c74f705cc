/**
 * A second way to play a fault, for tests only: steps of one millisecond, elements of relays by their own formulas, the network in phases solved anew at every
 * switching. It knows nothing of the program's trials, functions or sequence networks.
 */
import { magnitude, polar, type Complex } from '../linear/complex';
import type { Element } from '../model/element';
import { defaultSettings } from '../model/element';
import { newElement } from '../model/defaults';
import { elementId, type ElementId } from '../model/fields';
import { networkOf, ofKind, type Network } from '../model/network';
import { currentInput, tripCircuit } from '../model/protection';
import { familyNamed } from '../protection/registry';
import { newFunction, genericRelays } from '../protection/overcurrent/library';
import type { DeviceFunction } from '../protection/schemas';
import { solvePhases, type PhaseFault } from './phaseDomain';

export type Curve = 'iecA' | 'iecB' | 'iecC' | 'definite';

export interface StepStage {
  readonly id: string;
  readonly quantity: 'phase' | 'residual';
  readonly curve: Curve;
  readonly pickupA: number;
  readonly tm: number;
  readonly delayS: number;
  /** Travel is held for so long below pickup; 0: lost at once. */
  readonly holdS: number;
}

/** A relay at one end of a line, with its breaker there. */
export interface StepRelay {
  readonly line: string;
  readonly end: 0 | 1;
  readonly openingS: number;
  readonly stuck: boolean;
  readonly dead: boolean;
  readonly stages: readonly StepStage[];
  /** Breaker failure: pickup, delay, ends whose breakers it trips. */
  readonly failure: { readonly currentA: number; readonly delayS: number; readonly trips: readonly string[] } | null;
  /** Closes again after each opening but the last. */
  readonly deadS: readonly number[] | null;
}

export interface StepFault {
  readonly line: string | null;
  readonly fraction: number;
  readonly bus: string | null;
  readonly kind: '3ph' | '2ph' | '2phE' | '1ph';
  readonly odd: 0 | 1 | 2;
  readonly phaseOhm: number;
  readonly earthOhm: number;
}

export interface StepCase {
  readonly nominalKv: number;
  readonly buses: readonly string[];
  /** Of a network feeder at a busbar, in kA. */
  readonly feeders: readonly { readonly bus: string; readonly ikKa: number }[];
  readonly lines: readonly { readonly id: string; readonly from: string; readonly to: string; readonly km: number }[];
  readonly relays: readonly StepRelay[];
  readonly fault: StepFault;
  /** It becomes a three-phase one. */
  readonly thenS: number | null;
}

export interface StepEvent {
  readonly atS: number;
  /** "open L1:0", "trip L1:0 51", "pickUp …", "dropOut …", "failToOpen …", "close …", "gone", "change". */
  readonly what: string;
}

export const endOf = ({ line, end }: Pick<StepRelay, 'line' | 'end'>): string => `${line}:${end}`;
const breakerOf = (end: string) => elementId(`Q${end.replace(':', '_')}`);
const relayName = (end: string) => elementId(`R${end.replace(':', '_')}`);

/** The case as a project: busbar, breaker, current transformer, line end. */
export function networkOfCase(given: StepCase): Network {
  const elements: Element[] = [defaultSettings];
  const join = (from: readonly [ElementId, number], to: readonly [ElementId, number]) =>
    elements.push({
      kind: 'connection',
      id: elementId(`w${elements.length}`),
      from: { element: from[0], terminal: from[1], at: 0 },
      to: { element: to[0], terminal: to[1], at: 0 },
    });
  for (const bus of given.buses) elements.push(newElement('bus', elementId(bus), bus, { nominalKv: given.nominalKv }));
  given.feeders.forEach(({ bus, ikKa }, k) => {
    const id = elementId(`G${k}`);
    const level = { given: 'current' as const, ikKa, skMva: null, rOverX: 0.1, x0OverX1: 1.3, r0OverX0: 0.2 };
    elements.push(newElement('networkFeeder', id, `G${k}`, { max: level, min: level }));
    join([elementId(bus), 0], [id, 0]);
  });
  for (const { id, from, to, km } of given.lines) {
    const line = elementId(id);
    const data = { lengthKm: km, r1OhmPerKm: 0.2, x1OhmPerKm: 0.35, r0OhmPerKm: 0.4, x0OhmPerKm: 1.1 };
    elements.push(newElement('line', line, id, { type: 'overhead', ...data }));
    for (const end of [0, 1] as const) {
      const key = `${id}:${end}`;
      const relay = given.relays.find((each) => endOf(each) === key);
      const bus = elementId(end === 0 ? from : to);
      if (!relay) {
        join([bus, 0], [line, end]);
        continue;
      }
      const [breaker, ct] = [breakerOf(key), elementId(`T${key.replace(':', '_')}`)];
      // From the trip to the end of the current a breaker takes its opening time and 15 ms.
      elements.push(newElement('switch', breaker, breaker, { openingTimeS: relay.openingS - 0.015 }));
      elements.push(newElement('currentTransformer', ct, ct, { primaryA: 100, secondaryA: 1 }));
      join([bus, 0], [breaker, 0]);
      join([breaker, 1], [ct, 0]);
      join([ct, 1], [line, end]);
      elements.push(
        newElement('relay', relayName(key), key, {
          inputs: [currentInput(ct, 1)],
          circuits: [tripCircuit([breaker])],
          functions: functionsOf(relay),
        }),
      );
    }
  }
  return networkOf(elements);
}

function functionsOf({ stages, failure, deadS }: StepRelay): DeviceFunction[] {
  const input = currentInput(null).id;
  return [
    ...stages.map((stage): DeviceFunction => {
      const code = stage.quantity === 'residual' ? '51N' : '51';
      return {
        ...newFunction(elementId(stage.id), code, genericRelays[0].ranges, input),
        characteristic: stage.curve,
        pickup: stage.pickupA / 100,
        timeMultiplier: stage.tm,
        delayS: stage.delayS,
        dependentTo: null,
        reset: stage.holdS > 0 ? 'definite' : 'instant',
        resetS: stage.holdS,
      };
    }),
    ...(failure
      ? [
          {
            ...familyNamed('breakerFailure').fresh(elementId('50BF'), '50BF', input),
            pickup: failure.currentA / 100,
            delayS: failure.delayS,
            opens: failure.trips.map(breakerOf),
          },
        ]
      : []),
    ...(deadS
      ? [
          {
            ...familyNamed('reclosing').fresh(elementId('79'), '79', null),
            shots: deadS.length + 1,
            fastShots: 0,
            deadTimesS: [...deadS],
            reclaimS: 3,
          },
        ]
      : []),
  ];
}

const constants = { iecA: [0.14, 0.02], iecB: [13.5, 1], iecC: [80, 2] } as const;
const timeAt = ({ curve, pickupA, tm, delayS }: StepStage, currentA: number): number => {
  if (curve === 'definite') return delayS;
  const [k, alpha] = constants[curve];
  return (tm * k) / ((currentA / pickupA) ** alpha - 1);
};

interface Element1 {
  share: number;
  heldS: number;
}

interface State {
  readonly relay: StepRelay;
  readonly key: string;
  open: boolean;
  opensAt: number | null;
  closesAt: number | null;
  openings: number;
  /** Tripped by an element of its own, so that it closes again. */
  own: boolean;
  failureSince: number | null;
  failureDone: boolean;
  readyAt: number | null;
  closed: boolean;
  readonly stages: { readonly stage: StepStage; elements: Element1[]; picked: boolean; tripped: boolean }[];
}

/** Plays a case; `closest`: how near any current came to a pickup, as a share. */
export function stepped(
  given: StepCase,
  network: Network,
  stepS = 0.001,
  untilS = 30,
): { events: StepEvent[]; closest: number } {
  const events: StepEvent[] = [];
  let closest = Infinity;
  const states = given.relays.map((relay): State => ({
    relay,
    key: endOf(relay),
    open: false,
    opensAt: null,
    closesAt: null,
    openings: 0,
    own: false,
    failureSince: null,
    failureDone: false,
    readyAt: null,
    closed: false,
    stages: relay.stages.map((stage) => ({
      stage,
      elements: [0, 1, 2].map(() => ({ share: 0, heldS: 0 })),
      picked: false,
      tripped: false,
    })),
  }));
  let fault = given.fault;
  let changed = given.thenS === null;
  let currents = solve(given, network, states, fault);
  let fed = currents.fed;
  const note = (atS: number, what: string) => events.push({ atS, what });
  for (let n = 0; n * stepS < untilS; n++) {
    const t = n * stepS;
    let renew = false;
    if (!changed && t >= given.thenS! - 1e-9) {
      changed = true;
      if (fed) {
        fault = { ...fault, kind: '3ph' };
        note(t, 'change');
        renew = true;
      }
    }
    for (const state of states) {
      if (state.opensAt !== null && t >= state.opensAt - 1e-9) {
        state.opensAt = null;
        if (state.relay.stuck) note(t, `failToOpen ${state.key}`);
        else {
          state.open = true;
          renew = true;
          note(t, `open ${state.key}`);
          const { deadS } = state.relay;
          if (deadS && state.own) {
            state.own = false;
            state.openings++;
            if (state.openings > deadS.length) note(t, `lockOut ${state.key}`);
            else state.closesAt = t + deadS[state.openings - 1];
          }
        }
      }
      if (state.closesAt !== null && t >= state.closesAt - 1e-9) {
        state.closesAt = null;
        state.open = false;
        state.closed = true;
        for (const each of state.stages) {
          each.elements = [0, 1, 2].map(() => ({ share: 0, heldS: 0 }));
          each.picked = each.tripped = false;
        }
        state.failureSince = null;
        renew = true;
        note(t, `close ${state.key}`);
      }
      if (state.readyAt !== null && t >= state.readyAt - 1e-9) {
        state.readyAt = null;
        state.openings = 0;
        note(t, `ready ${state.key}`);
      }
    }
    if (renew) {
      currents = solve(given, network, states, fault);
      if (currents.fed !== fed) {
        fed = currents.fed;
        if (!fed) note(t, 'gone');
      }
    }
    for (const state of states) {
      const seen = state.relay.dead || state.open ? [0, 0, 0] : currents.phases(state.key);
      const residual = state.relay.dead || state.open ? 0 : currents.residual(state.key);
      for (const each of state.stages) {
        const { stage } = each;
        const values = stage.quantity === 'phase' ? seen : [residual, 0, 0];
        for (const value of values) if (value > 0) closest = Math.min(closest, Math.abs(value / stage.pickupA - 1));
        const picked = values.some((value) => value > stage.pickupA);
        if (picked !== each.picked) {
          each.picked = picked;
          if (!picked) each.tripped = false;
          note(t, `${picked ? 'pickUp' : 'dropOut'} ${state.key} ${stage.id}`);
        }
        each.elements.forEach((element, k) => {
          if (values[k] > stage.pickupA) {
            element.heldS = 0;
            // What is left of the time counts: the last part of a step is not waited for.
            element.share += stepS / Math.max(timeAt(stage, values[k]), 1e-9);
          } else if (stage.holdS > 0 && element.share > 0) {
            element.heldS += stepS;
            if (element.heldS >= stage.holdS) element.share = 0;
          } else element.share = 0;
        });
        if (picked && !each.tripped && each.elements.some(({ share }) => share >= 1)) {
          each.tripped = true;
          note(t + stepS, `trip ${state.key} ${stage.id}`);
          trip(states, state, t + stepS, true);
        }
      }
      const { failure } = state.relay;
      if (failure && !state.relay.dead && state.failureSince !== null && !state.failureDone) {
        if (Math.max(...seen) <= failure.currentA) state.failureSince = null;
        else if (t >= state.failureSince + failure.delayS - stepS - 1e-9) {
          state.failureDone = true;
          note(t + stepS, `trip ${state.key} 50BF`);
          for (const other of failure.trips)
            trip(
              states,
              states.find(({ key }) => key === other)!,
              t + stepS,
              false,
            );
        }
        for (const value of seen) if (value > 0) closest = Math.min(closest, Math.abs(value / failure.currentA - 1));
      }
      if (state.relay.deadS && !state.relay.dead && state.closed && state.openings > 0) {
        const locked = state.openings > state.relay.deadS.length;
        const idle = !state.open && state.opensAt === null && state.stages.every(({ picked }) => !picked);
        if (!locked && idle) state.readyAt ??= t + 3;
        else state.readyAt = null;
      }
    }
    const pending = states.some(
      ({ opensAt, closesAt, readyAt }) => opensAt !== null || closesAt !== null || readyAt !== null,
    );
    const running = states.some(
      ({ stages, failureSince, failureDone }) =>
        (failureSince !== null && !failureDone) || stages.some(({ picked, tripped }) => picked && !tripped),
    );
    if ((!fed || (!running && changed)) && !pending) break;
  }
  return { events, closest };
}

function trip(states: readonly State[], state: State, atS: number, own: boolean): void {
  if (state.relay.failure && state.failureSince === null) state.failureSince = atS;
  // Breaker failure watches the breakers of its own relay only.
  void states;
  if (own && state.relay.deadS) state.own = true;
  if (!state.open && state.opensAt === null) state.opensAt = atS + state.relay.openingS;
}

interface Currents {
  readonly fed: boolean;
  phases(end: string): number[];
  residual(end: string): number;
}

/** Only what still hangs together with a feeder is solved: what floats has no voltage to tell. */
function solve(given: StepCase, network: Network, states: readonly State[], fault: StepFault): Currents {
  const isOpen = (line: string, end: 0 | 1) => states.find(({ key }) => key === `${line}:${end}`)?.open ?? false;
  const reached = new Set(given.feeders.map(({ bus }) => bus));
  const lines = new Set<string>();
  for (let grew = true; grew;) {
    grew = false;
    for (const { id, from, to } of given.lines)
      for (const [bus, end] of [
        [from, 0],
        [to, 1],
      ] as const) {
        if (!reached.has(bus) || isOpen(id, end) || lines.has(id)) continue;
        lines.add(id);
        grew = true;
        const far = end === 0 ? 1 : 0;
        if (!isOpen(id, far)) reached.add(far === 1 ? to : from);
      }
  }
  const isThere = fault.bus === null ? lines.has(fault.line!) : reached.has(fault.bus);
  const none: Currents = { fed: false, phases: () => [0, 0, 0], residual: () => 0 };
  if (!isThere) return none;
  const open = new Set(states.flatMap(({ key, open: isIt }) => (isIt ? [breakerOf(key) as string] : [])));
  const unfed = new Set<string>();
  for (const { id } of given.lines)
    if (!lines.has(id)) for (const each of [id, `Q${id}_0`, `Q${id}_1`, `T${id}_0`, `T${id}_1`]) unfed.add(each);
  const gone = (id: string) => unfed.has(id) || (given.buses.includes(id) && !reached.has(id));
  const elements = [...network.elements.values()].flatMap((element): Element[] => {
    if (element.kind === 'relay' || gone(element.id)) return [];
    if (element.kind === 'switch') return open.has(element.id) ? [] : [element];
    if (element.kind === 'connection') {
      const ends = [element.from.element as string, element.to.element as string];
      return ends.some((id) => gone(id) || open.has(id)) ? [] : [element];
    }
    return [element];
  });
  // Current transformers that hang on nothing any more.
  const joined = new Set(
    elements.flatMap((each) => (each.kind === 'connection' ? [each.from.element, each.to.element] : [])),
  );
  const left = networkOf(
    elements.filter((each) => !['currentTransformer', 'switch'].includes(each.kind) || joined.has(each.id)),
  );
  const volts = (1.1 * given.nominalKv * 1000) / Math.sqrt(3);
  const source = polar(volts, 0);
  const phases =
    fault.kind === '3ph' ? [0, 1, 2] : fault.kind === '1ph' ? [fault.odd] : [0, 1, 2].filter((k) => k !== fault.odd);
  const at: PhaseFault = {
    type: 'shunt',
    at:
      fault.bus === null
        ? { line: elementId(fault.line!), fraction: fault.fraction }
        : { element: elementId(fault.bus), terminal: 0 },
    phases,
    earth: fault.kind === '1ph' || fault.kind === '2phE',
    phaseOhm: { re: fault.phaseOhm, im: 0 },
    earthOhm: { re: fault.earthOhm, im: 0 },
  };
  void ofKind;
  const solution = solvePhases(left, () => source, new Map(), [at]);
  const into = (end: string): Complex[] => {
    const [line, terminal] = end.split(':');
    if (!lines.has(line)) return [0, 1, 2].map(() => ({ re: 0, im: 0 }));
    return solution.currentsInto(elementId(line), Number(terminal));
  };
  return {
    fed: Math.max(...solution.faultCurrents[0].map(magnitude)) > 1e-3,
    phases: (end) => into(end).map(magnitude),
    residual: (end) => {
      const [p, q, r] = into(end);
      return Math.hypot(p.re + q.re + r.re, p.im + q.im + r.im);
    },
  };
}
