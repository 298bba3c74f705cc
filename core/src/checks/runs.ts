/** Runs of symbols without impedance, and the rated currents of what hangs on them. */
import { connectionsAt } from '../drawing/wires/splice';
import type { Element, ElementOf } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';

export interface Run {
  /** Switches and current transformers of the run. */
  readonly inline: readonly Element[];
  /** What ends the run: busbars, and others with the terminal that it meets. */
  readonly buses: readonly ElementOf<'bus'>[];
  readonly others: readonly { readonly element: Element; readonly terminal: number }[];
}

/** From one busbar or impedance to the next. */
export function runOf(network: Network, id: ElementId): Run {
  const seen = new Set([id]);
  const open = [id];
  const run = { inline: [] as Element[], buses: [] as ElementOf<'bus'>[], others: [] as Run['others'][number][] };
  while (open.length > 0) {
    const at = open.pop()!;
    run.inline.push(network.elements.get(at)!);
    for (const { from, to } of connectionsAt(network).get(at) ?? []) {
      const far = from.element === at ? to : from;
      const element = network.elements.get(far.element);
      if (!element || seen.has(far.element)) continue;
      if (element.kind === 'bus') run.buses.push(element);
      else if (element.kind === 'switch' || element.kind === 'currentTransformer') {
        seen.add(far.element);
        open.push(far.element);
      } else run.others.push({ element, terminal: far.terminal });
    }
  }
  return run;
}

const root3 = Math.sqrt(3);

/** Rated current of an element at one of its terminals, in amperes; null where it has none. */
export function ratedCurrentOf(element: Element, terminal: number): number | null {
  switch (element.kind) {
    case 'transformer':
      return (element.ratedMva * 1000) / (root3 * (terminal === 0 ? element.hvKv : element.lvKv));
    case 'asynchronousMotor':
      return (
        (element.count * element.ratedMw * 1000) /
        ((element.efficiencyPercent / 100) * element.powerFactor * root3 * element.ratedKv)
      );
    case 'synchronousMachine':
    case 'staticDrive':
    case 'converterSource':
    case 'doublyFedMachine':
      return (element.ratedMva * 1000) / (root3 * element.ratedKv);
    default:
      return null;
  }
}
