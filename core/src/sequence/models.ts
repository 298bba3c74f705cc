/** The sequence model of any element; kinds without one of their own take no part in fault currents. */
import type { Element } from '../model/element';
import { asynchronousMotor } from './asynchronousMotor';
import { earthingTransformer } from './earthingTransformer';
import { line } from './line';
import { networkFeeder } from './networkFeeder';
import type { SequenceContext, SequenceModel } from './stamp';
import { synchronousMachine } from './synchronousMachine';
import { transformer } from './transformer';

export function sequenceModel(element: Element, context: SequenceContext): SequenceModel | null {
  switch (element.kind) {
    case 'networkFeeder':
      return networkFeeder(element, context);
    case 'line':
      return line(element, context);
    case 'transformer':
      return transformer(element, context);
    case 'synchronousMachine':
      return synchronousMachine(element, context);
    case 'asynchronousMotor':
      return asynchronousMotor(element, context);
    case 'earthingTransformer':
      return earthingTransformer(element, context);
    default:
      return null;
  }
}
