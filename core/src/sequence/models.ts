/** The sequence model of any element; kinds without one of their own take no part in fault currents. */
import type { Element } from '../model/element';
import { asynchronousMotor } from './asynchronousMotor';
import { converterSource, doublyFedMachine, staticDrive } from './converters';
import { earthingTransformer } from './earthingTransformer';
import { line } from './line';
import { networkFeeder } from './networkFeeder';
import { powerStationUnit } from './powerStationUnit';
import { earthingSwitch, seriesReactor, shuntElement } from './reactors';
import type { SequenceContext, SequenceModel } from './stamp';
import { synchronousMachine } from './synchronousMachine';
import { threeWindingTransformer } from './threeWindingTransformer';
import { transformer } from './transformer';

export function sequenceModel(element: Element, context: SequenceContext): SequenceModel | null {
  switch (element.kind) {
    case 'networkFeeder':
      return networkFeeder(element, context);
    case 'line':
      return line(element, context);
    case 'transformer':
      return transformer(element, context);
    case 'threeWindingTransformer':
      return threeWindingTransformer(element, context);
    case 'seriesReactor':
      return seriesReactor(element, context);
    case 'synchronousMachine':
      return synchronousMachine(element, context);
    case 'powerStationUnit':
      return powerStationUnit(element, context);
    case 'asynchronousMotor':
      return asynchronousMotor(element, context);
    case 'staticDrive':
      return staticDrive(element, context);
    case 'converterSource':
      return converterSource(element, context);
    case 'doublyFedMachine':
      return doublyFedMachine(element, context);
    case 'shunt':
      return shuntElement(element, context);
    case 'earthingTransformer':
      return earthingTransformer(element, context);
    case 'earthingSwitch':
      return earthingSwitch(element);
    default:
      return null;
  }
}
