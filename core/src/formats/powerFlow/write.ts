/** A network with its load flow as a solved case: one bus for each node, branches as the load flow has them. What the format has no column for is left out, and told. */
import { voltageFactor } from '../../faults/iec60909/voltageFactor';
import { flowFigures, nodeVoltage } from '../../flow/figures';
import { loadFlow, type LoadFlow } from '../../flow/loadFlow';
import type { NetworkSeries } from '../../assembly/parts';
import { alternating } from '../../model/directPart';
import { nameOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { ofKind, settingsOf, type Network } from '../../model/network';
import { FileRefusal, type Written } from '../format';
import { Remarks } from '../remarks';
import { branchCard, branchTypes, busCard, busTypes, fieldText, listEnd, titleCard, type Card } from './form';

const mostBuses = 9999;

/** Throws a `FileRefusal` where the load flow has no solution or the format no room. */
export function caseOf(whole: Network, name: string): Written {
  const network = alternating(whole);
  const settings = settingsOf(network);
  const left = new Remarks();
  const flow = loadFlow(network, { voltageFactor: voltageFactor(settings.lowVoltageTolerancePercent) });
  if (!flow.converged) throw new FileRefusal('the load flow has no solution, and the format is for solved cases');
  const numbers = numbered(flow);
  if (numbers.size === 0) throw new FileRefusal('nothing is supplied: there is no solved case');
  if (numbers.size > mostBuses)
    throw new FileRefusal(`the network has ${numbers.size} nodes; the format numbers ${mostBuses}`);
  const mva = settings.baseMva;
  const lines = [
    titleLine(name, mva),
    `BUS DATA FOLLOWS                 ${String(numbers.size).padStart(6)} ITEMS`,
    ...busLines(flow, numbers, mva, left),
    listEnd,
  ];
  const branches = branchLines(flow, numbers, mva, left);
  lines.push(`BRANCH DATA FOLLOWS              ${String(branches.length).padStart(6)} ITEMS`, ...branches, listEnd);
  for (const section of ['LOSS ZONES', 'INTERCHANGE DATA', 'TIE LINES'])
    lines.push(
      `${section} FOLLOWS      0 ITEMS`,
      section.startsWith('TIE') ? '-999' : section.startsWith('LOSS') ? '-99' : '-9',
    );
  lines.push('END OF DATA');
  for (const [kind, what] of [
    ['relay', 'protection'],
    ['lineCoupling', 'couplings of lines'],
  ] as const)
    if (ofKind(network, kind).length > 0) left.add(`${what}: the format has nothing for it`);
  left.add('zero sequence, ratings of devices and everything else that a load flow does not ask for');
  return { content: `${lines.join('\r\n')}\r\n`, left: left.all };
}

/** Numbers of the supplied nodes from 1, busbars first by their order. */
function numbered(flow: LoadFlow): ReadonlyMap<number, number> {
  const { topology, nodeCount } = flow.assembly;
  const isLive = (node: number) => nodeVoltage(flow, node).kv > 0;
  const order = Array.from({ length: nodeCount }, (_, k) => k).filter(isLive);
  const hasBus = (node: number) => (topology.nodes[node]?.buses.length ?? 0) > 0;
  return new Map([...order.filter(hasBus), ...order.filter((k) => !hasBus(k))].map((node, k) => [node, k + 1]));
}

function line(card: Card, values: Readonly<Record<string, string | number>>, where: string): string {
  const signs = Array.from({ length: 128 }, () => ' ');
  for (const [name, columns] of Object.entries(card)) {
    const value = values[name];
    if (value === undefined) continue;
    const text = fieldText(value, columns);
    if (text === null) throw new FileRefusal(`${where}: ${name} ${String(value)} does not fit its columns`);
    [...text].forEach((sign, k) => (signs[columns[0] - 1 + k] = sign));
  }
  return signs.join('').trimEnd();
}

const plain = (text: string): string => text.replace(/[^\x20-\x7e]/g, '?');

const titleLine = (name: string, baseMva: number): string =>
  line(
    titleCard,
    { date: '01/01/00', originator: 'MESURA', baseMva, year: '2000', season: 'S', caseName: plain(name) },
    'title',
  );

function busLines(flow: LoadFlow, numbers: ReadonlyMap<number, number>, mva: number, left: Remarks): string[] {
  const { topology } = flow.assembly;
  const figures = flowFigures(flow);
  const sums = new Map<number, Record<string, number>>();
  const at = (node: number) => {
    let sum = sums.get(node);
    if (!sum)
      sums.set(node, (sum = { loadMw: 0, loadMvar: 0, generationMw: 0, generationMvar: 0, shuntG: 0, shuntB: 0 }));
    return sum;
  };
  const byImpedance = new Set(
    flow.demands.filter(({ behaves }) => behaves === 'constantImpedance').map(({ element }) => element),
  );
  for (const { element, terminal, kind, mw, mvar } of figures.loads) {
    if (byImpedance.has(element) || kind === 'shunt') continue;
    const sum = at(topology.nodeAt(element, terminal)!);
    sum.loadMw += mw;
    sum.loadMvar += mvar;
  }
  for (const { element, terminal, mw, mvar } of figures.sources) {
    const sum = at(topology.nodeAt(element, terminal)!);
    sum.generationMw += mw;
    sum.generationMvar += mvar;
  }
  const { base } = flow.system;
  for (const shunt of flow.passive.shunts) {
    if (isLine(flow, shunt.element)) continue;
    const perUnit = base[shunt.node] ** 2 / mva;
    const square = shunt.rOhm ** 2 + shunt.xOhm ** 2;
    const sum = at(shunt.node);
    sum.shuntG += (shunt.rOhm / square) * perUnit;
    sum.shuntB -= (shunt.xOhm / square) * perUnit;
  }
  const clocks = clockLags(flow);
  const holders = new Map(flow.holders.map((holder) => [holder.node, holder]));
  if (flow.holders.length > holders.size)
    left.add('of several machines that hold one busbar the reactive limits of the last');
  return [...numbers].map(([node, number]) => {
    const { kv, angleRad } = nodeVoltage(flow, node);
    const buses = topology.nodes[node]?.buses ?? [];
    if (buses.length > 1) left.add('busbars behind closed switches are one bus', buses.map(nameOf).join(' and '));
    const holder = holders.get(node);
    const limited = holder && holder.minMvar !== null && holder.maxMvar !== null;
    const type = !holder ? busTypes.load : holder.role === 'slack' ? busTypes.slack : busTypes.heldVoltage;
    return line(
      busCard,
      {
        number,
        name: plain(buses[0]?.name ?? `node ${number}`),
        area: 1,
        zone: 1,
        type,
        voltage: kv / base[node],
        angle: degrees(angleRad + clocks[node]),
        ...at(node),
        baseKv: base[node],
        desiredVoltage: holder ? holder.kv / base[node] : 0,
        maxMvar: limited ? holder.maxMvar! : 0,
        minMvar: limited ? holder.minMvar! : 0,
        remoteBus: 0,
      },
      buses[0] ? nameOf(buses[0]) : `node ${number}`,
    );
  });
}

/** Between -180 and 180. */
const degrees = (rad: number): number => {
  const turned = (rad * 180) / Math.PI;
  return turned - 360 * Math.round(turned / 360);
};

/** By how much a node lags the first of its part because of clock numbers alone, in radians. */
function clockLags({ assembly, passive }: LoadFlow): Float64Array {
  const links = new Map<number, { to: number; lag: number }[]>();
  const link = (from: number, to: number, lag: number) => links.set(from, [...(links.get(from) ?? []), { to, lag }]);
  for (const { element, a, b, lag } of passive.series) {
    const of = assembly.network.elements.get(element);
    const own = lag - (of?.kind === 'transformer' ? (of.shiftDegrees * Math.PI) / 180 : 0);
    link(a, b, own);
    link(b, a, -own);
  }
  const found = new Float64Array(assembly.nodeCount);
  const seen = new Set<number>();
  for (let first = 0; first < found.length; first++) {
    if (seen.has(first)) continue;
    const queue = [first];
    seen.add(first);
    for (const node of queue)
      for (const { to, lag } of links.get(node) ?? []) {
        if (seen.has(to)) continue;
        seen.add(to);
        found[to] = found[node] + lag;
        queue.push(to);
      }
  }
  return found;
}

const isLine = (flow: LoadFlow, element: ElementId): boolean =>
  flow.assembly.network.elements.get(element)?.kind === 'line';

function branchLines(flow: LoadFlow, numbers: ReadonlyMap<number, number>, mva: number, left: Remarks): string[] {
  const { base } = flow.system;
  const { network } = flow.assembly;
  const charging = new Map<ElementId, number>();
  for (const shunt of flow.passive.shunts)
    if (isLine(flow, shunt.element))
      charging.set(
        shunt.element,
        (charging.get(shunt.element) ?? 0) -
          (base[shunt.node] ** 2 / mva) * (shunt.xOhm / (shunt.rOhm ** 2 + shunt.xOhm ** 2)),
      );
  const written = new Map<string, number>();
  return flow.passive.series.flatMap((branch: NetworkSeries) => {
    const element = network.elements.get(branch.element)!;
    const [tapBus, zBus] = [numbers.get(branch.a), numbers.get(branch.b)];
    if (tapBus === undefined || zBus === undefined) {
      left.add('what is without supply', nameOf(element));
      return [];
    }
    const perUnit = mva / base[branch.b] ** 2;
    const ratio = (branch.ratio * base[branch.b]) / base[branch.a];
    const shiftDegrees = 'shiftDegrees' in element ? element.shiftDegrees : 0;
    const isTransformer = element.kind !== 'line' && element.kind !== 'seriesReactor';
    if (isTransformer) left.add('clock numbers of transformers: angles are told without them');
    if (branch.xOhm < 0) left.add('a winding of a star equivalent has a reactance below nought', nameOf(element));
    const circuit = (written.get(`${tapBus} ${zBus}`) ?? 0) + 1;
    written.set(`${tapBus} ${zBus}`, circuit);
    const ratedMva = ratingOf(element, base[branch.a]);
    return line(
      branchCard,
      {
        tapBus,
        zBus,
        area: 1,
        zone: 1,
        circuit: Math.min(circuit, 9),
        type: isTransformer ? branchTypes.fixedTap : branchTypes.line,
        r: branch.rOhm * perUnit,
        x: branch.xOhm * perUnit,
        b: charging.get(branch.element) ?? 0,
        rating1: Math.round(ratedMva),
        ratio: isTransformer ? ratio : 0,
        shiftDegrees,
      },
      nameOf(element),
    );
  });
}

/** What a branch may carry in MVA; nought where nobody knows. */
function ratingOf(element: ReturnType<Network['elements']['get']> & object, kv: number): number {
  if (element.kind === 'line') return ((element.ratedA ?? 0) * element.circuits * kv * Math.sqrt(3)) / 1000;
  if (element.kind === 'transformer') return element.ratedMva;
  return element.kind === 'seriesReactor' ? (element.ratedA * kv * Math.sqrt(3)) / 1000 : 0;
}
