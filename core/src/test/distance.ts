/** The demo with one distance relay, that at the end of FER-MAR in FER, as it comes from the shelf. */
import type { Element } from '../model/element';
import { elementId as id } from '../model/fields';
import { networkOf, type Network } from '../model/network';
import { freshDistance } from '../protection/distance';
import type { DistanceFunction } from '../protection/distance/schema';

export const distanceRelay = id('fer-q03-relay');

export function withDistanceRelay(elements: readonly Element[], over: Partial<DistanceFunction> = {}): Element[] {
  return elements.flatMap((element): Element[] => {
    if (element.kind !== 'relay') return [element];
    const [fn] = element.functions;
    if (fn?.family !== 'distance') return [element];
    return element.id === distanceRelay
      ? [{ ...element, functions: [{ ...freshDistance(fn.id, fn.input), ...over }] }]
      : [];
  });
}

export const distanceNetwork = (demo: Network, over: Partial<DistanceFunction> = {}): Network =>
  networkOf(withDistanceRelay([...demo.elements.values()], over));
