/** What the mappings of a CIM model share: where elements are put, limits, neutrals, what controls hold. */
import { isolatedNeutral, neutralOf, type Neutral } from '../../model/fields';
import type { Element } from '../../model/element';
import { idle, type Operation } from '../../model/sources';
import type { ConnectionEnd } from '../../model/switching';
import type { Brought } from '../brought';
import type { CimObject } from './graph';
import type { CimModel, CimTerminal } from './model';

/** What the mappings share: the model, what is made, and which terminal of an element stands for which terminal of the model. */
export class Making {
  readonly ends = new Map<CimObject, ConnectionEnd>();
  /** Equipment that has become part of another element. */
  readonly consumed = new Set<CimObject>();

  constructor(
    readonly model: CimModel,
    readonly brought: Brought,
  ) {}

  /** Ties the terminals of an element to those of its equipment, in their order. */
  tie(element: Element | null, terminals: readonly (CimTerminal | undefined)[]): void {
    if (!element) return;
    terminals.forEach((terminal, k) => {
      if (terminal) this.ends.set(terminal.object, { element: element.id, terminal: k });
    });
  }
}

export interface Limit {
  readonly value: number;
  readonly unit: 'A' | 'MVA';
}

/** The lowest permanent and temporary limits of equipment. */
export function limitsOf(object: CimObject, { model }: Making): { permanent: Limit | null; temporary: Limit | null } {
  const { graph } = model;
  const found: { permanent: Limit | null; temporary: Limit | null } = { permanent: null, temporary: null };
  const owners = [object, ...model.terminalsOf(object).map((terminal) => terminal.object)];
  const sets = owners.flatMap((owner) => [
    ...graph.linking('OperationalLimitSet.Terminal', owner),
    ...graph.linking('OperationalLimitSet.Equipment', owner),
  ]);
  for (const set of sets)
    for (const limit of graph.linking('OperationalLimit.OperationalLimitSet', set)) {
      const unit = limit.type === 'CurrentLimit' ? 'A' : limit.type === 'ApparentPowerLimit' ? 'MVA' : null;
      const value =
        unit && (model.number(limit, `${limit.type}.value`) ?? model.number(limit, `${limit.type}.normalValue`));
      if (!unit || value === undefined || value === null || value <= 0) continue;
      const type = graph.linked(limit, 'OperationalLimit.OperationalLimitType');
      const kind =
        type &&
        (model.choice(type, 'OperationalLimitType.kind') ?? model.choice(type, 'OperationalLimitType.limitType'));
      const which =
        kind === undefined || /^patl$/i.test(kind) ? 'permanent' : /^tatl$/i.test(kind) ? 'temporary' : null;
      if (which && (found[which] === null || value < found[which]!.value)) found[which] = { value, unit };
    }
  return found;
}

export function twoTerminals(object: CimObject, { model, brought }: Making): readonly CimTerminal[] {
  const terminals = model.terminalsOf(object);
  if (terminals.length < 2) brought.wrong.add('equipment with two ends has fewer terminals', model.labelOf(object));
  return terminals.slice(0, 2);
}

export const oneTerminal = (object: CimObject, { model }: Making) => model.terminalsOf(object).slice(0, 1);

export function neutralFrom(isEarthed: boolean, rOhm: number, xOhm: number): Neutral {
  if (!isEarthed) return isolatedNeutral;
  if (rOhm <= 0 && xOhm === 0) return neutralOf('solid');
  return xOhm === 0
    ? neutralOf('resistor', rOhm)
    : neutralOf(rOhm === 0 ? 'reactor' : 'impedance', Math.max(0, rOhm), xOhm);
}

/** Of a source that holds its voltage: at what, in percent of nominal. */
export function voltageHeld(object: CimObject, making: Making): { voltagePercent?: number } {
  const target = targetPercent(object, making);
  return target === undefined ? {} : { voltagePercent: target };
}

function targetPercent(object: CimObject, { model }: Making): number | undefined {
  const control = model.graph.linked(object, 'RegulatingCondEq.RegulatingControl');
  if (!control || model.choice(control, 'RegulatingControl.mode') !== 'voltage') return undefined;
  if (
    model.flag(control, 'RegulatingControl.enabled') === false ||
    model.flag(object, 'RegulatingCondEq.controlEnabled') === false
  )
    return undefined;
  const at = model.graph.linked(control, 'RegulatingControl.Terminal');
  const terminal = at && model.graph.linked(at, 'Terminal.ConductingEquipment');
  const owner = terminal ?? object;
  const kv = model.kvAtTerminal(
    model.terminalsOf(owner).find((each) => each.object === at) ?? model.terminalsOf(object)[0],
    owner,
  );
  const target = model.number(control, 'RegulatingControl.targetValue');
  if (kv === undefined || target === undefined) return undefined;
  const percent = (100 * target) / kv;
  // Without a multiplier the target is in volts by the letter, and in kilovolts in most files.
  const likely = percent > 1000 ? percent / 1000 : percent;
  return likely > 50 && likely <= 150 ? likely : undefined;
}

/** Operation of what rotates or sits behind a converter: powers are counted into the equipment in the file. */
export function operationOf(object: CimObject, making: Making, prefix: string): Operation | null {
  const { model } = making;
  const [p, q] = [model.number(object, `${prefix}.p`), model.number(object, `${prefix}.q`)];
  const target = targetPercent(object, making);
  if (p === undefined && target === undefined) return null;
  const [minMvar, maxMvar] = [model.number(object, `${prefix}.minQ`), model.number(object, `${prefix}.maxQ`)];
  if (target === undefined) return { ...idle, activeMw: -(p ?? 0), reactiveMvar: -(q ?? 0) };
  const limited = minMvar !== undefined && maxMvar !== undefined && maxMvar > minMvar;
  return {
    holds: 'voltage',
    activeMw: -(p ?? 0),
    reactiveMvar: 0,
    voltagePercent: target,
    minMvar: limited ? minMvar : null,
    maxMvar: limited ? maxMvar : null,
  };
}
