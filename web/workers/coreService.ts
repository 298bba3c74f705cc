/** What the worker answers: studies of the model it was given last, kept until the model changes. Plain data in and out. */
import { directions, type Directions } from '@mesura/core/grading/directions';
import { networkPairs, type NetworkPair } from '@mesura/core/grading/network';
import { pairsFrom, type FoundPair } from '@mesura/core/grading/chain';
import { chartBasis, nominalKvAt, type ChartBasis } from '@mesura/core/grading/chart/basis';
import { transfer } from 'comlink';
import type { Check } from '@mesura/core/checks/check';
import { compareChecks, type Changed } from '@mesura/core/checks/compare';
import { proposeArc, type ArcProposed } from '@mesura/core/arc/propose';
import { ArcKeeper, type ArcRow } from '@mesura/core/arc/study';
import { arcTable, type ArcTable } from '@mesura/core/arc/table';
import type { DirectMethod } from '@mesura/core/arc/directCurrent';
import { directArcWorking, type DirectArcRow } from '@mesura/core/arc/directStudy';
import { arcWorking } from '@mesura/core/arc/working';
import { directStudy, directWorking, type DirectAnswer } from '@mesura/core/direct/study';
import type { EarthFaultKind } from '@mesura/core/earthReturn/fromNetwork';
import {
  caseOf,
  earthAlong,
  earthDetail,
  earthStudy,
  type AlongAnswer,
  type AlongQuery,
  type EarthDetailResult,
  type EarthQuery,
  type EarthTable,
  type EarthTrial,
} from '@mesura/core/earthReturn/study';
import { boardTable, type BoardRow } from '@mesura/core/switchboards/ratings';
import { caseOfKey, circuitTable, type CircuitTable } from '@mesura/core/lowVoltage/study';
import { circuitProposals, type CircuitProposal, type Free } from '@mesura/core/lowVoltage/propose';
import { listPlan, type ListColumn, type ListPlan, type LoadList } from '@mesura/core/lowVoltage/loadList';
import { circuitWorking } from '@mesura/core/lowVoltage/working';
import { copiedStudy } from '@mesura/core/earthReturn/free';
import { earthWorking } from '@mesura/core/earthReturn/working';
import { Checker, findingsOf, workingOf, type Run } from '@mesura/core/checks/run';
import {
  FaultEngine,
  type FaultDetail,
  type FaultQuery,
  type FaultRow,
  type PlaceQuery,
  type StudyQuery,
} from '@mesura/core/studies/engine';
import type { Course, CourseOptions } from '@mesura/core/faults/course/course';
import { buffersOf, type PackedRows } from '@mesura/core/faults/answers/packed';
import { kinds, type Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { EarthStudy } from '@mesura/core/model/earthing';
import { find, networkOf, settingsOf, withElements, type Network } from '@mesura/core/model/network';
import type { Problem } from '@mesura/core/model/problem';
import type { Measured } from '@mesura/core/model/chart';
import type { RuleBehind, Rulebook, RuleSubject } from '@mesura/core/model/rulebook';
import { subjectOf } from '@mesura/core/proposals/slots';
import { figuresFor, kindsBehind, plantBehind, type Figures } from '@mesura/core/proposals/figures';
import { propose } from '@mesura/core/proposals/propose';
import { type Proposal, type ProposeOptions } from '@mesura/core/proposals/proposal';
import { pathOf } from '@mesura/core/proposals/scope';
import { Studies } from '@mesura/core/studies/studies';
import {
  deviceFrom,
  deviceOf,
  devicesOf,
  inputOf,
  mainInput,
  timeCurrents,
  type DeviceElement,
} from '@mesura/core/protection/device';
import type { Section } from '@mesura/core/working/trace';
import type { IssuableContent, Subject } from '@mesura/core/sheets/content';
import { sheetDifferences, type SheetDifference } from '@mesura/core/sheets/difference';
import type { StoredContent } from '@mesura/core/sheets/digestible';
import { arcContent, packageContent } from '@mesura/core/sheets/documents';
import { sheetContent } from '@mesura/core/sheets/sheet';
import { sheetChecks } from '@mesura/core/sheets/statements';
import { demandsAt, type Demands } from '@mesura/core/equipment/fit';
import { voltageFactor } from '@mesura/core/faults/iec60909/voltageFactor';
import { flowFigures, type FlowFigures } from '@mesura/core/flow/figures';
import { loadFlow, type LoadFlow } from '@mesura/core/flow/loadFlow';
import { flowWithout, outages, type Outage } from '@mesura/core/flow/outages';
import { startMotor, type Start } from '@mesura/core/flow/start';
import { faultCaseOf, maximumSources } from '@mesura/core/model/condition';
import { loadPlaces, loadRanges, type LoadRange } from '@mesura/core/studies/loads';
import type { Change } from '@mesura/core/model/changes';
import type { LibraryKind } from '@mesura/core/model/library';
import { listSheets, readColumns, type ColumnMap, type ListSheet } from '@mesura/core/formats/columns/columns';
import { FileRefusal, type Into, type Report, type Source } from '@mesura/core/formats/format';
import type { Remark } from '@mesura/core/formats/remarks';
import { bytesOf, opened } from '@mesura/core/formats/open';
import { exporters, knownFormats, readingSteps, reported } from '@mesura/core/formats/registry';
import { conditionOf, networkIn } from '@mesura/core/model/state';
import { causesBetween } from '@mesura/core/studies/between';
import type { Causes } from '@mesura/core/studies/causes';
import { compareFaults, type BusDifference } from '@mesura/core/studies/compare';
import type { Complex } from '@mesura/core/linear/complex';
import type { ReachOptions } from '@mesura/core/reach/figures';
import { circuitsOf, isSameEnd } from '@mesura/core/reach/circuits';
import { adequacies, type Adequacy } from '@mesura/core/differential/adequacy';
import { fitted } from '@mesura/core/differential/fit';
import { planeStudy, type PlaneStudy } from '@mesura/core/differential/plane';
import { endCandidates, type EndCandidate } from '@mesura/core/differential/region';
import { stabilityAt, type Stability } from '@mesura/core/differential/stability';
import { differentialRows, type DifferentialRow } from '@mesura/core/differential/summary';
import { SilentTrace } from '@mesura/core/working/trace';
import type { DifferentialFunction } from '@mesura/core/protection/differential/schema';
import type { Trial } from '@mesura/core/model/trial';
import { trialAnswer, type TrialAnswered } from '@mesura/core/trials/answer';
import { search, type Search, type SearchOptions } from '@mesura/core/trials/search';
import { CoverageKeeper, coveringEnds, usualCoverage, type Covered } from '@mesura/core/reach/coverage';
import { neighboursOf } from '@mesura/core/reach/neighbours';
import type { LinePackage } from '@mesura/core/model/linePackage';
import { packageBasis, packageResult, withoutRuns, type PackageAnswer } from '@mesura/core/linePackage/package';
import { reachPlan, type ReachRow } from '@mesura/core/reach/plan';
import { loopTrack, wayOhm, type TrackPoint, type TrackQuery } from '@mesura/core/reach/region';
import { routeOf, type Route } from '@mesura/core/reach/route';
import type { LineEnd } from '@mesura/core/reach/seen';
import { swingOf, type Swing } from '@mesura/core/reach/swing';
import { routeSweep, type SweepLine, type SweepQuery } from '@mesura/core/reach/sweep';
import { inSlices, LeftOff } from './slices';

export interface FaultTableAnswer {
  rows: PackedRows;
  /** Of the study as a whole: data that do not fit, a load flow that does not converge. */
  problems: Problem[];
  milliseconds: number;
}

export interface CoverageAsked {
  /** Ohms of the fault. */
  readonly resistance: number;
  /** On each line. */
  readonly places: number;
  /** Also with everything at the busbars of the line out, one at a time. */
  readonly neighbours: boolean;
  readonly arc: boolean;
}

/** One side of a comparison: the model as it is or a version handed over before, in a condition. */
export interface ComparedSide {
  /** Key of a version; null: the model as it is. */
  readonly version: string | null;
  readonly condition: ElementId;
}

export interface ChecksAnswer {
  checks: readonly Check[];
  findings: Problem[];
  milliseconds: number;
}

/** A pair of the project, its devices by id. */
export type JudgedNetworkPair = Omit<NetworkPair, 'downstream' | 'upstream'> & GradingPairIds;
interface GradingPairIds {
  readonly downstream: ElementId;
  readonly upstream: ElementId;
}

export type FoundDirections = Omit<Directions, 'device'> & { readonly device: ElementId };

/** Who follows whom, and the voltages that the devices stand at. */
export interface FoundPairs {
  pairs: readonly FoundPair[];
  /** Nominal voltage where each device measures, in kV. */
  levels: ReadonlyMap<ElementId, number | null>;
}

/** What a proposal is asked for; its devices by id, null all. */
export type AskedProposal = Omit<ProposeOptions, 'devices'> & { readonly devices: readonly ElementId[] | null };

/** A load with the factor of its power. */
export type Scale = readonly [element: ElementId, factor: number];

export interface FlowAnswer {
  figures: FlowFigures;
  problems: Problem[];
  milliseconds: number;
}

export interface PlaneAnswer {
  readonly study: PlaneStudy;
  readonly stability: readonly Stability[];
}

export interface EndsAnswer {
  readonly candidates: readonly EndCandidate[];
  readonly fitted: DifferentialFunction;
}

export type CourseAnswer =
  { readonly ok: true; readonly course: Course } | { readonly ok: false; readonly problems: readonly Problem[] };

export type StartAnswer =
  | {
      readonly ok: true;
      readonly start: Omit<Start, 'before' | 'motor'> & {
        readonly assumed: readonly string[];
        readonly ratedA: number;
        readonly inertiaKgM2: number | null;
      };
    }
  | { readonly ok: false; readonly problems: readonly Problem[] };

/** A file, and how it is to meet the project. */
export interface ImportAsked {
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly kind: LibraryKind | null;
  readonly mode: 'merge' | 'beside';
  /** Of a list of anybody's making: what stands in which column. */
  readonly columns?: ColumnMap;
}

/** A list whose columns nobody has told yet: its head and the first rows. */
export interface ListAsked {
  readonly name: string;
  readonly heads: readonly string[];
  readonly sample: readonly (readonly string[])[];
  readonly rows: number;
}

const asked = ({ name, heads, rows }: ListSheet): ListAsked => ({
  name,
  heads,
  sample: rows.slice(0, 3),
  rows: rows.length,
});

interface Refused {
  readonly ok: false;
  readonly message: string;
}

/** `canMerge`: whether it matters what is there already. */
export type ImportAnswer =
  | { readonly ok: true; readonly report: Omit<Report, 'taking'>; readonly canMerge: boolean }
  | (Refused & { readonly lists?: readonly ListAsked[] });

export type ExportAnswer =
  | { readonly ok: true; readonly bytes: Uint8Array; readonly extension: string; readonly left: readonly Remark[] }
  | Refused;

const placesAlong = 51;
/** A place inside the line that is as good as its end, as a part of its length. */
const atTheEnd = 1e-6;

const nothing = (): void => undefined;

/** An issued sheet, by its number in the register. */
export interface HeldSheet {
  readonly id: number;
  readonly subject: Subject;
  readonly content: StoredContent;
}

export interface MovedAnswer {
  readonly id: number;
  readonly differences: readonly SheetDifference[];
}

export class CoreService {
  private heldSheets: readonly HeldSheet[] = [];
  /** Of the last report. */
  private takingOver: Report['taking'] | null = null;
  private network: Network = networkOf([]);
  private engine = new FaultEngine(this.network);
  private readonly versions = new Map<string, FaultEngine>();
  /** Keeps what a change does not touch. */
  private readonly checker = new Checker();
  private checksUnderWay: { readonly of: Studies; readonly done: Promise<void> } | null = null;
  private lastRun: { readonly of: Studies; readonly run: Run } | null = null;
  private readonly arcKeeper = new ArcKeeper();
  private readonly maintenanceArcKeeper = new ArcKeeper();
  private readonly triedArcKeeper = new ArcKeeper();
  private earthCases: { of: Studies | null; cases: Map<string, ReturnType<typeof caseOf>> } = {
    of: null,
    cases: new Map(),
  };
  private readonly coverageKeeper = new CoverageKeeper();
  /** Long answers under way; a new model leaves them all off. */
  private readonly wanted = new Set<number>();

  /** Takes over a model; answers after this are about it. */
  load(elements: Element[]): void {
    this.versions.clear();
    this.take(networkOf(elements));
  }

  /** The model with some elements put in place, new or anew, and others gone. */
  change(put: readonly Element[], gone: readonly ElementId[]): void {
    const elements = new Map(this.network.elements);
    for (const id of gone) elements.delete(id);
    for (const element of put) elements.set(element.id, element);
    const changed = [...put.map(({ id }) => id), ...gone];
    this.take({ elements }, { engine: this.engine, changed });
  }

  private take(network: Network, from?: ConstructorParameters<typeof FaultEngine>[1]): void {
    this.wanted.clear();
    this.network = network;
    this.engine = new FaultEngine(network, from);
  }

  /** Nobody waits for this answer any more. */
  leaveOff(ticket: number): void {
    this.wanted.delete(ticket);
  }

  /** Rows of all buses, and of some further places before them. Errors: LeftOff, when it is not wanted any more or the model has changed. */
  async faults(
    study: StudyQuery,
    fault: FaultQuery,
    further: PlaceQuery[],
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<FaultTableAnswer> {
    const { engine } = this;
    const { value: rows, milliseconds } = await this.inSlices(
      ticket,
      onProgress,
      engine.table(study, fault, [...further, ...engine.buses()]),
    );
    const problems = [...engine.problems(study)];
    return transfer({ rows, problems, milliseconds }, buffersOf(rows));
  }

  faultDetail(study: StudyQuery, fault: FaultQuery, place: PlaceQuery): FaultDetail {
    return this.engine.detail(study, fault, place);
  }

  /** Currents over time by IEC 60909; in words why there are none. */
  course(study: StudyQuery, fault: FaultQuery, place: PlaceQuery, options: CourseOptions): CourseAnswer {
    return this.engine.course(study, fault, place, options);
  }

  /** Faults inside a line, at places evenly spread from end to end. */
  faultsAlong(study: StudyQuery, fault: FaultQuery, line: ElementId): FaultRow[] {
    const places = Array.from({ length: placesAlong }, (_, k): PlaceQuery => ({
      at: 'line',
      element: line,
      fraction: Math.min(Math.max(k / (placesAlong - 1), atTheEnd), 1 - atTheEnd),
    }));
    return this.engine.rows(study, fault, places);
  }

  /** The load flow in a condition, with some loads scaled for a what-if, or without an element. */
  flow(condition: ElementId, scaled: readonly Scale[], out: ElementId | null): FlowAnswer {
    const started = performance.now();
    const all = this.flowOf(condition, scaled);
    const flow = out !== null && all.converged ? flowWithout(all, out) : all;
    const problems = [...flow.problems];
    return { figures: flowFigures(flow), problems, milliseconds: performance.now() - started };
  }

  /** Every single outage, in slices; null where the load flow itself does not converge. */
  async outages(
    condition: ElementId,
    scaled: readonly Scale[],
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<Outage[] | null> {
    const flow = this.flowOf(condition, scaled);
    return flow.converged ? (await this.inSlices(ticket, onProgress, outages(flow))).value : null;
  }

  /** A motor that starts; in words why it cannot. */
  start(condition: ElementId, scaled: readonly Scale[], motor: ElementId, reduction: number): StartAnswer {
    const { network, options } = this.flowQuestion(condition, scaled);
    const result = startMotor(network, motor, { ...options, reduction });
    if (!result.ok) return result;
    const { before: _, motor: data, ...start } = result.start;
    return { ok: true, start: { ...start, assumed: data.assumed, ratedA: data.ratedA, inertiaKgM2: data.inertiaKgM2 } };
  }

  /** The largest and smallest load currents of an element over all conditions. */
  loadRange(element: ElementId): { place: string; range: LoadRange }[] {
    const { engine } = this;
    const { network } = engine;
    const kind = network.elements.get(element)?.kind;
    if (!kind) return [];
    const ranges = loadRanges(engine.studies, engine.studies.conditions);
    return loadPlaces(element, kind, kinds[kind].terminals).flatMap((place) => {
      const range = ranges.get(place);
      return range ? [{ place, range }] : [];
    });
  }

  private flowQuestion(condition: ElementId, scaled: readonly Scale[]) {
    const { network } = this.engine;
    const found = conditionOf(network, condition) ?? maximumSources;
    const options = {
      faultCase: faultCaseOf(found),
      voltageFactor: voltageFactor(settingsOf(network).lowVoltageTolerancePercent),
      scaled: new Map(scaled),
    };
    return { network: networkIn(network, { condition: found.id }), options };
  }

  private flowOf(condition: ElementId, scaled: readonly Scale[]): LoadFlow {
    // The flow as drawn is the one that the checks know.
    if (scaled.length === 0 && conditionOf(this.engine.network, condition))
      return this.engine.studies.flow({ condition });
    const { network, options } = this.flowQuestion(condition, scaled);
    return loadFlow(network, options);
  }

  gradingBasis(chartId: ElementId): ChartBasis | null {
    const chart = find(this.network, 'gradingChart', chartId);
    return chart ? chartBasis(this.engine.studies, chart) : null;
  }

  /** Pairs of devices that follow each other, found from the network over all conditions, and the voltages that the devices stand at. */
  pairsFound(): FoundPairs {
    const { studies } = this.engine;
    const pairs = pairsFrom(studies, studies.conditions);
    const levels = devicesOf(this.engine.network).map((device): [ElementId, number | null] => {
      const through = mainInput(device)?.through;
      return [device.id, through === undefined ? null : nominalKvAt(studies, through)];
    });
    return { pairs, levels: new Map(levels) };
  }

  /** Every pair of the project with its margin, in slices. Errors as in {@link faults}. */
  async pairsJudged(ticket: number, onProgress: (share: number) => void): Promise<JudgedNetworkPair[]> {
    const { studies } = this.engine;
    const steps = networkPairs(studies, studies.conditions);
    const { value } = await this.inSlices(ticket, onProgress, steps);
    return value.map(({ downstream, upstream, ...rest }) => ({
      ...rest,
      downstream: downstream.id,
      upstream: upstream.id,
    }));
  }

  /** Settings by the rulebook in use, or by another one that is tried; in slices. Errors as in {@link faults}. */
  async proposed(
    { devices, ...options }: AskedProposal,
    book: Rulebook | null,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<Proposal> {
    const studies = book ? this.studiesWith(book) : this.engine.studies;
    const scope = devices === null ? null : new Set(devices);
    const steps = propose(studies, studies.conditions, { ...options, devices: scope });
    return (await this.inSlices(ticket, onProgress, steps)).value;
  }

  /** Checks that would read otherwise with another rulebook and the settings as they are, worst first; in slices. Errors as in {@link faults}. */
  async checksTouched(book: Rulebook, ticket: number, onProgress: (share: number) => void): Promise<Changed[]> {
    const now = await this.inSlices(ticket, (share) => onProgress(share / 2), this.checker.run(this.engine.studies));
    const then = new Checker().run(this.studiesWith(book));
    const { value } = await this.inSlices(ticket, (share) => onProgress(0.5 + share / 2), then);
    return compareChecks(now.value.checks, value.checks);
  }

  /** Reaches at the ends of lines, by the rulebook in use; in slices. Errors as in {@link faults}. */
  async reaches(
    options: ReachOptions & { readonly fromKv: number },
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<readonly ReachRow[]> {
    return (await this.inSlices(ticket, onProgress, reachPlan(this.engine.studies, options))).value;
  }

  /** Loops of a fault as it moves along lines, in slices. Errors as in {@link faults}. */
  async loopsAlong(
    query: TrackQuery,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<readonly TrackPoint[]> {
    return (await this.inSlices(ticket, onProgress, loopTrack(this.engine.studies, query))).value;
  }

  /** What stands at both ends of a line when it is out, for the path of a swing; null where one end is dead then. */
  swing(end: LineEnd, condition: ElementId): Swing | null {
    return swingOf(this.engine.studies, end, condition);
  }

  /** A fault moved along a route as its devices see it, in slices; null where the lines do not follow each other. Errors as in {@link faults}. */
  async routeSweep(
    query: SweepQuery,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<readonly SweepLine[] | null> {
    return (await this.inSlices(ticket, onProgress, routeSweep(this.engine.studies, query))).value;
  }

  /**
   * Which faults on lines their relays clear, over all conditions; in slices. `circuits`: of these lines; null: of all with distance protection. What a change of
   * settings does not touch is taken over. Errors as in {@link faults}.
   */
  async coverage(
    circuits: readonly ElementId[] | null,
    { resistance, places, neighbours, arc }: CoverageAsked,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<readonly Covered[]> {
    const { studies } = this.engine;
    const plan = await this.inSlices(
      ticket,
      (share) => onProgress(share / 10),
      reachPlan(studies, { merged: false, fromKv: 0 }),
    );
    const relays = coveringEnds(plan.value);
    const wanted = circuitsOf(this.engine.network).filter(({ id, ends }) =>
      circuits ? circuits.includes(id) : relays.some(({ end }) => ends.some((each) => isSameEnd(each, end))),
    );
    const found: Covered[] = [];
    for (const [k, circuit] of wanted.entries()) {
      const steps = this.coverageKeeper.of(studies, studies.conditions, circuit, relays, {
        ...usualCoverage,
        places,
        resistances: [resistance],
        arc,
        outages: neighbours ? neighboursOf(studies, circuit) : [],
      });
      const one = await this.inSlices(ticket, (share) => onProgress(0.1 + (0.9 * (k + share)) / wanted.length), steps);
      for (const each of one.value) found.push(each);
    }
    return found;
  }

  /** All differential functions over all conditions, in slices. Errors as in {@link faults}. */
  async differentials(ticket: number, onProgress: (share: number) => void): Promise<readonly DifferentialRow[]> {
    const { studies } = this.engine;
    return (await this.inSlices(ticket, onProgress, differentialRows(studies, studies.conditions))).value;
  }

  /** One of them in its plane, set otherwise where that is tried; null where it is gone. In slices. */
  async differentialPlane(
    device: ElementId,
    fn: ElementId,
    tried: DeviceElement | null,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<PlaneAnswer | null> {
    const found = this.differentialNamed(device, fn, tried);
    if (!found) return null;
    const { studies } = this.engine;
    const { conditions } = studies;
    const steps = planeStudy(studies, conditions, found.device, found.fn);
    const study = (await this.inSlices(ticket, onProgress, steps)).value;
    const { largest, region } = study;
    // The largest through-fault of all conditions.
    const state = { condition: largest?.condition ?? conditions[0].id, outage: largest?.outage ?? null };
    const stability = region.outside.flatMap(
      (place) => stabilityAt(studies, state, found.device, found.fn, place, '3ph') ?? [],
    );
    return { study, stability };
  }

  /** Relays that could be the other end, and what the function would take from the network. */
  differentialEnds(device: ElementId, fn: ElementId): EndsAnswer | null {
    const found = this.differentialNamed(device, fn, null);
    const input = found && inputOf(found.device, found.fn.input);
    if (!found || !input) return null;
    const { network } = this.engine;
    return { candidates: endCandidates(network, found.device, input), fitted: fitted(network, found.device, found.fn) };
  }

  /** Current transformers of differential and distance protection against what these ask of them. */
  ctAdequacy(): readonly Adequacy[] {
    const { studies } = this.engine;
    return adequacies(studies, studies.conditions, new SilentTrace());
  }

  private differentialNamed(device: ElementId, fn: ElementId, tried: DeviceElement | null) {
    const found = tried ? deviceFrom(this.engine.network, tried) : deviceOf(this.engine.network, device);
    const own = found?.functions.find(
      (each): each is DifferentialFunction => each.id === fn && each.family === 'differential',
    );
    return found && own ? { device: found, fn: own } : null;
  }

  /** A fault played until nothing more happens, and what ought to have happened; with a device set otherwise, where one is tried. */
  trial(trial: Trial, tried: DeviceElement | null): TrialAnswered {
    const { studies } = this.engine;
    if (!tried) return trialAnswer(studies, trial);
    // No current depends on how a device is set.
    const network = withElements(this.network, [tried]);
    return trialAnswer(new Studies(network, { studies, changed: [tried.id] }), trial);
  }

  trials(list: readonly Trial[]): TrialAnswered[] {
    return list.map((trial) => trialAnswer(this.engine.studies, trial));
  }

  /** All faults of the network played and judged, in slices. Errors as in {@link faults}. */
  async trialSearch(
    conditions: readonly ElementId[] | null,
    options: SearchOptions,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<Search> {
    const { studies } = this.engine;
    const asked = studies.conditions.filter(({ id }) => conditions === null || conditions.includes(id));
    return (await this.inSlices(ticket, onProgress, search(studies, asked, options))).value;
  }

  /** Arcs at all places over all conditions, in slices; only what a change touches is played anew. Errors as in {@link faults}. */
  async arcs(
    asked: { readonly compare: boolean; readonly maintenance: boolean },
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<ArcTable> {
    const { studies } = this.engine;
    const keeper = asked.maintenance ? this.maintenanceArcKeeper : this.arcKeeper;
    const steps = arcTable(studies, studies.conditions, { ...asked, only: null }, keeper);
    return (await this.inSlices(ticket, onProgress, steps)).value;
  }

  /** The same of a version that is held. */
  async arcsOf(version: string, ticket: number, onProgress: (share: number) => void): Promise<ArcTable> {
    const { studies } = this.engineOf(version);
    const steps = arcTable(studies, studies.conditions, { compare: false, only: null });
    return (await this.inSlices(ticket, onProgress, steps)).value;
  }

  /** Voltages and short-circuit currents of direct current over all conditions, in slices. */
  async direct(ticket: number, onProgress: (share: number) => void): Promise<DirectAnswer> {
    const { studies } = this.engine;
    return (await this.inSlices(ticket, onProgress, directStudy(studies.whole, studies.conditions))).value;
  }

  /** Earth faults of all stations over the conditions, in slices. */
  async earth(kind: EarthFaultKind, ticket: number, onProgress: (share: number) => void): Promise<EarthTable> {
    const { studies } = this.engine;
    return (await this.inSlices(ticket, onProgress, earthStudy(studies, studies.conditions, kind))).value;
  }

  /** One earth fault with all profiles, with other earthings where they are tried. */
  earthDetail(query: EarthQuery, trial: EarthTrial): EarthDetailResult {
    return earthDetail(this.network, this.earthCase(query), trial);
  }

  /** The same as a study without the network; null where it cannot be computed. `ids` are used up from the first one on. */
  earthCopy(query: EarthQuery, name: string, ids: readonly ElementId[]): EarthStudy | null {
    const { found, time } = this.earthCase(query);
    if (!found.ok) return null;
    const [id, ...rest] = ids;
    return copiedStudy(this.network, found.case, { id, name, durationS: time.timeS, newId: () => rest.shift()! });
  }

  earthWorking(query: EarthQuery): readonly Section[] {
    const { found, time } = this.earthCase(query);
    return found.ok ? earthWorking(this.network, found.case, time) : [];
  }

  /** Earth faults at the towers of a line, in slices. */
  async earthAlong(query: AlongQuery, ticket: number, onProgress: (share: number) => void): Promise<AlongAnswer> {
    return (await this.inSlices(ticket, onProgress, earthAlong(this.engine.studies, query))).value;
  }

  /** Kept while only earthings are tried: the fault is the same. */
  private earthCase(query: EarthQuery): ReturnType<typeof caseOf> {
    const { studies } = this.engine;
    const key = JSON.stringify(query);
    if (this.earthCases.of !== studies) this.earthCases = { of: studies, cases: new Map() };
    let found = this.earthCases.cases.get(key);
    if (!found) this.earthCases.cases.set(key, (found = caseOf(studies, query)));
    return found;
  }

  /** What busbars carry and withstand, over all sections and conditions, in slices. */
  async boards(ticket: number, onProgress: (share: number) => void): Promise<readonly BoardRow[]> {
    const { studies } = this.engine;
    return (await this.inSlices(ticket, onProgress, boardTable(studies, studies.conditions))).value;
  }

  /** All circuits of low-voltage boards over the conditions, in slices. */
  async circuits(ticket: number, onProgress: (share: number) => void): Promise<CircuitTable> {
    const { studies } = this.engine;
    return (await this.inSlices(ticket, onProgress, circuitTable(studies, studies.conditions))).value;
  }

  /** A load list as circuits on a board; `stem`: what identifiers of new elements begin with. */
  loadList(board: ElementId, list: LoadList, columns: readonly (ListColumn | null)[], stem: string): ListPlan {
    let count = 0;
    return listPlan(this.network, board, list, columns, () => `${stem}-${++count}` as ElementId);
  }

  circuitWorking(key: ElementId): readonly Section[] {
    const { studies } = this.engine;
    const own = caseOfKey(studies, studies.conditions, key);
    return own ? circuitWorking(studies.network, own) : [];
  }

  async circuitProposals(
    keys: readonly ElementId[],
    free: Free,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<readonly CircuitProposal[]> {
    const { studies } = this.engine;
    const steps = circuitProposals(studies, studies.conditions, keys, free);
    return (await this.inSlices(ticket, onProgress, steps)).value;
  }

  /** How a short-circuit current of direct current came about. */
  directWorking(element: ElementId, condition: ElementId): readonly Section[] {
    return directWorking(this.network, element, condition) ?? [];
  }

  /** How the energy of an arc of direct current came about. */
  directArcWorking(row: DirectArcRow, condition: ElementId, method: DirectMethod): readonly Section[] {
    const own = row.results.find((each) => each.condition === condition)?.cases[method];
    return own ? directArcWorking(this.network, row, own) : [];
  }

  /** The same at some busbars with devices set otherwise, while a curve is dragged. */
  async arcsTried(
    buses: readonly ElementId[],
    tried: readonly DeviceElement[],
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<readonly ArcRow[]> {
    const { studies } = this.engine;
    const changed = tried.map(({ id }) => id);
    // No current depends on how a device is set.
    const next = new Studies(withElements(this.network, tried), { studies, changed });
    const steps = this.triedArcKeeper.run(next, next.conditions, { compare: false, only: buses });
    return (await this.inSlices(ticket, onProgress, steps)).value;
  }

  /** The slowest setting that brings a place below an energy, in slices. Errors as in {@link faults}. */
  async arcProposal(
    row: ArcRow,
    wantedCal: number,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<ArcProposed> {
    const { studies } = this.engine;
    return (await this.inSlices(ticket, onProgress, proposeArc(studies, studies.conditions, row, wantedCal))).value;
  }

  /** How the energy of a row came about, of one condition and one arcing current. */
  arcWorking(row: ArcRow, condition: ElementId, reduced: boolean): readonly Section[] {
    const result = row.results.find((each) => each.condition === condition);
    return result ? arcWorking(this.network, row, result, reduced) : [];
  }

  /** A line package computed, in slices. Errors as in {@link faults}. */
  async linePackage(pack: LinePackage, ticket: number, onProgress: (share: number) => void): Promise<PackageAnswer> {
    const { studies } = this.engine;
    const { value: basis } = await this.inSlices(ticket, onProgress, packageBasis(studies, pack));
    return { basis: withoutRuns(basis), result: packageResult(studies, pack, basis) };
  }

  /** A way along lines in the plane of impedance, and as a route; null where they do not follow each other. */
  wayAlong(
    lines: readonly ElementId[],
    first?: number,
  ): { readonly ohm: readonly Complex[]; readonly route: Route } | null {
    const { studies } = this.engine;
    const route = routeOf(studies.max.assembly, lines, first);
    return route && { ohm: wayOhm(studies, lines), route };
  }

  /** The same studies with another rulebook: no current depends on it. */
  private studiesWith(book: Rulebook): Studies {
    const { network, engine } = this;
    const settings = { ...settingsOf(network), rulebook: book.id };
    return new Studies(withElements(network, [book, settings]), {
      studies: engine.studies,
      changed: [book.id, settings.id],
    });
  }

  /** A device and all that follow it towards the sources. */
  pathFrom(device: ElementId): ElementId[] {
    const { studies } = this.engine;
    return [...pathOf(studies, studies.conditions, device)];
  }

  /** Devices that a rule is about: with such a function and what it is for behind them; where none has both, with that behind them. */
  devicesFor(subject: RuleSubject, behind: RuleBehind): ElementId[] {
    const { studies } = this.engine;
    const fitting = devicesOf(this.engine.network).filter(
      (device) => mainInput(device) && (behind === 'any' || kindsBehind(plantBehind(studies, device)).has(behind)),
    );
    const having = ['pair', 'currentTransformer'].includes(subject)
      ? fitting
      : fitting.filter((device) => timeCurrents(device).some((curve) => subjectOf(curve) === subject));
    return (having.length > 0 ? having : fitting).map(({ id }) => id);
  }

  /** What rules may name, found for a device and the quantity that it measures; null where it measures nowhere. */
  ruleFigures(id: ElementId, mode: Measured): Figures | null {
    const { studies } = this.engine;
    const device = deviceOf(this.engine.network, id);
    return device && mainInput(device) ? figuresFor(studies, studies.conditions, device, mode, true) : null;
  }

  /** What flows through each device ahead and backward, in slices. Errors as in {@link faults}. */
  async directionsFound(ticket: number, onProgress: (share: number) => void): Promise<FoundDirections[]> {
    const { studies } = this.engine;
    const { value } = await this.inSlices(ticket, onProgress, directions(studies, studies.conditions));
    return value.map(({ device, ...rest }) => ({ ...rest, device: device.id }));
  }

  /** All checks over all conditions, and the findings; in slices, so that nothing else waits. Errors as in {@link faults}. */
  async checks(ticket: number, onProgress: (share: number) => void): Promise<ChecksAnswer> {
    const { network, engine } = this;
    const { studies } = engine;
    const running = this.inSlices(ticket, onProgress, this.checker.run(studies));
    this.checksUnderWay = { of: studies, done: running.then(nothing, nothing) };
    const { value: run, milliseconds } = await running;
    this.lastRun = { of: studies, run };
    return { checks: run.checks, findings: findingsOf(run, network), milliseconds };
  }

  /** All checks of a version that is held, in slices. */
  async checksOf(version: string, ticket: number, onProgress: (share: number) => void): Promise<readonly Check[]> {
    const steps = new Checker().run(this.engineOf(version).studies);
    return (await this.inSlices(ticket, onProgress, steps)).value.checks;
  }

  /** How a check came about. */
  checkWorking(check: Pick<Check, 'id' | 'rule'>): { title: string; sections: readonly Section[] } | null {
    const { studies } = this.engine;
    return workingOf(studies, studies.conditions, check);
  }

  /** What the place of an element asks of equipment, over all conditions. */
  demands(id: ElementId): Demands | null {
    const { studies } = this.engine;
    return demandsAt(studies, studies.conditions, id);
  }

  /** Keeps a version of the project for comparisons, until another project is loaded. */
  holdVersion(key: string, elements: Element[]): void {
    this.versions.set(key, new FaultEngine(networkOf(elements)));
  }

  /** Fault currents of two sides at all buses, in slices. */
  async compare(
    before: ComparedSide,
    after: ComparedSide,
    study: StudyQuery,
    fault: FaultQuery,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<BusDifference[]> {
    const side = ({ version, condition }: ComparedSide) => ({
      engine: this.engineOf(version),
      study: { ...study, condition },
    });
    return (await this.inSlices(ticket, onProgress, compareFaults(side(before), side(after), fault))).value;
  }

  /** What caused the difference at one place, in slices; null where there is no current on one of the sides. */
  async causes(
    before: ComparedSide,
    after: ComparedSide,
    study: StudyQuery,
    fault: FaultQuery,
    place: PlaceQuery,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<Causes | null> {
    const state = ({ version, condition }: ComparedSide) => {
      const { network } = this.engineOf(version);
      return { network, condition: conditionOf(network, condition) ?? maximumSources };
    };
    return (await this.inSlices(ticket, onProgress, causesBetween(state(before), state(after), study, fault, place)))
      .value;
  }

  private engineOf(version: string | null): FaultEngine {
    const held = version === null ? this.engine : this.versions.get(version);
    if (!held) throw new Error('this version is not at hand any more');
    return held;
  }

  /** What a file would bring into the project, in slices; in words why nothing of it can be used. */
  async importReport(
    { name, bytes, kind, mode, columns }: ImportAsked,
    page: ElementId | null,
    /** What identifiers of new elements begin with; nothing in the project begins so. */
    prefix: string,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<ImportAnswer> {
    const file = await opened(name, bytes);
    if (!file.ok) return file;
    const { network } = this;
    let made = 0;
    const newId = () => `${prefix}-${++made}` as ElementId;
    const into = { network, newId, mode, ...(page ? { page } : {}), ...(kind ? { kind } : {}) };
    if (columns) return this.listReport(file.source, columns, into, ticket, onProgress);
    const { value: reading } = await this.inSlices(ticket, onProgress, readingSteps(file.source, into));
    if (!reading) {
      const lists = listSheets(file.source);
      return {
        ok: false,
        message: `${name} is none of these: ${knownFormats()}`,
        ...(lists.length > 0 && { lists: lists.map(asked) }),
      };
    }
    const { taking = null, ...report } = await reported(reading, into);
    this.takingOver = taking;
    return { ok: true, report, canMerge: 'brought' in reading };
  }

  /** A list of anybody's making, its columns as a person said. */
  private async listReport(
    source: Source,
    columns: ColumnMap,
    into: Into,
    ticket: number,
    onProgress: (share: number) => void,
  ): Promise<ImportAnswer> {
    try {
      const { value: brought } = await this.inSlices(ticket, onProgress, readColumns(source, columns, this.network));
      const { taking = null, ...report } = await reported({ brought }, into);
      this.takingOver = taking;
      return { ok: true, report, canMerge: true };
    } catch (error) {
      if (error instanceof FileRefusal) return { ok: false, message: error.message };
      throw error;
    }
  }

  /** The batch that takes the chosen entries of the last report, and nothing else. */
  importTaking(keys: readonly string[]): readonly Change[] | null {
    return this.takingOver?.(new Set(keys)) ?? null;
  }

  /** A file of the project, with what it has no room for; in words why there is none. */
  async exported(id: string, project: string): Promise<ExportAnswer> {
    const exporter = exporters.find((each) => each.id === id);
    if (!exporter) return { ok: false, message: `There is no format "${id}".` };
    const { extension } = exporter;
    try {
      const { content, left = [] } = exporter.write(this.network, project, '');
      const bytes = await bytesOf(content, extension);
      return transfer({ ok: true, bytes, extension, left }, [bytes.buffer as ArrayBuffer]);
    } catch (error) {
      if (error instanceof FileRefusal) return { ok: false, message: error.message };
      throw error;
    }
  }

  /** What a sheet would say as things stand, in slices; null where its subject is gone. */
  async sheet(subject: Subject, ticket: number, onProgress: (share: number) => void): Promise<IssuableContent | null> {
    await this.checksAtHand(ticket);
    return (await this.inSlices(ticket, onProgress, this.sheetSteps(subject))).value;
  }

  /** Checks that run just now are waited for rather than run twice. */
  private async checksAtHand(ticket: number): Promise<void> {
    if (this.checksUnderWay?.of !== this.engine.studies) return;
    this.wanted.add(ticket);
    await this.checksUnderWay.done;
    if (!this.wanted.has(ticket)) throw new LeftOff('calculation cancelled');
  }

  /** Issued sheets that are asked about again and again; they never change. */
  holdSheets(sheets: readonly HeldSheet[]): void {
    this.heldSheets = sheets;
  }

  /** What of the held sheets is no longer as it was signed, in slices; those that say the same are left out. */
  async sheetsMoved(ticket: number, onProgress: (share: number) => void): Promise<readonly MovedAnswer[]> {
    await this.checksAtHand(ticket);
    return (await this.inSlices(ticket, onProgress, this.movedSteps(this.heldSheets))).value;
  }

  private *movedSteps(issued: readonly HeldSheet[]): Generator<number, readonly MovedAnswer[]> {
    const moved: MovedAnswer[] = [];
    for (const [k, { id, subject, content }] of issued.entries()) {
      yield k / issued.length;
      const now = yield* this.sheetSteps(subject);
      const differences: readonly SheetDifference[] = now
        ? sheetDifferences(content, now)
        : [{ part: 'device', what: 'It is not in the network any more', before: '', after: '', worse: true }];
      if (differences.length > 0) moved.push({ id, differences });
    }
    return moved;
  }

  private *sheetSteps({ kind, id }: Subject): Generator<number, IssuableContent | null> {
    const { studies } = this.engine;
    if (kind === 'linePackage') return yield* packageContent(studies, id);
    if (kind === 'arcLabel') return yield* arcContent(studies, id, this.arcKeeper);
    const device = deviceOf(this.engine.network, id as ElementId);
    if (!device) return null;
    // The checks of all are at hand after each change; until then those that sheets need are run by themselves.
    let run = this.lastRun?.of === studies ? this.lastRun.run : null;
    if (!run) {
      run = yield* sheetChecks(studies, devicesOf(this.engine.network));
      this.lastRun = { of: studies, run };
    }
    yield 0.9;
    return sheetContent(studies, device.id, run);
  }

  /** Devices that have a sheet. */
  devices(): ElementId[] {
    return devicesOf(this.engine.network).map(({ id }) => id);
  }

  private async inSlices<T>(
    ticket: number,
    onProgress: (share: number) => void,
    steps: Generator<number, T>,
  ): Promise<{ value: T; milliseconds: number }> {
    this.wanted.add(ticket);
    try {
      return await inSlices(steps, { isWanted: () => this.wanted.has(ticket), onProgress });
    } finally {
      this.wanted.delete(ticket);
    }
  }
}
