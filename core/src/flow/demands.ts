/** What every element puts into or takes out of the network in the load flow, in MW and Mvar, and which nodes are held. */
import { scale, type Complex } from '../linear/complex';
import { nameOf, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Load, Operation } from '../model/sources';
import type { Assembly } from '../assembly/assemble';

/** How a load answers to its voltage. */
export type Behaviour = Load['behaves'];

/** A power drawn at a node; negative for a source. */
export interface Demand {
  readonly element: ElementId;
  readonly terminal: number;
  readonly node: number;
  /** Active and reactive power drawn at nominal voltage, MW and Mvar. */
  readonly mva: Complex;
  /** Constant power: whatever the voltage; constant current: in proportion to it; constant impedance: to its square. */
  readonly behaves: Behaviour;
}

/** A node held at a voltage. */
export interface Holder {
  readonly element: ElementId;
  readonly terminal: number;
  readonly node: number;
  readonly role: 'slack' | 'pv';
  /** Phase-to-phase kV. */
  readonly kv: number;
  readonly activeMw: number;
  readonly minMvar: number | null;
  readonly maxMvar: number | null;
  readonly ratedMva: number;
}

export interface Demands {
  readonly demands: readonly Demand[];
  readonly holders: readonly Holder[];
}

/** Factor of the power that each of these loads, motors and drives draws. */
export type Scaled = ReadonlyMap<ElementId, number>;

export function demandsOf(assembly: Assembly, scaled: Scaled = new Map()): Demands {
  const { network, topology, faultCase } = assembly;
  const demands: Demand[] = [];
  const holders: Holder[] = [];
  const nodeAt = (id: ElementId, terminal: number) => topology.nodeAt(id, terminal)!;
  const draw = (element: Element, mva: Complex, behaves: Behaviour = 'constantPower', terminal = 0) =>
    demands.push({
      element: element.id,
      terminal,
      node: nodeAt(element.id, terminal),
      mva: scale(mva, scaled.get(element.id) ?? 1),
      behaves,
    });
  const operate = (element: Element, operation: Operation, ratedMva: number, terminal = 0) => {
    const { holds, activeMw, reactiveMvar, voltagePercent, minMvar, maxMvar } = operation;
    const node = nodeAt(element.id, terminal);
    const kv = topology.nodes[node].nominalKv;
    if (holds === 'voltage' && kv !== null)
      holders.push({
        element: element.id,
        terminal,
        node,
        role: 'pv',
        kv: (kv * voltagePercent) / 100,
        activeMw,
        minMvar,
        maxMvar,
        ratedMva,
      });
    else draw(element, { re: -activeMw, im: -reactiveMvar }, 'constantPower', terminal);
  };
  for (const element of network.elements.values())
    switch (element.kind) {
      case 'networkFeeder': {
        const node = nodeAt(element.id, 0);
        const kv = topology.nodes[node].nominalKv;
        if (kv !== null)
          holders.push({
            element: element.id,
            terminal: 0,
            node,
            role: 'slack',
            kv: (kv * element.voltagePercent) / 100,
            activeMw: 0,
            minMvar: null,
            maxMvar: null,
            ratedMva: Infinity,
          });
        break;
      }
      case 'synchronousMachine':
        if (faultCase === 'max' || element.runsAtMinimum) operate(element, element.operation, element.ratedMva);
        break;
      case 'powerStationUnit':
        if (faultCase === 'max' || element.runsAtMinimum)
          operate(element, element.operation, element.generator.ratedMva, 1);
        break;
      case 'converterSource':
      case 'doublyFedMachine':
        operate(element, element.operation, element.ratedMva);
        break;
      case 'load':
        draw(
          element,
          powerOf(element.ratedMva, element.powerFactor, element.reactive === 'leading' ? -1 : 1),
          element.behaves,
        );
        break;
      case 'asynchronousMotor': {
        const loading = element.loadingPercent / 100;
        const active = (element.ratedMw / (element.efficiencyPercent / 100)) * loading * element.count;
        draw(element, powerOf(active / element.powerFactor, element.powerFactor));
        break;
      }
      case 'staticDrive':
        draw(element, powerOf((element.ratedMva * element.loadingPercent) / 100, element.powerFactor));
        break;
    }
  return { demands, holders };
}

const powerOf = (mva: number, powerFactor: number, sign = 1): Complex => ({
  re: mva * powerFactor,
  im: sign * mva * Math.sqrt(1 - powerFactor ** 2),
});

export const holderName = (assembly: Assembly, holder: Holder): string =>
  nameOf(assembly.network.elements.get(holder.element)!);
