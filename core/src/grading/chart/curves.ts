/** What is drawn on a chart, computed from settings (stored or under trial) and the basis of the chart. Pure. */
import {
  chartStyles,
  modesOf,
  type FlagKind,
  type GradingChart,
  type GradingPair,
  type Measured,
} from '../../model/chart';
import type { ElementId } from '../../model/fields';
import type { Network } from '../../model/network';
import { curvePoints, curvesOf, quantityOfMode, type CurvePoint, type Curves, type Edge } from '../../protection/curve';
import {
  currentOf,
  deviceFrom,
  deviceOf,
  withFunctions,
  type Device,
  type DeviceElement,
} from '../../protection/device';
import type { TimeCurrent } from '../../protection/family';
import type { DeviceFunction } from '../../protection/schemas';
import { kindsFor } from '../figures';
import { pairMargin, type PairMargin, type Trials } from '../margin';
import { proposeFor, type Proposal } from '../proposal';
import type { ChartBasis, ChartDevice } from './basis';
import { guestDevice } from './guest';

/** Devices and guests with settings under trial, by id. */
export type Edited = ReadonlyMap<ElementId, DeviceElement>;

/** Settings that curves are compared with, by device. */
export type Compared = ReadonlyMap<ElementId, readonly DeviceFunction[]>;

/** The curve of one device for one quantity. */
export interface ChartCurve {
  /** Of this curve among all of its chart. */
  readonly key: string;
  readonly label: string;
  readonly mode: Measured;
  /** As set under trial, or as stored. */
  readonly device: Device;
  readonly stored: Device;
  readonly isEdited: boolean;
  readonly isGuest: boolean;
  /** Drawn beside the curve of another quantity of the same device. */
  readonly isSecond: boolean;
  /** Index of its colour, and of its dash. */
  readonly style: number;
  readonly dash: number;
  /** Amperes on the chart for one primary ampere. */
  readonly factor: number;
  readonly points: readonly CurvePoint[];
  /** What a recloser does in its fast operations; empty where it has none. */
  readonly fast: readonly CurvePoint[];
  /** Edges of what it really does; null where bands are not drawn, or there is none. */
  readonly band: {
    readonly early: readonly CurvePoint[];
    readonly late: readonly CurvePoint[];
    readonly solid: boolean;
  } | null;
  /** The curve that it is compared with, else the stored one behind an edited one. */
  readonly ghost: readonly CurvePoint[];
  /** Each of its functions that this chart is about. */
  readonly functions: readonly { readonly fn: TimeCurrent; readonly points: readonly CurvePoint[] }[];
  /** What of it is only remembered of a standard, or typical. */
  readonly remembered: readonly string[];
  /** Least breaking capacity of what it opens, in amperes on the chart; null where none is known. */
  readonly breaksA: number | null;
  /** Of the place that it stands at; of a guest in no place the first one of the chart, null where there is none. */
  readonly site: { readonly kappa: number; readonly frequencyHz: number } | null;
}

export interface Flag {
  readonly label: string;
  readonly currentA: number;
  /** Null: of no device. */
  readonly style: number | null;
}

export interface JudgedPair {
  /** Of this verdict among all of its chart. */
  readonly key: string;
  readonly margin: PairMargin;
  readonly mode: Measured;
  /** The guest that stands in for one of the pair. */
  readonly guest: string | null;
  /** Places of the decisive point on the chart. */
  readonly downX: number | null;
  readonly upX: number | null;
}

/** Answers given last, by place; taken again while what they depend on is the very same. */
export class LastAnswers<T> {
  private readonly kept = new Map<string, { inputs: readonly unknown[]; answer: T }>();

  take(place: string, inputs: readonly unknown[], compute: () => T): T {
    const last = this.kept.get(place);
    if (last && last.inputs.length === inputs.length && last.inputs.every((input, k) => input === inputs[k]))
      return last.answer;
    const answer = compute();
    this.kept.set(place, { inputs, answer });
    return answer;
  }
}

const nothingCompared: Compared = new Map();

/** All curves of a chart, guests last; those whose device did not change since the last call are taken as they were. */
export function chartCurves(
  network: Network,
  chart: GradingChart,
  basis: ChartBasis,
  edited: Edited,
  last: LastAnswers<ChartCurve | null> = new LastAnswers(),
  compared: Compared = nothingCompared,
): ChartCurve[] {
  const modes = modesOf(chart);
  const of = (id: ElementId, make: (mode: Measured, second: boolean) => ChartCurve | null) =>
    modes.map((mode, k) =>
      last.take(curveKey(id, mode), [network, chart, basis, edited.get(id), compared.get(id)], () => make(mode, k > 0)),
    );
  const curves = [
    ...chart.relays.flatMap((id, k) =>
      of(id, (mode, second) =>
        deviceCurve(network, chart, basis, id, lookOf(chart, id, k), { mode, second }, edited, compared),
      ),
    ),
    ...chart.guests.flatMap(({ id }, k) =>
      of(id, (mode, second) => guestCurve(network, chart, basis, k, { mode, second }, edited)),
    ),
  ];
  return curves.filter((curve) => curve !== null);
}

