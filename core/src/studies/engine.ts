/**
 * All methods behind one question: which method in which condition, which fault, at which places. For the screen and the terminal; answers
 * are plain data.
 */
import { once } from '../linear/once';
import { scale, type Complex } from '../linear/complex';
import { nameOf, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import { conditionOf, networkIn, type State } from '../model/state';
import { faultCaseOf } from '../model/condition';
import { ofKind, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import type { Assembly } from '../assembly/assemble';
import { doubtsOf } from '../assembly/doubts';
import type { FaultCase } from '../sequence/stamp';
import { noCurrents, toPhases, type SequenceCurrents, type SequenceValues } from '../sequence/components';
import { c37Study, type C37Study } from '../faults/c37/study';
import { courseOf, type Course, type CourseOptions } from '../faults/course/course';
import { contributionsOf, elementFlowsOf } from '../faults/solution/contributions';
import { nodeVoltages, type TerminalCurrents } from '../faults/solution/flows';
import {
  faultAtPlace,
  prefaultOf,
  raisedBy,
  simultaneousFaults,
  solvedFlows,
  type Iec60909Study,
} from '../faults/iec60909/study';
import { problem, rowFrom, solveC37, solveIec, solveSuperposed, type More } from '../faults/answers/methodRows';
import { RowPacker, type PackedRows } from '../faults/answers/packed';
import type {
  StudyQuery,
  FaultQuery,
  PlaceQuery,
  FaultRow,
  BranchFigures,
  BusFigures,
  FaultDetail,
  SimultaneousAnswer,
} from '../faults/answers/query';
import { BoltedFault, boltedFaults, isBolted } from '../faults/iec60909/bolted';
import { nodeOfPlace, type Disturbance, type DisturbanceResult, type Place } from '../faults/solution/solve';
import {
  currentsDuring,
  superpositionFault,
  superpositionStudy,
  voltagesDuring as superposedVoltages,
  type SuperpositionStudy,
} from '../faults/superposition/study';

import { Studies } from './studies';

export * from '../faults/answers/query';

type Prepared =
  | { readonly method: 'iec60909'; readonly study: Iec60909Study }
  | { readonly method: 'c37'; readonly study: C37Study }
  | { readonly method: 'superposition'; readonly study: SuperpositionStudy };

type PreparedResult = { ok: true; prepared: Prepared } | { ok: false; problems: readonly Problem[] };

/** Solid three-phase faults between two signs of life: some microseconds. */
const rowsAtOnce = 16;

export class FaultEngine {
  private readonly prepared = new Map<string, PreparedResult>();
  private last: { query: StudyQuery; made: PreparedResult } | null = null;

  readonly studies: Studies;

  /** `from`: the engine of the model before, and all elements that differ. */
  /** What alternating current flows in. */
  readonly network: Network;

  constructor(whole: Network, from?: { readonly engine: FaultEngine; readonly changed: readonly ElementId[] }) {
    this.studies = new Studies(whole, from && { studies: from.engine.studies, changed: from.changed });
    this.network = this.studies.network;
  }

  /** Rows for some places, or for all buses: highest voltage first, then by name. */
  rows(study: StudyQuery, fault: FaultQuery, places: readonly PlaceQuery[] = this.buses()): FaultRow[] {
    return places.map((place) => this.row(study, fault, place));
  }

  /** The same packed, in steps: yields how much of it is done, so that a long table can be left off or shown to progress. */
  *table(
    study: StudyQuery,
    fault: FaultQuery,
    places: readonly PlaceQuery[] = this.buses(),
  ): Generator<number, PackedRows> {
    const { method } = study;
    const rows = new RowPacker({ kind: fault.kind, method, faultCase: this.caseOf(study) }, places.length);
    yield 0;
    const made = this.prepare(study);
    const iec = made.ok && made.prepared.method === 'iec60909' ? made.prepared.study : null;
    const slow = (fault.breakingS ?? fault.durationS ?? null) !== null;
    const bolted = iec && !slow && isBolted(iec, fault) ? boltedFaults(iec) : null;
    const scratch = new BoltedFault();
    const names = places === this.buses() ? this.busNames() : null;
    for (let k = 0; k < places.length; k++) {
      const place = places[k];
      const node = bolted && place.at === 'terminal' ? nodeOfPlace(iec!.assembly, place) : undefined;
      const quick = node !== undefined && bolted!(node, scratch);
      if (quick && place.at === 'terminal') rows.putBolted(place, names?.[k] ?? this.nameOf(place), scratch);
      else rows.add(this.row(study, fault, place));
      if (!quick || k % rowsAtOnce === 0 || k === places.length - 1) yield (k + 1) / places.length;
    }
    return rows.done();
  }

  /** All buses as places: highest voltage first, then by name. */
  readonly buses = once((): readonly PlaceQuery[] => {
    const { compare } = new Intl.Collator('en', { numeric: true });
    return [...ofKind(this.network, 'bus')]
      .sort((p, q) => q.nominalKv - p.nominalKv || compare(p.name, q.name))
      .map((bus) => ({ at: 'terminal', element: bus.id, terminal: 0 }));
  });

  private readonly busNames = once(() => this.buses().map((place) => this.nameOf(place)));

  row(study: StudyQuery, fault: FaultQuery, place: PlaceQuery): FaultRow {
    return this.solve(study, fault, place).row;
  }

  detail(study: StudyQuery, fault: FaultQuery, place: PlaceQuery): FaultDetail {
    const { row, more } = this.solve(study, fault, place);
    if (!more) return { row, contributions: [], flows: [], branches: [], buses: [], working: null };
    const { state, flows, voltages, working } = more();
    return {
      row,
      contributions: contributionsOf(state, flows),
      flows: elementFlowsOf(state, flows),
      branches: branchesOf(state.assembly, flows),
      buses: busesOf(state.assembly, voltages),
      working: working(),
    };
  }

  /** Currents over time by IEC 60909; problems where there is no such fault. */
  course(
    study: StudyQuery,
    fault: FaultQuery,
    place: PlaceQuery,
    options: CourseOptions,
  ): { ok: true; course: Course } | { ok: false; problems: readonly Problem[] } {
    const open = place.at === 'openEnd' ? { element: place.element, terminal: place.terminal } : undefined;
    const made = this.prepare({ ...study, method: 'iec60909', ...(open && { openEnd: open }) });
    if (!made.ok) return made;
    if (made.prepared.method !== 'iec60909') return { ok: false, problems: [] };
    const at: Place = open ? { at: 'terminal', ...open } : (place as Place);
    const found = faultAtPlace(made.prepared.study, at, fault);
    return found.ok ? { ok: true, course: courseOf(found.fault, options) } : found;
  }

  /** Several faults at once, broken conductors among them. */
  simultaneous(
    study: StudyQuery,
    disturbances: readonly Disturbance[],
  ): { ok: true; answer: SimultaneousAnswer } | { ok: false; problems: readonly Problem[] } {
    const made = this.prepare(study);
    if (!made.ok) return made;
    const { prepared } = made;
    const answer = (
      results: readonly DisturbanceResult[],
      assembly: Assembly,
      flows: TerminalCurrents,
      voltages: (node: number) => SequenceValues,
    ) => ({
      ok: true as const,
      answer: {
        results: results.map((result) => ({ ...result, voltagePhases: toPhases(result.voltage) })),
        branches: branchesOf(assembly, flows),
        buses: busesOf(assembly, voltages),
      },
    });
    if (prepared.method === 'superposition') {
      const solved = superpositionFault(prepared.study, disturbances);
      if (!solved.ok) return solved;
      const { fault } = solved;
      return answer(fault.results, prepared.study.assembly, currentsDuring(fault), (node) =>
        superposedVoltages(fault, node),
      );
    }
    if (prepared.method === 'c37')
      return { ok: false, problems: [problem('fault.method', 'IEEE C37.010 knows one fault at a time')] };
    const solved = simultaneousFaults(prepared.study, disturbances);
    if (!solved.ok) return solved;
    const { assembly } = prepared.study;
    const { reference } = solved.solution;
    const { voltageAt } = prefaultOf(prepared.study, reference, raisedBy(prepared.study, solved.solution.ports[0]));
    return answer(solved.results, assembly, solvedFlows(prepared.study, solved.solution), (node) =>
      nodeVoltages(assembly, solved.solution, node, voltageAt(node)),
    );
  }

  /** Problems of the study itself: data that do not fit, no convergence. */
  problems(study: StudyQuery): readonly Problem[] {
    const made = this.prepare(study);
    if (!made.ok) return made.problems;
    const { prepared } = made;
    const assembly = prepared.method === 'c37' ? prepared.study.networks.firstCycle.assembly : prepared.study.assembly;
    const flow = prepared.method === 'superposition' ? prepared.study.flow.problems : [];
    return [...assembly.problems, ...doubtsOf(assembly), ...flow];
  }

  /** In which case the faults of a condition are calculated; of one that does not exist, the maximum. */
  private caseOf({ condition }: State): FaultCase {
    const found = conditionOf(this.network, condition);
    return found ? faultCaseOf(found) : 'max';
  }

  private prepare(query: StudyQuery): PreparedResult {
    // A table asks with the same object for every row.
    if (this.last?.query === query) return this.last.made;
    const made = this.made(query);
    this.last = { query, made };
    return made;
  }

  private made(query: StudyQuery): PreparedResult {
    const { method, prefaultPercent, current, condition, alterations, outage, openEnd } = query;
    if (!conditionOf(this.network, condition))
      return { ok: false, problems: [problem('condition.unknown', `there is no condition "${condition}"`)] };
    if (method === 'iec60909') return { ok: true, prepared: { method, study: this.studies.iec60909(query, query) } };
    const state = { condition, alterations, outage, openEnd };
    const key = JSON.stringify([method, conditionOf(this.network, condition), state, prefaultPercent, current]);
    let made = this.prepared.get(key);
    if (!made) this.prepared.set(key, (made = this.make(query, networkIn(this.network, state))));
    return made;
  }

  private make(query: StudyQuery, network: Network): PreparedResult {
    const { method, prefaultPercent, current } = query;
    if (method === 'c37')
      return { ok: true, prepared: { method, study: c37Study(network, { prefaultPercent, current }) } };
    const made = superpositionStudy(network, this.caseOf(query));
    return made.ok ? { ok: true, prepared: { method: 'superposition', study: made.study } } : made;
  }

  private nameOf(place: PlaceQuery): string {
    return nameOfPlace(place, this.network.elements.get(place.element));
  }

  private solve(query: StudyQuery, fault: FaultQuery, asked: PlaceQuery): { row: FaultRow; more?: () => More } {
    const place: Place =
      asked.at === 'openEnd' ? { at: 'terminal', element: asked.element, terminal: asked.terminal } : asked;
    const made = this.prepare(
      asked.at === 'openEnd' ? { ...query, openEnd: { element: asked.element, terminal: asked.terminal } } : query,
    );
    const element = this.network.elements.get(asked.element);
    const common = {
      place: asked,
      name: nameOfPlace(asked, element),
      kind: fault.kind,
      method: query.method,
      faultCase: this.caseOf(query),
    };
    const nominal = element?.kind === 'bus' ? element.nominalKv : 0;
    const refused = (problems: readonly Problem[]) => ({
      row: rowFrom(common, nominal, null, problems),
    });
    if (query.outage === asked.element && asked.at !== 'terminal')
      return refused([problem('fault.place', `${common.name} is out of service`, asked.element)]);
    if (!made.ok) return refused(made.problems);
    const { prepared } = made;
    if (prepared.method === 'iec60909') return solveIec(prepared.study, place, fault, common, refused);
    if (prepared.method === 'c37') return solveC37(prepared.study, place, fault, common, refused);
    return solveSuperposed(prepared.study, place, fault, common, refused);
  }
}

function nameOfPlace(place: PlaceQuery, element: Element | undefined): string {
  const name = element ? nameOf(element) : place.element;
  if (place.at === 'line') return `${name} at ${Number((place.fraction * 100).toPrecision(4))} %`;
  if (place.at === 'openEnd') return `${name}, end ${place.terminal + 1} open`;
  return element?.kind === 'bus' ? name : `${name}, terminal ${place.terminal + 1}`;
}

/** Currents into all branches and machines at each of their terminals, as phases and components. */
function branchesOf({ network, topology }: Assembly, flows: TerminalCurrents): BranchFigures[] {
  return [...flows].map(([key, out]): BranchFigures => {
    const at = key.lastIndexOf(':');
    const element = key.slice(0, at) as ElementId;
    const node = topology.nodes[topology.nodeOf.get(key)!];
    const minus = (z: Complex) => scale(z, -1);
    const components: SequenceCurrents = {
      positive: minus(out.positive),
      negative: minus(out.negative),
      zero: minus(out.zero),
    };
    return {
      element,
      terminal: Number(key.slice(at + 1)),
      name: nameOf(network.elements.get(element)!),
      end: node.buses[0]?.name ?? '',
      components,
      phases: toPhases(components),
    };
  });
}

function busesOf({ network, topology, supplied }: Assembly, voltages: (node: number) => SequenceValues): BusFigures[] {
  return ofKind(network, 'bus').map((bus) => {
    const node = topology.nodeAt(bus.id, 0)!;
    const components = supplied[node] ? voltages(node) : noCurrents;
    return { bus: bus.id, name: bus.name, nominalKv: bus.nominalKv, components, phases: toPhases(components) };
  });
}
