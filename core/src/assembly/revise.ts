/**
 * An assembly after a few elements changed their values but nothing that others lean on: the lists with these entries replaced, on the same nodes,
 * levels and pattern. What an engineer does while looking at the figures; anything else is assembled anew.
 */
import { nameOf, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import { ofKind, type Network } from '../model/network';
import { hasSequenceModel } from '../sequence/models';
import { SilentTrace } from '../working/trace';
import { contextFor, networksOf, type Assembly, type Lists } from './assemble';
import { collectOne, type Collector } from './collect';
import { indicesOf, type NetworkParts, type NetworkSeries, type NetworkShunt } from './parts';

/** Null where the change reaches further than the elements' own values. `changed`: all elements that may differ. */
export function revised(before: Assembly, network: Network, changed: readonly ElementId[]): Assembly | null {
  const { options, topology, lists } = before;
  if (before.outages.length > 0 || options.loads || network.elements.size !== before.network.elements.size) return null;
  if (lists.positive.series.some((branch) => branch.shiftRad !== 0)) return null;
  const context = contextFor(network, topology, options, new SilentTrace());
  let left: Lists = lists;
  let { injections } = before;
  for (const id of changed) {
    const [old, now] = [before.network.elements.get(id), network.elements.get(id)];
    if (!old || !now || !standsAlone(before.network, old, now)) return null;
    const inner = before.innerNodes.flatMap(({ element, local }, k) =>
      element === id ? [[local, topology.nodes.length + k] as const] : [],
    );
    const [was, is] = [old, now].map((element) => collectOne(element, topology, context, new Map(inner)));
    if (!was || !is || !sameShape(was, is)) return null;
    left = replaced(left, id, is);
    let next = 0;
    injections = injections.map((each) => (each.element === id ? is.injections[next++] : each));
  }
  return {
    ...before,
    network,
    injections,
    lists: left,
    ...networksOf(left, before.basis, options.charging ?? 'auto', topology.nodes.length),
  };
}

/** Whether an element's values are its own affair: no other element, no level and no name in a message hangs on them. */
function standsAlone(network: Network, old: Element, now: Element): boolean {
  if (old.kind !== now.kind || !hasSequenceModel(old.kind)) return false;
  if (old.kind === 'connection' || now.kind === 'connection' || old.kind === 'projectSettings') return false;
  if (now.kind === 'projectSettings' || nameOf(old) !== nameOf(now)) return false;
  if (old.kind === 'line' && now.kind === 'line') {
    if (old.data === 'tower' || now.data === 'tower') return false;
    return !ofKind(network, 'lineCoupling').some(({ first, second }) => first === old.id || second === old.id);
  }
  return levelsOf(old) === levelsOf(now);
}

/** Rated voltages, which tell the level of nodes without a bus. */
const levelsOf = (element: Element): string =>
  JSON.stringify(element, (key, value: unknown) =>
    (typeof value === 'object' && key !== 'assumed') || /^(hv|mv|lv|rated)Kv$/.test(key) ? value : undefined,
  );

function sameShape(p: Collector, q: Collector): boolean {
  const series = (list: readonly NetworkSeries[]) =>
    list.map(({ from, to, a, b, ratio, lag, circuits }) => [from, to, a, b, ratio, lag, circuits]);
  const shunts = (list: readonly NetworkShunt[]) => list.map(({ terminal, node, role }) => [terminal, node, role]);
  const shapeOf = (each: Collector) =>
    JSON.stringify([
      ...[each.positive, each.negative, each.zero].map((lists) => [series(lists.series), shunts(lists.shunts)]),
      shunts(each.charging.positive),
      shunts(each.charging.zero),
      each.gaps,
      each.suppliers,
      each.injections.map(({ terminal, node }) => [terminal, node]),
      each.negativeDiffers,
    ]);
  return shapeOf(p) === shapeOf(q);
}

function replaced(lists: Lists, id: ElementId, by: Collector): Lists {
  const parts = (whole: NetworkParts, own: Pick<NetworkParts, 'series' | 'shunts'>): NetworkParts => ({
    ...whole,
    series: inPlace(whole.series, id, own.series),
    shunts: inPlace(whole.shunts, id, own.shunts),
  });
  const positive = parts(lists.positive, by.positive);
  return {
    ...lists,
    positive,
    negative: lists.negative === lists.positive ? positive : parts(lists.negative, by.negative),
    zero: parts(lists.zero, by.zero),
    charging: {
      positive: inPlace(lists.charging.positive, id, by.charging.positive),
      zero: inPlace(lists.charging.zero, id, by.charging.zero),
    },
  };
}

/** The list with an element's entries exchanged, one for one; the list itself when it has none. */
function inPlace<T extends { readonly element: ElementId }>(
  list: readonly T[],
  id: ElementId,
  by: readonly T[],
): readonly T[] {
  const places = indicesOf(list, id);
  if (places.length === 0) return list;
  const copy = list.slice();
  places.forEach((place, k) => (copy[place] = by[k]));
  return copy;
}