const curveKey = (id: ElementId, mode: Measured): string => `${id} ${mode}`;

interface Look {
  readonly colour: number;
  readonly dash: number;
}

/** How a device is drawn: by its own choice, else by its place in the list. */
export const lookOf = ({ looks }: GradingChart, device: ElementId, place: number): Look =>
  looks.find((each) => each.device === device) ?? { colour: place % chartStyles, dash: place % chartStyles };

interface Shown {
  readonly mode: Measured;
  readonly second: boolean;
}

function deviceCurve(
  network: Network,
  chart: GradingChart,
  basis: ChartBasis,
  id: ElementId,
  look: Look,
  shown: Shown,
  edited: Edited,
  compared: Compared,
): ChartCurve | null {
  const stored = deviceOf(network, id);
  const trial = edited.get(id);
  const device = trial ? deviceFrom(network, trial) : stored;
  const own = basis.devices.find((each) => each.id === id);
  if (!stored || !device || stored.inputs.length === 0 || !own?.factor) return null;
  const other = compared.get(id);
  const before =
    other && JSON.stringify(other) !== JSON.stringify(device.functions) ? { ...stored, functions: other } : null;
  const ghost = before ?? (trial ? stored : null);
  return drawn(
    chart,
    { device, stored, ghost, isEdited: trial !== undefined, isGuest: false },
    own.factor,
    own,
    look,
    shown,
  );
}

function guestCurve(
  network: Network,
  chart: GradingChart,
  basis: ChartBasis,
  k: number,
  shown: Shown,
  edited: Edited,
): ChartCurve | null {
  const guest = chart.guests[k];
  const own = guest.standsFor === null ? undefined : basis.devices.find(({ id }) => id === guest.standsFor);
  const trial = edited.get(guest.id);
  const stored = guestDevice(network, guest);
  const device = trial ? guestDevice(network, guest, trial.functions) : stored;
  const factor = own?.factor ?? guest.kv / chart.referenceKv;
  const place = chart.relays.length + k;
  const look = { colour: place % chartStyles, dash: place % chartStyles };
  const ghost = trial ? stored : null;
  return drawn(
    chart,
    { device, stored, ghost, isEdited: trial !== undefined, isGuest: true },
    factor,
    own,
    look,
    shown,
    basis.devices[0],
  );
}

function drawn(
  chart: GradingChart,
  of: { device: Device; stored: Device; ghost: Device | null; isEdited: boolean; isGuest: boolean },
  factor: number,
  own: ChartDevice | undefined,
  { colour, dash }: Look,
  { mode, second }: Shown,
  elsewhere?: ChartDevice,
): ChartCurve {
  const { device, ghost, isGuest } = of;
  const quantity = quantityOfMode[mode];
  // A curve ends at the largest current that its device can see; beyond, it would say nothing.
  const most = Math.max(0, ...(own?.figures.closeIn ?? []).map(({ seen }) => currentOf(seen, quantity)));
  const all = curvesOf(device);
  // What a recloser grades by is what it goes on to; its fast operations are a line of their own.
  const curves: Curves = { device, functions: all.functions.filter((fn) => !fn.fast) };
  const quick: Curves = { device, functions: all.functions.filter((fn) => fn.fast) };
  const draw = (from: Curves, edge: Edge = 'nominal') =>
    onChart(curvePoints(from, quantity, most || endWithoutFaults, 60, edge), factor);
  // What holds all in its band is drawn by its edges, bands or not.
  const always = curves.functions.some((fn) => fn.quantity === quantity && fn.accuracy === null);
  const band =
    chart.bands || always ? { early: draw(curves, 'earliest'), late: draw(curves, 'latest'), solid: always } : null;
  const functions = all.functions
    .filter((fn) => fn.quantity === quantity)
    .map((fn) => ({ fn, points: draw({ device, functions: [fn] }) }));
  const name = shortName(device);
  return {
    ...of,
    key: curveKey(device.id, mode),
    label: `${name}${isGuest ? ' (guest)' : ''}${second ? ' 3I0' : ''}`,
    mode,
    isSecond: second,
    style: colour,
    // Of two curves in one colour the second is told by its dash.
    dash: second ? (dash + chartStyles / 2) % chartStyles : dash,
    factor,
    points: draw(curves),
    fast: draw(quick),
    band,
    ghost: ghost ? draw({ device: ghost, functions: curvesOf(ghost).functions.filter((fn) => !fn.fast) }) : [],
    functions,
    remembered: [...new Set(functions.flatMap(({ fn }) => fn.remembered ?? []))],
    breaksA: own?.breaksA ? own.breaksA * factor : null,
    site: own ?? elsewhere ?? null,
  };
}

