/** What the worker answers: studies of the model it was given last, kept until the model changes. Plain data in and out. */
import { findings } from '@mesura/core/checks/findings';
import {
  contributions,
  elementFlows,
  type Contribution,
  type ElementFlow,
} from '@mesura/core/faults/iec60909/contributions';
import type { FaultKind } from '@mesura/core/faults/kinds';
import { faultAt, iec60909Study, type Iec60909Study } from '@mesura/core/faults/iec60909/study';
import { faultWorking, type Working } from '@mesura/core/faults/iec60909/working';
import { faultTable, type FaultRow } from '@mesura/core/faults/report';
import { pairStates, type PairState } from '@mesura/core/grading/margin';
import { referenceFactor, relayFigures, studyPair, type RelayFigures } from '@mesura/core/grading/seen';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { find, networkOf, ofKind, type Network } from '@mesura/core/model/network';
import type { Problem } from '@mesura/core/model/problem';
import type { GradingPair } from '@mesura/core/model/protection';
import type { FaultCase } from '@mesura/core/sequence/stamp';
import { sheetContent, type SheetContent } from '@mesura/core/sheets/sheet';

export interface FaultTableAnswer {
  rows: FaultRow[];
  milliseconds: number;
}

export interface FaultDetail {
  contributions: Contribution[];
  flows: ElementFlow[];
  working: Working;
}

/** What a chart needs besides the settings, which may change under the pointer: all of it independent of them. */
export interface GradingBasis {
  relays: { id: ElementId; factor: number | null; figures: RelayFigures }[];
  pairs: { pair: GradingPair; states: PairState[] }[];
}

export class CoreService {
  private network: Network = networkOf([]);
  private studies: { max?: Iec60909Study; min?: Iec60909Study } = {};

  /** Takes over a model; answers after this are about it. */
  load(elements: Element[]): void {
    this.network = networkOf(elements);
    this.studies = {};
  }

  faults(kind: FaultKind, faultCase: FaultCase): FaultTableAnswer {
    const started = performance.now();
    const rows = faultTable(this.study(faultCase), kind);
    return { rows, milliseconds: performance.now() - started };
  }

  faultDetail(bus: ElementId, kind: FaultKind, faultCase: FaultCase): FaultDetail | null {
    const study = this.study(faultCase);
    const result = faultAt(study, bus, 0, kind);
    if (!result.ok) return null;
    return {
      contributions: contributions(result.fault),
      flows: elementFlows(result.fault),
      working: faultWorking(result.fault),
    };
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

  private study(faultCase: FaultCase): Iec60909Study {
    return (this.studies[faultCase] ??= iec60909Study(this.network, faultCase));
  }

  private pair() {
    const { max, min } = this.studies;
    if (max && min) return { max, min };
    const made = studyPair(this.network);
    this.studies = { max: max ?? made.max, min: min ?? made.min };
    return { max: this.studies.max!, min: this.studies.min! };
  }
}
