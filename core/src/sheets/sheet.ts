/** What a setting sheet contains, as data: the screen, the PDF and the frozen revision are made from this alone. */
import { sensitivities } from '../checks/findings';
import { pairMargin, pairStates, type PairMargin } from '../grading/margin';
import { ctOf, referenceFactor, relayFigures, type StudyPair } from '../grading/seen';
import { nameOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { find, ofKind, settingsOf } from '../model/network';
import type { GradingChart, Relay } from '../model/protection';
import { characteristics } from '../protection/overcurrent/characteristics';
import {
  isDefinite,
  primaryRelay,
  relayCurve,
  tripTime,
  type CurvePoint,
  type Measured,
  type SeenCurrents,
} from '../protection/overcurrent/relay';

export interface SheetFunction {
  readonly code: string;
  readonly characteristic: string;
  readonly pickupIn: number;
  readonly primaryA: number;
  readonly secondaryA: number;
  readonly timeMultiplier: number | null;
  readonly delayS: number | null;
}

export interface SheetFault {
  readonly place: string;
  readonly nominalKv: number;
  readonly kind: string;
  readonly faultCase: string;
  readonly phaseA: number;
  readonly residualA: number;
  /** Null when the relay does not pick up. */
  readonly tripS: number | null;
  readonly by: string | null;
}

export interface SheetMargin {
  readonly chart: string;
  readonly measured: Measured;
  readonly downstream: string;
  readonly upstream: string;
  readonly verdict: PairMargin['verdict'];
  readonly reason: string;
  readonly wantedS: number;
  readonly marginS: number | null;
  readonly atA: number | null;
}

export interface SheetCurve {
  readonly label: string;
  readonly own: boolean;
  readonly points: readonly CurvePoint[];
}

export interface SheetContent {
  readonly relay: { readonly id: ElementId; readonly name: string; readonly device: string; readonly note: string };
  readonly owner: string;
  readonly frequencyHz: number;
  readonly ct: {
    readonly name: string;
    readonly primaryA: number;
    readonly secondaryA: number;
    readonly accuracy: string;
  } | null;
  readonly nominalKv: number | null;
  readonly trips: readonly string[];
  readonly functions: readonly SheetFunction[];
  readonly notInUse: readonly string[];
  readonly faults: readonly SheetFault[];
  readonly sensitivities: readonly {
    readonly measured: Measured;
    readonly place: string;
    readonly currentA: number;
    readonly factor: number;
  }[];
  readonly margins: readonly SheetMargin[];
  readonly chart: {
    readonly measured: Measured;
    readonly referenceKv: number;
    readonly curves: readonly SheetCurve[];
  }[];
}

/** Content of the sheet of one relay as things stand; null when there is no such relay. */
export function sheetContent(studies: StudyPair, relayId: ElementId): SheetContent | null {
  const { network, topology } = studies.max.assembly;
  const relay = find(network, 'relay', relayId);
  if (!relay) return null;
  const ct = ctOf(network, relay);
  const settings = settingsOf(network);
  const node = ct && topology.nodeAt(ct.id, 0);
  const nominalKv = node === undefined ? null : topology.nodes[node].nominalKv;
  const charts = ofKind(network, 'gradingChart').filter((chart) => chart.relays.includes(relayId));
  return rounded({
    relay: { id: relay.id, name: relay.name, device: relay.device, note: relay.note },
    owner: settings.owner,
    frequencyHz: settings.frequencyHz,
    ct: ct ? { name: ct.name, primaryA: ct.primaryA, secondaryA: ct.secondaryA, accuracy: ct.accuracy } : null,
    nominalKv,
    trips: relay.trips.map((id) => nameOf(network.elements.get(id)!)),
    functions: ct ? sheetFunctions(relay, ct.primaryA, ct.secondaryA) : [],
    notInUse: relay.functions.filter((fn) => !fn.enabled).map((fn) => fn.code),
    faults: ct ? sheetFaults(studies, relay) : [],
    sensitivities: sensitivities(studies, relay).map(({ measured, figure, factor, pickupA }) => ({
      measured,
      place: figure.placeName,
      currentA: factor * pickupA,
      factor,
    })),
    margins: charts.flatMap((chart) => sheetMargins(studies, chart, relayId)),
    chart: nominalKv === null ? [] : sheetCharts(studies, relay, charts, nominalKv),
  });
}

/**
 * Numbers to nine significant digits: the last bits of exp and log differ from one engine to the next, and must not make a sheet
 * look changed.
 */
function rounded<T>(value: T): T {
  if (typeof value === 'number') return (Number.isFinite(value) ? Number(value.toPrecision(9)) : value) as T;
  if (Array.isArray(value)) return value.map(rounded) as T;
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, rounded(inner)])) as T;
}

