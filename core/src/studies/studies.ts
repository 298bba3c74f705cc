/**
 * Studies of one network in any of its states, each made once: the one place where engines are kept. A state that differs from another one by an
 * outage takes its factored networks over; a model that differs from the one before by a few values takes its studies over.
 */
import {
  iec60909Study,
  outageStudy,
  revisedStudy,
  rewiredStudy,
  type Iec60909Study,
  type StudyOptions,
} from '../faults/iec60909/study';
import { alternating, directPart } from '../model/directPart';
import { conditionOf, conditionsOf, inState, networkIn, together, type State } from '../model/state';
import { faultCaseOf, maximumSources, minimumSources, type Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { settingsOf, withElements, type Network } from '../model/network';
import type { EarthingSwitch, Switch } from '../model/switching';
import { loadFlow, type LoadFlow } from '../flow/loadFlow';
import { c37Study, type C37Study } from '../faults/c37/study';
import { voltageFactor } from '../faults/iec60909/voltageFactor';
import { differsElectrically } from './electrical';

/** With more elements changed than these a study is made anew. */
const mostChanges = 8;
/** A condition with more elements out than these is assembled. */
const mostOutages = 4;
/** … or with more switches in another position. */
const mostSwitches = 6;

interface Made {
  readonly study: Iec60909Study;
  /** Of the network as drawn, which a change of values can be put into. */
  readonly asDrawn: boolean;
}

interface Earlier {
  readonly study: Iec60909Study;
  /** Elements that have changed since it was made. */
  readonly changed: readonly ElementId[];
}

/** The model before, and all elements that differ. */
export interface Before {
  readonly studies: Studies;
  readonly changed: readonly ElementId[];
}

export class Studies {
  private readonly made: Map<string, Made>;
  private readonly earlier: ReadonlyMap<string, Earlier>;
  /** What was found about the network that currents flow in; gone when that changes, kept when settings, places on the drawing and notes do. */
  private readonly found: Map<string, unknown>;

  /** What alternating current flows in; currents, devices and checks are those of it. */
  readonly network: Network;

  constructor(
    /** The network with its direct current. */
    readonly whole: Network,
    before?: Before,
  ) {
    const network = (this.network = alternating(whole));
    const changed =
      before &&
      [...new Set([...before.changed, ...movedOver(before.studies.whole, whole)])].filter((id) =>
        differsElectrically(before.studies.network.elements.get(id), network.elements.get(id)),
      );
    if (before && changed!.length === 0) {
      this.made = before.studies.made;
      this.earlier = before.studies.earlier;
      this.found = before.studies.found;
    } else {
      this.made = new Map();
      this.earlier = before ? before.studies.handOn(changed!) : new Map();
      this.found = new Map();
    }
  }

  /** All conditions: the two that always exist, then those of the project. */
  get conditions(): readonly Condition[] {
    return conditionsOf(this.network);
  }

  /** Short circuits by IEC 60909-0 in a state. The condition must exist. */
  iec60909(state: State, options: StudyOptions = {}): Iec60909Study {
    const key = this.keyOf(state, options);
    let made = this.made.get(key);
    if (!made) this.made.set(key, (made = this.takenOn(key) ?? this.make(state, options)));
    return made.study;
  }

  /** The same for a state that is passed through once: nothing is kept of it. */
  passing(state: State): Iec60909Study {
    const key = this.keyOf(state, {});
    return (this.made.get(key) ?? this.make(state, {})).study;
  }

  /** Fault duties by IEEE C37.010 in a state, its machines running as in maximum sources. The condition must exist. */
  c37(state: State): C37Study {
    return this.remembered(`c37 ${this.keyOf(state, {})}`, () => c37Study(networkIn(this.network, state)));
  }

  /** The load flow in a state, with taps and reactive limits at work. The condition must exist. */
  flow(state: State): LoadFlow {
    return this.remembered(`flow ${this.keyOf(state, {})}`, () => {
      const faultCase = faultCaseOf(conditionOf(this.network, state.condition)!);
      const factor = voltageFactor(settingsOf(this.network).lowVoltageTolerancePercent);
      return loadFlow(networkIn(this.network, state), { faultCase, voltageFactor: factor });
    });
  }

  /** Found once for the network as currents see it; `key` names everything else that it depends on. */
  remembered<T>(key: string, find: () => T): T {
    if (!this.found.has(key)) this.found.set(key, find());
    return this.found.get(key) as T;
  }

  /** The same for what takes long: yields the share that is done, nothing where it is known. */
  *rememberedSteps<T>(key: string, steps: () => Generator<number, T>): Generator<number, T> {
    if (!this.found.has(key)) this.found.set(key, yield* steps());
    return this.found.get(key) as T;
  }

  /** Whether another one stands on the same network, as far as currents go. */
  sharesCurrentsWith(other: Studies): boolean {
    return other.found === this.found;
  }

  get max(): Iec60909Study {
    return this.iec60909({ condition: maximumSources.id });
  }

  get min(): Iec60909Study {
    return this.iec60909({ condition: minimumSources.id });
  }

  private make(state: State, options: StudyOptions): Made {
    const { outage, ...whole } = state;
    if (outage) return { study: outageStudy(this.iec60909(whole, options), outage), asDrawn: false };
    const byUpdates = this.byUpdates(state, options);
    if (byUpdates) return { study: byUpdates, asDrawn: false };
    const network = networkIn(this.network, state);
    const faultCase = faultCaseOf(conditionOf(this.network, state.condition)!);
    return { study: iec60909Study(network, faultCase, options), asDrawn: network === this.network };
  }

  /**
   * A condition that only takes a few elements out and turns a few switches, by updates of the network as drawn with the same sources; null for any other.
   */
  private byUpdates(state: State, options: StudyOptions): Iec60909Study | null {
    if (state.openEnd) return null;
    const own = conditionOf(this.network, state.condition)!;
    const {
      out = [],
      stopped = [],
      open,
      closed,
      ...rest
    } = state.alterations ? together(own, state.alterations) : own;
    if ([rest.earthed, rest.running, rest.taps, rest.voltages].some((list) => list?.length)) return null;
    const gone = [...new Set([...out, ...stopped])].filter((id) => this.network.elements.has(id));
    const turned = [...this.turned(open, true), ...this.turned(closed, false)];
    const toggled = turned.filter((each) => each.kind === 'switch');
    if (gone.length + turned.length === 0 || toggled.length < turned.length) return null;
    if (gone.length > mostOutages || toggled.length > mostSwitches) return null;
    const drawn = this.iec60909(inState(own.sources === 'maximum' ? maximumSources : minimumSources), options);
    // What is out stays in it, as in any outage: terminals go on naming it.
    const network = () =>
      withElements(
        this.network,
        toggled.map((each) => ({ ...each, closed: !each.closed })),
      );
    const rewired = toggled.length > 0 ? rewiredStudy(drawn, network, toggled) : drawn;
    return rewired && gone.reduce(outageStudy, rewired);
  }

  /** Of these switches those that are drawn so. */
  private turned(ids: readonly ElementId[] = [], closed: boolean): (Switch | EarthingSwitch)[] {
    return [...new Set(ids)].flatMap((id) => {
      const element = this.network.elements.get(id);
      const turns = element?.kind === 'switch' || element?.kind === 'earthingSwitch';
      return turns && element.closed === closed ? [element] : [];
    });
  }

  /** By what the state is, not by what it is called: a condition that changes makes a study of its own. */
  private keyOf({ condition, alterations, outage, openEnd }: State, options: StudyOptions): string {
    const { sources, ...own } = conditionOf(this.network, condition)!;
    const { open, closed, out, earthed, stopped, running, taps, voltages } = alterations
      ? together(own, alterations)
      : own;
    const changes = [open, closed, out, earthed, stopped, running, taps, voltages];
    const { peak = 'equivalentFrequency', charging = 'auto' } = options;
    return JSON.stringify([sources, changes, outage ?? null, openEnd ?? null, peak, charging]);
  }

  /** The study of the model before with the changed values put in; null where that is not enough. */
  private takenOn(key: string): Made | null {
    const before = this.earlier.get(key);
    const study = before ? revisedStudy(before.study, this.network, before.changed) : null;
    return study && { study, asDrawn: true };
  }

  private handOn(changed: readonly ElementId[]): Map<string, Earlier> {
    const handed = new Map<string, Earlier>();
    for (const [key, { study, changed: before }] of this.earlier)
      handed.set(key, { study, changed: [...new Set([...before, ...changed])] });
    for (const [key, { study, asDrawn }] of this.made) if (asDrawn) handed.set(key, { study, changed });
    for (const [key, each] of handed) if (each.changed.length > mostChanges) handed.delete(key);
    return handed;
  }
}

/** Elements that one of two networks has among its direct current and the other has not: they need not have changed themselves. */
function movedOver(before: Network, after: Network): ElementId[] {
  const [p, q] = [directPart(before), directPart(after)];
  if (p.ids.size === 0 && q.ids.size === 0) return [];
  const all = (part: typeof p) => new Set([...part.ids, ...part.crossing]);
  const [was, is] = [all(p), all(q)];
  return [...was].filter((id) => !is.has(id)).concat([...is].filter((id) => !was.has(id)));
}