/** Primary amperes to which a curve is drawn when no fault current reaches its device. */
const endWithoutFaults = 20000;

const onChart = (points: CurvePoint[], factor: number): CurvePoint[] =>
  points.map(({ currentA, timeS }) => ({ currentA: currentA * factor, timeS }));

/** The pair as the chart has it now: the required margin may have changed since the basis was found. */
const asNow = (chart: GradingChart, { downstream, upstream }: GradingPair): GradingPair | undefined =>
  chart.pairs.find((each) => each.downstream === downstream && each.upstream === upstream);

/** Of the verdict on a pair among all of its chart; of a guest by its identifier. */
export const judgedKey = (mode: Measured, { downstream, upstream }: PairEnds, guest: ElementId | '' = ''): string =>
  `${mode} ${downstream} ${upstream} ${guest}`;

type PairEnds = Pick<GradingPair, 'downstream' | 'upstream'>;

/** Judges all pairs, and those that a guest takes part in; those whose devices did not change since the last call keep their verdict without being computed again. */
export function judgePairs(
  network: Network,
  chart: GradingChart,
  basis: ChartBasis,
  edited: Edited,
  last: LastAnswers<JudgedPair> = new LastAnswers(),
): JudgedPair[] {
  return basis.pairs.flatMap((each) => {
    const { downstream, upstream } = each.pair;
    const key = judgedKey(each.mode, each.pair);
    const inputs = [network, chart, basis, edited.get(downstream), edited.get(upstream)];
    const own = last.take(key, inputs, () => judgePair(chart, network, basis, each, edited, null, key));
    const guests = chart.guests
      .filter(({ standsFor }) => standsFor === downstream || standsFor === upstream)
      .map((guest) => {
        const own = judgedKey(each.mode, each.pair, guest.id);
        return last.take(own, [...inputs, edited.get(guest.id)], () => {
          const device = guestDevice(network, guest, edited.get(guest.id)?.functions);
          return judgePair(
            chart,
            network,
            basis,
            each,
            new Map<ElementId, Device | DeviceElement>([...edited, [guest.standsFor!, device]]),
            guest.name,
            own,
          );
        });
      });
    return [own, ...guests];
  });
}

/** The first that does not hold, else the first; null of none. */
export const worstPair = (judged: readonly JudgedPair[]): JudgedPair | null =>
  judged.find(({ margin }) => margin.verdict !== 'holds') ?? judged[0] ?? null;

function judgePair(
  chart: GradingChart,
  network: Network,
  basis: ChartBasis,
  { pair, mode, states }: ChartBasis['pairs'][number],
  trials: Trials,
  guest: string | null,
  key: string,
): JudgedPair {
  const margin = pairMargin(network, states, asNow(chart, pair) ?? pair, mode, trials);
  const place = (id: ElementId, currentA: number | undefined) => {
    const factor = basis.devices.find((each) => each.id === id)?.factor ?? null;
    // An earth fault beyond a delta winding brings a device phase current but no residual one: no place on an earth chart.
    return factor === null || !currentA ? null : currentA * factor;
  };
  return {
    key,
    margin,
    mode,
    guest,
    downX: place(pair.downstream, margin.decisive?.downstreamA),
    upX: place(pair.upstream, margin.decisive?.upstreamA),
  };
}

/** "BRA Q21 relay" is BRA Q21 on a chart full of relays. */
export const shortName = ({ name }: { readonly name: string }): string => name.replace(/ relay$/i, '');

/** For each pair of the basis that is short, the setting that would make it hold. Takes longer than a frame: not for every pointer move. */
export const proposalsFor = (
  network: Network,
  chart: GradingChart,
  basis: ChartBasis,
  edited: Edited,
): (Proposal | null)[] =>
  basis.pairs.map(({ pair, mode, states }) => proposeFor(network, states, asNow(chart, pair) ?? pair, mode, edited));

const flagWords: Readonly<Record<FlagKind, string>> = {
  maximum: 'max',
  minimum: 'min',
  firstCycle: 'first cycle',
  breaking: 'breaking',
  steady: 'steady',
};