const sheetFunctions = (relay: Relay, primaryA: number, secondaryA: number): SheetFunction[] =>
  relay.functions
    .filter((fn) => fn.enabled)
    .map((fn) => ({
      code: fn.code,
      characteristic: isDefinite(fn) ? characteristics.definite.title : characteristics[fn.characteristic].title,
      pickupIn: fn.pickup,
      primaryA: fn.pickup * primaryA,
      secondaryA: fn.pickup * secondaryA,
      timeMultiplier: isDefinite(fn) ? null : fn.timeMultiplier,
      delayS: isDefinite(fn) ? fn.delayS : null,
    }));

function sheetFaults(studies: StudyPair, relay: Relay): SheetFault[] {
  const { network } = studies.max.assembly;
  const primary = primaryRelay(relay, ctOf(network, relay)!);
  const trip = (seen: SeenCurrents) => {
    const { timeS, by } = tripTime(primary, seen);
    return { tripS: Number.isFinite(timeS) ? timeS : null, by: by?.source.code ?? null };
  };
  const { closeIn, farEnd } = relayFigures(studies, relay);
  return [...closeIn, ...farEnd].map((figure) => ({
    place: figure.placeName,
    nominalKv: figure.nominalKv,
    kind: figure.kind,
    faultCase: figure.faultCase,
    phaseA: figure.seen.phaseA,
    residualA: figure.seen.residualA,
    ...trip(figure.seen),
  }));
}

function sheetMargins(studies: StudyPair, chart: GradingChart, relayId: ElementId): SheetMargin[] {
  const { network } = studies.max.assembly;
  return chart.pairs
    .filter((pair) => pair.downstream === relayId || pair.upstream === relayId)
    .map((pair) => {
      const below = find(network, 'relay', pair.downstream)!;
      const above = find(network, 'relay', pair.upstream)!;
      const margin = pairMargin(network, pairStates(studies, below, above, chart.mode), pair, chart.mode);
      return {
        chart: chart.name,
        measured: chart.mode,
        downstream: below.name,
        upstream: above.name,
        verdict: margin.verdict,
        reason: margin.reason,
        wantedS: margin.wantedS,
        marginS: margin.decisive?.marginS ?? null,
        atA: margin.decisive?.downstreamA ?? null,
      };
    });
}

/** The relay's own curves and those of its grading partners, referred to the relay's level; a chart for phase and one for earth. */
function sheetCharts(
  studies: StudyPair,
  relay: Relay,
  charts: readonly GradingChart[],
  referenceKv: number,
): SheetContent['chart'] {
  const { network } = studies.max.assembly;
  return (['phase', 'earth'] as const).flatMap((measured) => {
    const partners = charts
      .filter((chart) => chart.mode === measured)
      .flatMap((chart) => chart.pairs)
      .filter((pair) => pair.downstream === relay.id || pair.upstream === relay.id)
      .flatMap((pair) => [pair.downstream, pair.upstream]);
    const curves = [...new Set([relay.id, ...partners])].flatMap((id): SheetCurve[] => {
      const other = find(network, 'relay', id);
      const ct = other && ctOf(network, other);
      const factor = other && referenceFactor(studies.max, other, referenceKv);
      if (!other || !ct || factor === null || factor === undefined) return [];
      const primary = primaryRelay(other, ct);
      const pickup = Math.min(...primary.functions.filter((fn) => fn.measured === measured).map((fn) => fn.pickupA));
      if (!Number.isFinite(pickup)) return [];
      const points = relayCurve(primary, measured, largestSeen(studies, other, measured) || pickup * 20, 30);
      return [
        {
          label: other.name,
          own: id === relay.id,
          points: points.map((p) => ({ ...p, currentA: p.currentA * factor })),
        },
      ];
    });
    return curves.some((curve) => curve.own) ? [{ measured, referenceKv, curves }] : [];
  });
}

/** A curve ends at the largest current that its relay can see; nought when none reaches it. */
const largestSeen = (studies: StudyPair, relay: Relay, measured: Measured): number =>
  Math.max(
    0,
    ...relayFigures(studies, relay).closeIn.map(({ seen }) => (measured === 'phase' ? seen.phaseA : seen.residualA)),
  );
