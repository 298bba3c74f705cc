/** Random networks of every kind with generators, loads and motors set to work, for load flows. */
import type { Element } from '../model/element';
import { idle } from '../model/sources';
import { networkOf, type Network } from '../model/network';
import type { EveryKind } from './everyKind';

export function dispatched({ network, random }: EveryKind): Network {
  const operation = (activeMw: number, reactiveMvar: number) => ({ ...idle, activeMw, reactiveMvar });
  return networkOf(
    [...network.elements.values()].map((element): Element => {
      switch (element.kind) {
        case 'powerStationUnit':
          return { ...element, operation: { ...idle, holds: 'voltage', activeMw: 20 * random(), voltagePercent: 101 } };
        case 'synchronousMachine':
          return { ...element, operation: operation(2 * random(), random()) };
        case 'converterSource':
          return { ...element, operation: operation(6 * random(), random()) };
        case 'doublyFedMachine':
          return { ...element, operation: operation(2 * random(), 0) };
        case 'load':
          return {
            ...element,
            ratedMva: 1 + random(),
            behaves: (['constantPower', 'constantCurrent', 'constantImpedance'] as const)[Math.floor(random() * 3)],
          };
        case 'asynchronousMotor':
          return { ...element, loadingPercent: 60 };
        default:
          return element;
      }
    }),
  );
}
