/** The demo with a distance relay at the end of FER-MAR in FER: current transformer in the line, voltage transformer at the busbar. */
import type { Element } from '../model/element';
import { elementId as id, type ElementId } from '../model/fields';
import { networkOf, type Network } from '../model/network';
import type { Relay } from '../model/protection';
import type { Connection, CurrentTransformer, VoltageTransformer } from '../model/switching';
import { freshDistance } from '../protection/distance';
import type { DistanceFunction } from '../protection/distance/schema';

export const distanceRelay = id('fer-q03-relay');

export function withDistanceRelay(elements: readonly Element[], over: Partial<DistanceFunction> = {}): Element[] {
  const of = <T>(wanted: string) => elements.find((each) => each.id === id(wanted)) as unknown as T;
  const wire = of<Connection>('wire-123');
  const ct: CurrentTransformer = { ...of<CurrentTransformer>('fer-ct31'), id: id('fer-ct03'), name: 'FER CT03' };
  const vt: VoltageTransformer = {
    ...of<VoltageTransformer>('bra-vt33'),
    id: id('fer-vt132'),
    name: 'FER VT132',
    primaryKv: 132,
  };
  const relay: Relay = {
    ...of<Relay>('fer-q33-relay'),
    id: distanceRelay,
    name: 'FER Q03 relay',
    inputs: [
      { id: id('ct'), type: 'current', element: ct.id, towards: 1, reversed: false },
      { id: id('vt'), type: 'voltage', element: vt.id, towards: 1, reversed: false },
    ],
    circuits: [{ id: id('trip'), name: 'Trip', breakers: [id('fer-q03')] }],
    functions: [{ ...freshDistance(id('fer-q03-21'), id('ct')), ...over }],
  };
  const bus: Connection['from'] = { element: 'fer-132' as ElementId, terminal: 0, at: 300 };
  return [
    ...elements.filter((each) => each.id !== wire.id),
    ct,
    vt,
    relay,
    { ...wire, to: { element: ct.id, terminal: 0 } },
    { ...wire, id: id('wire-ct03'), from: { element: ct.id, terminal: 1 } },
    { ...wire, id: id('wire-vt132'), from: bus, to: { element: vt.id, terminal: 0 } },
  ];
}

export const distanceNetwork = (demo: Network, over: Partial<DistanceFunction> = {}): Network =>
  networkOf(withDistanceRelay([...demo.elements.values()], over));