/** What a device is flagged with, as far as the chart asks for it: its largest close-in and smallest far-end current, and how the largest goes on. */
export function flagsOf(curve: ChartCurve, chart: GradingChart, basis: ChartBasis): Flag[] {
  const own = basis.devices.find((each) => each.id === curve.device.id);
  if (!own) return [];
  const { mode } = curve;
  const kinds = kindsFor(mode);
  const of = (list: typeof own.figures.closeIn) =>
    list
      .filter((figure) => kinds.includes(figure.kind))
      .map(({ seen }) => currentOf(seen, quantityOfMode[mode]))
      .filter((value) => value > 1);
  const [most, least] = [of(own.figures.closeIn), of(own.figures.farEnd)];
  const later = own.later[mode];
  const amperes: Readonly<Record<FlagKind, number>> = {
    maximum: most.length > 0 ? Math.max(...most) : 0,
    minimum: least.length > 0 ? Math.min(...least) : 0,
    firstCycle: later?.firstCycle ?? 0,
    breaking: later?.breaking ?? 0,
    steady: later?.steady ?? 0,
  };
  return chart.flags
    .filter((kind) => amperes[kind] > 1)
    .map((kind) => ({
      label: `${flagWords[kind]} ${curve.label}`,
      currentA: amperes[kind] * curve.factor,
      style: curve.style,
    }));
}

/** Flags at currents of one's own. */
export const ownFlags = ({ ownFlags: flags }: GradingChart): Flag[] =>
  flags.map(({ text, currentA }) => ({ label: text, currentA, style: null }));

/** Both arcing currents of the busbars whose energies stand on the chart. */
export const arcFlags = ({ arcs }: ChartBasis): Flag[] =>
  arcs.flatMap(({ title, fullA, reducedA }) => [
    { label: `arc ${title}`, currentA: fullA, style: null },
    ...(reducedA < fullA ? [{ label: `arc ${title}, reduced`, currentA: reducedA, style: null }] : []),
  ]);

/** A line of what is protected, or one of one's own, in amperes of the chart. */
export interface ChartLimit {
  readonly label: string;
  readonly kind: 'damage' | 'load' | 'inrush' | 'start' | 'supply' | 'device';
  readonly points: readonly CurvePoint[];
}

/** Lines of what is protected and curves of one's own, in amperes of the chart. */
export function limitsOnChart(chart: GradingChart, basis: ChartBasis): ChartLimit[] {
  const lines = basis.limits.map(({ limit, factor }): ChartLimit => ({
    label: `${limit.title}${limit.mark === '' ? '' : ` (${limit.mark})`}`,
    kind: limit.kind,
    points: limit.points.map(([currentA, timeS]) => ({ currentA: currentA * factor, timeS })),
  }));
  const own = chart.own.map(({ name, kind, points }): ChartLimit => ({
    label: name,
    kind,
    points: points.map(([currentA, timeS]) => ({ currentA, timeS })),
  }));
  return [...lines, ...own];
}

/** Amperes on the chart that are one on its axis: the pickup of the device that it counts in, as stored; 1 where it counts in amperes. */
export function axisUnit(network: Network, { multiplesOf, mode }: GradingChart, basis: ChartBasis): number {
  const device = multiplesOf === null ? undefined : deviceOf(network, multiplesOf);
  const factor = basis.devices.find(({ id }) => id === multiplesOf)?.factor;
  if (!device || !factor) return 1;
  const quantity = quantityOfMode[mode === 'both' ? 'phase' : mode];
  const pickups = curvesOf(device)
    .functions.filter((fn) => fn.quantity === quantity)
    .map(({ pickupA }) => pickupA);
  return pickups.length === 0 ? 1 : Math.min(...pickups) * factor;
}

/** Devices of a chart as they are set: with what is under trial. */
export const settingsShown = (network: Network, { relays }: GradingChart, edited: Edited) =>
  relays.flatMap((id) => {
    const functions = edited.get(id)?.functions ?? deviceOf(network, id)?.functions;
    return functions ? [{ device: id, functions: [...functions] }] : [];
  });

/** Devices set as another state of the chart says, as far as they differ from what is stored. */
export function trialsOf(
  network: Network,
  settings: readonly { readonly device: ElementId; readonly functions: readonly DeviceFunction[] }[],
): Map<ElementId, DeviceElement> {
  const trials = new Map<ElementId, DeviceElement>();
  for (const { device: id, functions } of settings) {
    const stored = deviceOf(network, id);
    if (!stored || JSON.stringify(stored.functions) === JSON.stringify(functions)) continue;
    trials.set(id, withFunctions(stored.element, functions));
  }
  return trials;
}
