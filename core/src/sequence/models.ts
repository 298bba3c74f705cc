/** The sequence model of any element; kinds without one of their own take no part in fault currents. */
import type { Element, ElementKind, ElementOf } from '../model/element';
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

type ModelOf<K extends ElementKind> = (element: ElementOf<K>, context: SequenceContext) => SequenceModel;

const models: { readonly [K in ElementKind]?: ModelOf<K> } = {
  networkFeeder,
  line,
  transformer,
  threeWindingTransformer,
  seriesReactor,
  synchronousMachine,
  powerStationUnit,
  asynchronousMotor,
  staticDrive,
  converterSource,
  doublyFedMachine,
  shunt: shuntElement,
  earthingTransformer,
  earthingSwitch,
};

export const hasSequenceModel = (kind: ElementKind): boolean => kind in models;

export function sequenceModel(element: Element, context: SequenceContext): SequenceModel | null {
  const model = models[element.kind] as ModelOf<typeof element.kind> | undefined;
  return model ? model(element as never, context) : null;
}
