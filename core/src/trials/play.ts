/**
 * A trial played from the beginning of a fault until nothing more happens: between two events all currents stand still, so that the time of the next one is known in
 * closed form. Functions advance by the currents of each interval, relays trip, breakers open after their own time, currents are found anew.
 */
import type { Phase } from '../faults/kinds';
import type { ElementId } from '../model/fields';
import type { Device } from '../protection/device';
import { atRest, type Progress, type ReclosingSequence, type SeenCurrents } from '../protection/family';
import { familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { noFailures, type EventKind, type Failures, type FaultStage, type Outcome, type TrialEvent } from './event';
import type { Scene, Sight } from './grid';
import type { Pilot } from './signals';
import { seenOfPhase, stagesOf, type Running, type Stage } from './stage';

/** A device as it takes part: not at all where it has failed. */
export interface Actor {
  readonly device: Device;
  readonly stages: readonly Stage[];
  readonly sequence: ReclosingSequence | null;
  /** Below this phase current nothing of it picks up; null where more than a current decides. */
  readonly leastA: number | null;
}

/** What a trial needs of a network. */
export interface Stand {
  /** Devices of a sight are in the order of the actors. */
  look(scene: Scene): Sight;
}

export interface Setup {
  readonly actors: readonly Actor[];
  readonly stand: Stand;
  /** Of a switch, from the trip command to the end of the current. */
  openingS(element: ElementId): number;
  readonly faults: readonly FaultStage[];
  /** The fault goes out for good once it has had no current for so long; null: it stays. */
  readonly goneAfterDeadS?: number | null;
  readonly failures: Failures;
  /** Schemes with signals between the ends of lines. */
  readonly pilots?: readonly Pilot[];
  /** From then on motors feed the fault no more; null: as long as they are connected. */
  readonly motorsFeedS?: number | null;
  /** When the reactances of generators pass to their next value: subtransient, transient, steady. */
  readonly decayAtS?: readonly number[];
  /** Nothing is played beyond, in seconds. */
  readonly untilS: number;
  /** Keeps what every function had come to at the beginning of each interval. */
  readonly detail?: boolean;
}

/** What a function had come to. */
export interface Standing {
  readonly device: ElementId;
  readonly fn: ElementId;
  readonly code: string;
  readonly picked: boolean;
  readonly tripped: boolean;
  readonly multiple: number;
  /** Of the way to the trip. */
  readonly share: number;
  /** Seconds to the trip if nothing changes; Infinity where it does not trip. */
  readonly leftS: number;
}

/** A time over which nothing changes. */
export interface Interval {
  readonly fromS: number;
  readonly open: readonly ElementId[];
  readonly partly: readonly (readonly [ElementId, readonly Phase[]])[];
  readonly sight: Sight;
  /** Empty without `detail`. */
  readonly standings: readonly Standing[];
}

export interface Played {
  readonly events: readonly TrialEvent[];
  readonly intervals: readonly Interval[];
  readonly outcome: Outcome;
  /** When the fault was rid of all sources; null where it is not. */
  readonly clearedS: number | null;
  readonly endS: number;
  readonly lockedOut: readonly ElementId[];
  /** Switches that stand otherwise than before the fault. */
  readonly open: readonly ElementId[];
  readonly partly: readonly (readonly [ElementId, readonly Phase[]])[];
  /** Cut off by `untilS`. */
  readonly cutOff: boolean;
  /** By actor, the largest phase current that it saw while it was not asked; Infinity for those that were asked. */
  readonly unaskedA: Float32Array;
}

/** IEEE C37.2: carrier or pilot-wire relay. */
const pilotCode = '85';
/** What goes on without anything to see of it where nothing feeds the fault. */
const unnoticed: readonly Due['what'][] = ['change', 'motors', 'decay', 'arrive'];
/** Two events closer than this happen at once. */
const atOnceS = 1e-9;

interface Lane {
  readonly phase: Phase | null;
  progress: Map<string, Progress>;
  running: readonly Running[];
  seen: SeenCurrents | null;
}

interface StageState {
  readonly stage: Stage;
  readonly owner: ActorState;
  /** Trips by what another stage of the device measures and what it hears from the other ends. */
  readonly pilot?: PilotState;
  readonly lanes: readonly Lane[];
  picked: boolean;
  tripped: boolean;
  /** Event of the pick-up; of what is begun by a trip, the trip. */
  since: number | null;
}

interface ActorState {
  readonly actor: Actor;
  readonly index: number;
  stages: StageState[];
  /** Openings since it was ready. */
  operation: number;
  /** Switches whose opening is an operation of its own. */
  awaiting: Set<ElementId>;
  lockedOut: boolean;
  readyAt: number | null;
  closedBy: number | null;
  isClosing: boolean;
  /** Has been asked before. */
  awake: boolean;
}

/** An end of a scheme as it stands. */
interface PilotState {
  readonly pilot: Pilot;
  readonly end: number;
  readonly of: StageState;
  /** By the ends of the scheme. */
  readonly heard: boolean[];
  sending: boolean;
  sent: number | null;
}

type Due =
  | { readonly atS: number; readonly what: 'open'; readonly element: ElementId; readonly because: number }
  | {
      readonly atS: number;
      readonly what: 'openPhases';
      readonly element: ElementId;
      readonly phases: Phase[];
      readonly because: number;
    }
  | {
      readonly atS: number;
      readonly what: 'close';
      readonly element: ElementId;
      readonly owner: ActorState;
      readonly because: number;
    }
  | { readonly atS: number; readonly what: 'ready'; readonly owner: ActorState; readonly because: number }
  | { readonly atS: number; readonly what: 'change'; readonly stage: number; readonly because: number }
  | { readonly atS: number; readonly what: 'motors'; readonly because: number }
  | { readonly atS: number; readonly what: 'decay'; readonly because: number }
  | {
      readonly atS: number;
      readonly what: 'arrive';
      readonly from: StageState;
      readonly on: boolean;
      readonly because: number;
    }
  | { readonly atS: number; readonly what: 'extinguish'; readonly because: number };

/** The devices of a trial; those that have failed do nothing, and what hears nothing from its other ends is blocked. */
export const actorsOf = (
  devices: readonly Device[],
  { dead, silent }: Pick<Failures, 'dead' | 'silent'> = noFailures,
): Actor[] =>
  devices.map((device) => {
    const works = !dead.includes(device.id);
    const hears = (fn: DeviceFunction) =>
      (familyOf(fn).hears?.(fn) ?? []).every((from) =>
        [from, device.id].every((id) => !silent.includes(id) && (id === device.id || !dead.includes(id))),
      );
    const stages = works ? stagesOf(device).filter(({ fn }) => hears(fn)) : [];
    const least = stages.map(({ leastA }) => leastA);
    return {
      device,
      stages,
      sequence: works ? sequenceOf(device) : null,
      leastA: least.every((each) => each !== null) ? Math.min(Infinity, ...least) : null,
    };
  });

function sequenceOf(device: Device): ReclosingSequence | null {
  for (const fn of device.functions) {
    const sequence = fn.enabled ? familyOf(fn).sequence?.(fn) : undefined;
    if (sequence) return sequence;
  }
  return null;
}

export const play = (setup: Setup): Played => new Course(setup).run();

class Course {
  private t = 0;
  private readonly events: TrialEvent[] = [];
  private readonly intervals: Interval[] = [];
  private readonly open = new Set<ElementId>();
  private readonly partly = new Map<ElementId, Phase[]>();
  private readonly commanded = new Set<ElementId>();
  private readonly owners: readonly ActorState[];
  private readonly after: readonly StageState[];
  private queue: Due[] = [];
  private faultStage = 0;
  private extinguished = false;
  private motorsOut = false;
  private decay = 0;
  private readonly pilots: readonly StageState[];
  private fed = false;
  private sight: Sight | null = null;
  /** What brought about the present state of the network. */
  private lastChange = 0;
  private readonly unaskedA: Float32Array;

  constructor(private readonly setup: Setup) {
    this.unaskedA = new Float32Array(setup.actors.length);
    this.owners = setup.actors.map((actor, index): ActorState => ({
      actor,
      index,
      stages: [],
      operation: 0,
      awaiting: new Set(),
      lockedOut: false,
      readyAt: null,
      closedBy: null,
      isClosing: false,
      awake: false,
    }));
    // Most devices see nothing of a fault: only those that do are made ready.
    this.after = this.owners.flatMap((owner) =>
      owner.actor.stages.some((stage) => stage.after !== null)
        ? awakened(owner).stages.filter(({ stage }) => stage.after !== null)
        : [],
    );
    this.pilots = (setup.pilots ?? []).flatMap((pilot) =>
      pilot.ends.flatMap(({ device, fn }, end): StageState[] => {
        const owner = this.owners.find(({ actor }) => actor.device.id === device);
        const of = owner && awakened(owner).stages.find(({ stage }) => stage.fn.id === fn);
        if (!owner || !of) return [];
        const state: StageState = {
          stage: { ...of.stage, code: pilotCode, byPhase: false, leastA: null },
          owner,
          pilot: { pilot, end, of, heard: pilot.ends.map(() => false), sending: false, sent: null },
          lanes: [freshLane(null)],
          picked: false,
          tripped: false,
          since: null,
        };
        owner.stages.push(state);
        return [state];
      }),
    );
  }

  run(): Played {
    const { faults, untilS } = this.setup;
    this.note('fault', null);
    faults.slice(1).forEach(({ atS }, k) => this.queue.push({ atS, what: 'change', stage: k + 1, because: 0 }));
    const { motorsFeedS } = this.setup;
    if (motorsFeedS === 0) this.motorsOut = true;
    else if (motorsFeedS) this.queue.push({ atS: motorsFeedS, what: 'motors', because: 0 });
    for (const atS of this.setup.decayAtS ?? []) this.queue.push({ atS, what: 'decay', because: 0 });
    this.look();
    let cutOff = false;
    for (;;) {
      const next = this.next();
      if (next === Infinity) break;
      if (next > untilS) {
        cutOff = true;
        break;
      }
      this.advance(next);
      if (this.happen()) this.look();
    }
    const left = this.fed;
    const gone = this.events.filter(({ kind }) => kind === 'gone').at(-1);
    const noCurrent = !left && !gone;
    return {
      events: this.events,
      intervals: this.intervals,
      outcome: left ? 'stillFed' : this.extinguished ? 'extinguished' : noCurrent ? 'noCurrent' : 'cleared',
      clearedS: left || !gone ? null : gone.atS,
      endS: this.t,
      lockedOut: this.owners.flatMap(({ lockedOut, actor }) => (lockedOut ? actor.device.opens : [])),
      open: [...this.open],
      partly: [...this.partly],
      cutOff,
      unaskedA: this.unaskedA,
    };
  }

  private note(kind: EventKind, because: number | null, more: Partial<TrialEvent> = {}): number {
    this.events.push({ atS: this.t, kind, because, ...more });
    return this.events.length - 1;
  }

  /** When something happens next; Infinity where nothing does. */
  private next(): number {
    let next = Infinity;
    // A fault that nothing feeds may become another one unnoticed.
    for (const each of this.queue) if (this.fed || !unnoticed.includes(each.what)) next = Math.min(next, each.atS);
    // With nothing pending a fault that motors alone feed has been dealt with.
    if (!this.fed && next === Infinity) return next;
    for (const state of this.all())
      for (const lane of state.lanes)
        for (const running of lane.running) next = Math.min(next, this.t + this.leftOf(state, lane, running));
    return next;
  }

  /** Stages that may still trip. */
  private *all(): Generator<StageState> {
    for (const owner of this.owners)
      if (owner.awake) for (const state of owner.stages) if (!state.tripped && this.isInUse(state)) yield state;
  }

  private isInUse({ stage, owner, since }: StageState): boolean {
    if (stage.after !== null) return since !== null;
    const { sequence } = owner.actor;
    if (!sequence || stage.operations === 'all') return true;
    return (stage.operations === 'fast') === owner.operation < sequence.fastShots;
  }

  private advance(to: number): void {
    const seconds = to - this.t;
    this.t = to;
    if (seconds <= 0) return;
    for (const owner of this.owners)
      if (owner.awake)
        for (const { stage, lanes } of owner.stages) for (const lane of lanes) advanceLane(stage, lane, seconds);
  }

  /** All that is due now. Whether the network has changed. */
  private happen(): boolean {
    let changed = false;
    const due = this.queue.filter(({ atS }) => atS <= this.t + atOnceS);
    this.queue = this.queue.filter((each) => !due.includes(each));
    for (const each of due) changed = this.take(each) || changed;
    const melted = new Map<StageState, { phases: Phase[]; arcS: number; multiple: number }>();
    for (const state of [...this.all()]) {
      for (const lane of state.lanes) {
        const ended = lane.running.find(
          (running) => progressOf(lane, running).tripped || this.leftOf(state, lane, running) <= atOnceS,
        );
        if (!ended) continue;
        if (state.stage.melts) {
          const known = melted.get(state) ?? { phases: [], arcS: ended.arcS ?? 0, multiple: ended.multiple };
          known.phases.push(lane.phase!);
          melted.set(state, known);
          lane.running = [];
          lane.progress.set('', { share: 1, tripped: true });
        } else {
          this.trip(state, ended);
          break;
        }
      }
    }
    for (const [{ stage, owner }, { phases, arcS, multiple }] of melted) {
      const because = this.note('melt', this.lastChange, {
        device: owner.actor.device.id,
        fn: stage.fn.id,
        code: stage.code,
        phases,
        multiple,
      });
      for (const element of stage.opens)
        this.queue.push({ atS: this.t + arcS, what: 'openPhases', element, phases, because });
    }
    return changed;
  }

  private leftOf({ stage }: StageState, lane: Lane, running: Running): number {
    return stage.remaining(progressOf(lane, running), lane.seen!, running);
  }

  private trip(state: StageState, running: Running): void {
    const { stage, owner } = state;
    state.tripped = true;
    const because = this.note('trip', state.since ?? this.lastChange, {
      device: owner.actor.device.id,
      fn: stage.fn.id,
      code: named(stage, running),
      multiple: running.multiple,
    });
    const opens = running.opens ?? stage.opens;
    this.command(opens, because, stage.clears);
    // What breaker failure opens is not closed again.
    if (owner.actor.sequence && stage.after === null) for (const each of opens) owner.awaiting.add(each);
  }

  private command(breakers: readonly ElementId[], because: number, clears: boolean): void {
    for (const element of breakers) {
      for (const each of this.after)
        if (each.stage.after!.includes(element) && each.since === null && !each.tripped) this.begin(each, because);
      if (this.open.has(element) || this.commanded.has(element)) continue;
      this.commanded.add(element);
      const atS = this.t + (clears ? 0 : this.setup.openingS(element));
      this.queue.push({ atS, what: 'open', element, because });
    }
  }

  private begin(state: StageState, because: number): void {
    state.since = because;
    for (const lane of state.lanes) lane.progress.clear();
    this.measure(state);
    // No current: there is nothing to wait for.
    if (state.lanes.every(({ running }) => running.length === 0)) state.since = null;
  }

  /** Whether the network has changed. */
  private take(due: Due): boolean {
    switch (due.what) {
      case 'open':
        return this.opens(due.element, due.because);
      case 'openPhases':
        return this.opensPhases(due.element, due.phases, due.because);
      case 'close':
        return this.closes(due.element, due.owner, due.because);
      case 'ready':
        due.owner.operation = 0;
        due.owner.readyAt = null;
        this.note('ready', due.because, { device: due.owner.actor.device.id });
        return false;
      case 'change':
        if (this.extinguished) return false;
        this.faultStage = due.stage;
        this.lastChange = this.note('change', due.because);
        return true;
      case 'motors':
        this.motorsOut = true;
        this.lastChange = this.note('motors', due.because);
        return true;
      case 'decay':
        this.decay++;
        this.lastChange = this.note('decay', due.because);
        return true;
      case 'arrive':
        return this.arrives(due.from, due.on, due.because);
      case 'extinguish':
        this.extinguished = true;
        this.lastChange = this.note('extinguish', due.because);
        return true;
    }
  }

  private opens(element: ElementId, command: number): boolean {
    this.commanded.delete(element);
    if (this.setup.failures.stuck.includes(element)) {
      this.note('failToOpen', command, { element });
      return false;
    }
    this.open.add(element);
    this.partly.delete(element);
    const opened = this.note('open', command, { element });
    this.lastChange = opened;
    for (const owner of this.owners) {
      if (!owner.awaiting.has(element)) continue;
      const { sequence, device } = owner.actor;
      // The first of several breakers that a trip opens counts.
      if (owner.awaiting.size === owner.actor.stages.find(({ opens }) => opens.includes(element))?.opens.length)
        owner.operation++;
      owner.awaiting.delete(element);
      if (owner.operation >= sequence!.shots) {
        if (!owner.lockedOut) this.note('lockOut', opened, { device: device.id, element });
        owner.lockedOut = true;
      } else {
        const { deadTimesS } = sequence!;
        const deadS = deadTimesS[Math.min(owner.operation, deadTimesS.length) - 1] ?? Infinity;
        if (deadS < Infinity) this.queue.push({ atS: this.t + deadS, what: 'close', element, owner, because: opened });
      }
    }
    return true;
  }

  private opensPhases(element: ElementId, phases: readonly Phase[], because: number): boolean {
    const before = this.partly.get(element) ?? [];
    const fresh = phases.filter((phase) => !before.includes(phase));
    if (fresh.length === 0 || this.open.has(element)) return false;
    const now = [...before, ...fresh].sort();
    if (now.length === 3) {
      this.partly.delete(element);
      this.open.add(element);
    } else this.partly.set(element, now);
    this.lastChange = this.note('open', because, { element, phases: fresh });
    return true;
  }

  private closes(element: ElementId, owner: ActorState, because: number): boolean {
    // Opened meanwhile by another device, for good.
    if (!this.open.delete(element)) return false;
    owner.closedBy = this.lastChange = this.note('close', because, { element, device: owner.actor.device.id });
    owner.isClosing = true;
    for (const state of owner.stages) {
      state.picked = false;
      state.tripped = false;
      state.since = null;
      for (const lane of state.lanes) {
        lane.progress.clear();
        lane.running = [];
      }
    }
    return true;
  }

  /** What a scheme's ends send, by what their relays measure now. */
  private send(): void {
    for (const state of this.pilots) {
      const { pilot, end, of, sending } = state.pilot!;
      const sends = state.owner.actor.stages.length > 0 && pilot.ends[end].sends(zonesOf(of));
      if (sends === sending) continue;
      state.pilot!.sending = sends;
      const { id } = state.owner.actor.device;
      if (sends) state.pilot!.sent = this.note('send', of.since ?? this.lastChange, { device: id, signal: pilot.name });
      if (this.setup.failures.silent.includes(pilot.id)) continue;
      const because = state.pilot!.sent ?? this.lastChange;
      this.queue.push({ atS: this.t + pilot.channelS, what: 'arrive', from: state, on: sends, because });
    }
  }

  /** A signal comes in, or ceases, at all other ends. The network stays as it is. */
  private arrives(from: StageState, on: boolean, because: number): boolean {
    for (const state of this.pilots) {
      if (state === from || state.pilot!.pilot !== from.pilot!.pilot) continue;
      state.pilot!.heard[from.pilot!.end] = on;
      const { name } = state.pilot!.pilot;
      const received = on ? this.note('receive', because, { device: state.owner.actor.device.id, signal: name }) : null;
      this.measure(state);
      this.judge(state);
      if (received !== null && state.picked) state.since = received;
    }
    return false;
  }

  private scene(): Scene {
    return {
      motorsOut: this.motorsOut,
      decay: this.decay,
      open: this.open,
      partly: this.partly,
      faults: this.extinguished ? [] : this.setup.faults[this.faultStage].faults,
    };
  }

  /** Finds the currents anew, and what they make pick up and drop out. */
  private look(): void {
    this.sight = this.setup.stand.look(this.scene());
    if (this.meltedWithoutCurrent()) this.sight = this.setup.stand.look(this.scene());
    const { fed } = this.sight;
    for (const owner of this.owners) {
      // What sees next to nothing and has seen nothing before need not be asked.
      const { leastA } = owner.actor;
      const mostA = owner.awake || leastA === null ? Infinity : this.sight.mostA(owner.index);
      const idles = leastA !== null && mostA <= leastA;
      this.unaskedA[owner.index] = Math.max(this.unaskedA[owner.index], idles ? mostA : Infinity);
      if (!idles) for (const state of awakened(owner).stages) this.measure(state);
    }
    this.holdBack();
    for (const owner of this.owners) {
      if (owner.awake) for (const state of owner.stages) this.judge(state);
      owner.isClosing = false;
    }
    this.send();
    if (fed !== this.fed) {
      this.fed = fed;
      this.followFed();
    }
    this.reclaim();
    this.record();
  }

  /** Functions that wait for devices ahead do nothing while one of these has picked up. */
  private holdBack(): void {
    const starts = (id: ElementId) =>
      this.owners.some(
        ({ actor, awake, stages }) =>
          awake &&
          actor.device.id === id &&
          stages.some((state) => !state.pilot && state.lanes.some(({ running }) => running.length > 0)),
      );
    // Who starts is settled before anybody is held back: chains wait for the last one.
    const held = this.owners.flatMap(({ awake, stages }) =>
      awake ? stages.filter(({ stage }) => stage.heldBackBy?.some(starts)) : [],
    );
    for (const { lanes } of held) for (const lane of lanes) lane.running = [];
  }

  private followFed(): void {
    if (this.fed) {
      // At the beginning, and where a breaker closes onto it, that goes without saying.
      const { kind } = this.events[this.lastChange];
      if (kind !== 'fault' && kind !== 'close') this.note('again', this.lastChange);
      this.queue = this.queue.filter(({ what }) => what !== 'extinguish');
      return;
    }
    const because = this.note('gone', this.lastChange);
    const { goneAfterDeadS } = this.setup;
    if (goneAfterDeadS !== undefined && goneAfterDeadS !== null && !this.extinguished)
      this.queue.push({ atS: this.t + goneAfterDeadS, what: 'extinguish', because });
  }

  /** A link whose current has ceased has opened, whatever its arc would have taken. */
  private meltedWithoutCurrent(): boolean {
    let changed = false;
    for (const due of this.queue.filter((each) => each.what === 'openPhases')) {
      const owner = this.owners.find(({ actor }) => actor.device.opens.includes(due.element))!;
      const seen = this.seenBy(owner.index, owner.actor.device.inputs[0].id);
      const dead = due.phases.filter((phase) => !seen || currentOfPhase(seen, phase) < 1e-6);
      if (dead.length === 0) continue;
      this.queue = this.queue.filter((each) => each !== due);
      const rest = due.phases.filter((phase) => !dead.includes(phase));
      if (rest.length > 0) this.queue.push({ ...due, phases: rest });
      changed = this.opensPhases(due.element, dead, due.because) || changed;
    }
    return changed;
  }

  private seenBy(index: number, input: string): SeenCurrents | null {
    return this.sight!.seen(index)?.[input] ?? null;
  }

  /** What has picked up of a function. */
  private measure(state: StageState): void {
    if (state.pilot) return this.measurePilot(state, state.pilot);
    const { stage, lanes, owner } = state;
    const isAsleep = stage.after !== null && state.since === null;
    const isBelow = stage.leastA !== null && this.sight!.mostA(owner.index) <= stage.leastA;
    if ((isAsleep || isBelow) && !state.picked && lanes.every(({ progress }) => progress.size === 0)) {
      for (const lane of lanes) lane.running = [];
      return;
    }
    const found = this.seenBy(owner.index, stage.input.id);
    const idle = !found || isAsleep || (stage.leastA !== null && found.phaseA <= stage.leastA);
    const { light } = this.sight!;
    const lit = found && light && light.size > 0 ? { ...found, light } : found;
    const seen = lit && owner.isClosing ? { ...lit, isClosing: true } : lit;
    for (const lane of lanes) {
      lane.seen = seen && (lane.phase === null ? seen : seenOfPhase(seen, lane.phase));
      const hasMolten = stage.melts && lane.progress.get('')?.tripped;
      lane.running = idle || hasMolten ? [] : stage.running(lane.seen!);
    }
  }

  private measurePilot(state: StageState, { pilot, end, of, heard }: PilotState): void {
    const lost = this.setup.failures.silent.includes(pilot.id);
    const [lane] = state.lanes;
    lane.seen = of.lanes[0].seen;
    const others = heard.filter((_, k) => k !== end);
    const timeS = pilot.ends[end].trips(zonesOf(of), others, lost);
    const [first] = of.lanes[0].running;
    lane.running =
      timeS === null || !first ? [] : [{ id: 'pilot', name: 'by signal', multiple: first.multiple, timeS }];
  }

  private judge(state: StageState): void {
    const { stage, lanes, owner } = state;
    if (stage.melts) return;
    const picked = lanes.some(({ running }) => running.length > 0) && this.isInUse(state);
    if (stage.after !== null) {
      if (!picked) {
        state.since = null;
        for (const lane of lanes) lane.progress.clear();
      }
      return;
    }
    if (picked === state.picked) return;
    state.picked = picked;
    if (state.pilot) {
      if (!picked) state.tripped = false;
      state.since = picked ? this.lastChange : null;
      return;
    }
    const about = { device: owner.actor.device.id, fn: stage.fn.id };
    if (picked) {
      const most = lanes.flatMap(({ running }) => running).reduce((p, q) => (q.timeS < p.timeS ? q : p));
      state.since = this.note('pickUp', this.lastChange, {
        ...about,
        code: named(stage, most),
        multiple: most.multiple,
      });
    } else {
      const share = Math.max(0, ...lanes.flatMap(({ progress }) => [...progress.values()].map((each) => each.share)));
      this.note('dropOut', this.lastChange, { ...about, code: stage.code, share });
      state.tripped = false;
      state.since = null;
    }
  }

  /** Reclosers that have closed and see nothing any more become ready again. */
  private reclaim(): void {
    for (const owner of this.owners) {
      const { sequence } = owner.actor;
      if (!sequence || owner.operation === 0 || owner.lockedOut || owner.closedBy === null) continue;
      const isOpen = owner.actor.device.opens.some((each) => this.open.has(each) || this.commanded.has(each));
      const idle = !isOpen && owner.stages.every(({ picked }) => !picked);
      if (idle && owner.readyAt === null) {
        owner.readyAt = this.t + sequence.reclaimS;
        this.queue.push({ atS: owner.readyAt, what: 'ready', owner, because: owner.closedBy });
      } else if (!idle && owner.readyAt !== null) {
        owner.readyAt = null;
        this.queue = this.queue.filter((each) => each.what !== 'ready' || each.owner !== owner);
      }
    }
  }

  private record(): void {
    const standings = this.setup.detail ? this.standings() : [];
    const last = this.intervals.at(-1);
    const interval: Interval = {
      fromS: this.t,
      open: [...this.open],
      partly: [...this.partly].map(([element, phases]) => [element, [...phases]] as const),
      sight: this.sight!,
      standings,
    };
    if (last && last.fromS === this.t) this.intervals[this.intervals.length - 1] = interval;
    else this.intervals.push(interval);
  }

  private standings(): Standing[] {
    return this.owners.flatMap(({ actor, stages }) =>
      stages.flatMap((state): Standing[] => {
        const { stage, lanes, picked, tripped } = state;
        const all = lanes.flatMap((lane) =>
          lane.running.map((running) => ({
            name: named(stage, running),
            multiple: running.multiple,
            share: progressOf(lane, running).share,
            leftS: this.leftOf(state, lane, running),
          })),
        );
        const share = Math.max(0, ...lanes.flatMap(({ progress }) => [...progress.values()].map((each) => each.share)));
        const first = all.length > 0 ? all.reduce((p, q) => (q.leftS < p.leftS ? q : p)) : null;
        if (!first && share === 0 && !tripped) return [];
        return [
          {
            device: actor.device.id,
            fn: stage.fn.id,
            code: first?.name ?? stage.code,
            picked,
            tripped,
            multiple: first?.multiple ?? 0,
            share: first?.share ?? share,
            leftS: tripped ? Infinity : (first?.leftS ?? Infinity),
          },
        ];
      }),
    );
  }
}

/** Zones of a distance function that have picked up. */
const zonesOf = ({ lanes }: StageState): ReadonlySet<string> =>
  new Set(lanes.flatMap(({ running }) => running.map(({ id }) => id)));

/** With all its stages at rest, once it has something to see. */
function awakened(owner: ActorState): ActorState {
  if (owner.awake) return owner;
  owner.awake = true;
  owner.stages = owner.actor.stages.map((stage) => ({
    stage,
    owner,
    lanes: (stage.byPhase ? ([0, 1, 2] as const) : [null]).map(freshLane),
    picked: false,
    tripped: false,
    since: null,
  }));
  return owner;
}

const freshLane = (phase: Phase | null): Lane => ({ phase, progress: new Map(), running: [], seen: null });

const progressOf = (lane: Lane, { id }: Running): Progress => lane.progress.get(id) ?? atRest;

/** "51", "21 zone 2". */
const named = ({ code }: Stage, { name }: Running): string => (name ? `${code} ${name}` : code);

const currentOfPhase = (seen: SeenCurrents, phase: Phase): number => seenOfPhase(seen, phase).phaseA;

function advanceLane(stage: Stage, lane: Lane, seconds: number): void {
  if (lane.running.length === 0 && lane.progress.size === 0) return;
  const next = new Map<string, Progress>();
  for (const running of lane.running)
    next.set(running.id, stage.advance(progressOf(lane, running), lane.seen!, running, seconds));
  for (const [id, before] of lane.progress) {
    if (next.has(id) || !lane.seen) continue;
    const after = stage.advance(before, lane.seen, null, seconds);
    if (after.share > 0) next.set(id, after);
  }
  lane.progress = next;
}
