/** What the worker answers: studies of the model it was given last, kept until the model changes. Plain data in and out. */
import { transfer } from 'comlink';
import { findings } from '@mesura/core/checks/findings';
import {
  FaultEngine,
  type FaultDetail,
  type FaultQuery,
  type PlaceQuery,
  type StudyQuery,
} from '@mesura/core/studies/engine';
import { buffersOf, type PackedRows } from '@mesura/core/faults/packed';
import { pairStates, type PairState } from '@mesura/core/grading/margin';
import { referenceFactor, relayFigures, studyPair, type RelayFigures, type StudyPair } from '@mesura/core/grading/seen';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { find, networkOf, ofKind, type Network } from '@mesura/core/model/network';
import type { Problem } from '@mesura/core/model/problem';
import type { GradingPair } from '@mesura/core/model/protection';
import { sheetContent, type SheetContent } from '@mesura/core/sheets/sheet';
import { inSlices } from './slices';

export interface FaultTableAnswer {
  rows: PackedRows;
  /** Of the study as a whole: data that do not fit, a load flow that does not converge. */
  problems: Problem[];
  milliseconds: number;
}

/** What a chart needs besides the settings, which may change under the pointer: all of it independent of them. */
export interface GradingBasis {
  relays: { id: ElementId; factor: number | null; figures: RelayFigures }[];
  pairs: { pair: GradingPair; states: PairState[] }[];
}

export class CoreService {
  private network: Network = networkOf([]);
  private engine = new FaultEngine(this.network);
  private studies: StudyPair | null = null;
  /** Long answers under way; a new model leaves them all off. */
  private readonly wanted = new Set<number>();

  /** Takes over a model; answers after this are about it. */
  load(elements: Element[]): void {
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
    this.studies = null;
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
    this.wanted.add(ticket);
    const control = { isWanted: () => this.wanted.has(ticket), onProgress };
    try {
      const { value: rows, milliseconds } = await inSlices(
        engine.table(study, fault, [...further, ...engine.buses()]),
        control,
      );
      const problems = [...engine.problems(study)];
      return transfer({ rows, problems, milliseconds }, buffersOf(rows));
    } finally {
      this.wanted.delete(ticket);
    }
  }

  faultDetail(study: StudyQuery, fault: FaultQuery, place: PlaceQuery): FaultDetail {
    return this.engine.detail(study, fault, place);
  }

  gradingBasis(chartId: ElementId): GradingBasis | null {
    const chart = find(this.network, 'gradingChart', chartId);
    if (!chart) return null;
    const studies = this.pair();
    const relayOf = (id: ElementId) => find(this.network, 'relay', id);
    return {
      relays: chart.relays.flatMap((id) => {
        const relay = relayOf(id);
        return relay
          ? [
              {
                id,
                factor: referenceFactor(studies.max, relay, chart.referenceKv),
                figures: relayFigures(studies, relay),
              },
            ]
          : [];
      }),
      pairs: chart.pairs.flatMap((pair) => {
        const [below, above] = [relayOf(pair.downstream), relayOf(pair.upstream)];
        return below && above ? [{ pair, states: pairStates(studies, below, above, chart.mode) }] : [];
      }),
    };
  }

  findings(): Problem[] {
    return findings(this.pair());
  }

  sheet(relay: ElementId): SheetContent | null {
    return sheetContent(this.pair(), relay);
  }

  relays(): ElementId[] {
    return ofKind(this.network, 'relay').map((relay) => relay.id);
  }

  private pair(): StudyPair {
    return (this.studies ??= studyPair(this.network));
  }
}
