/** Machines and converters of a CIM model. Attributes of IEC 61970-301 as remembered. */
import type { Operation } from '../../model/sources';
import type { CimObject } from './graph';
import { neutralFrom, oneTerminal, operationOf, type Making } from './making';

/** What a machine's operation is told by: power under the one name, limits under the other. */
function machineOperation(object: CimObject, making: Making): Operation | null {
  const { model } = making;
  const operation = operationOf(object, making, 'RotatingMachine');
  if (operation?.holds !== 'voltage') return operation;
  const [minMvar, maxMvar] = [
    model.number(object, 'SynchronousMachine.minQ'),
    model.number(object, 'SynchronousMachine.maxQ'),
  ];
  return minMvar !== undefined && maxMvar !== undefined && maxMvar > minMvar
    ? { ...operation, minMvar, maxMvar }
    : operation;
}

/** Data of a generator that a machine and a power-station unit share; null, and told, without its rating. */
export function generatorOf(object: CimObject, making: Making) {
  const { model, brought } = making;
  const rated = (name: string) => model.number(object, `RotatingMachine.${name}`);
  const of = (name: string) => model.number(object, `SynchronousMachine.${name}`);
  const label = model.labelOf(object);
  const [ratedMva, ownKv] = [rated('ratedS'), rated('ratedU')];
  const ratedKv = ownKv && ownKv > 0 ? ownKv : model.kvAtTerminal(model.terminalsOf(object)[0], object);
  if (ratedMva === undefined || ratedMva <= 0 || ratedKv === undefined) {
    brought.wrong.add('a machine without rated power or voltage cannot be taken', label);
    return null;
  }
  const percent = (value: number | undefined) => (value !== undefined && value > 0 ? 100 * value : undefined);
  const xd2Percent = percent(of('satDirectSubtransX'));
  if (xd2Percent === undefined) brought.assumed.add('x″d 20 % of machines', label);
  const powerFactor = rated('ratedPowerFactor');
  const hasFactor = powerFactor !== undefined && powerFactor > 0 && powerFactor <= 1;
  if (!hasFactor) brought.assumed.add('power factor 0.85 of machines', label);
  const kindOf = model.choice(object, 'SynchronousMachine.shortCircuitRotorType');
  const [xd1, xd, x2, r, regulation] = [
    percent(of('satDirectTransX')),
    percent(of('satDirectSyncX')),
    percent(of('x2')),
    of('r'),
    of('voltageRegulationRange'),
  ];
  return {
    says: {
      ratedMva,
      ratedKv,
      ...(xd2Percent !== undefined && { xd2Percent }),
      ...(hasFactor && { powerFactor }),
      ...(xd1 !== undefined && { xd1Percent: xd1 }),
      ...(xd !== undefined && { xdPercent: xd }),
      ...(x2 !== undefined && { x2Percent: x2 }),
      ...(r !== undefined && r > 0 && { rOhm: r }),
      ...(regulation !== undefined && regulation >= 0 && regulation <= 20 && { regulationPercent: regulation }),
      ...(kindOf && {
        rotor: kindOf.startsWith('salient') ? ('salient' as const) : ('turbo' as const),
        excitation: kindOf.endsWith('2') ? ('series2' as const) : ('series1' as const),
      }),
    },
    assumes: { ...(xd2Percent === undefined && { xd2Percent: 20 }), ...(!hasFactor && { powerFactor: 0.85 }) },
    x0Percent: percent(of('x0')),
  };
}

export function synchronousMachine(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const generator = generatorOf(object, making);
  if (!generator) return;
  const operation = machineOperation(object, making);
  if (!operation)
    brought.assumed.add('machines without operating point give nothing in the load flow', model.labelOf(object));
  const earthing = model.flag(object, 'SynchronousMachine.earthing');
  const [r, x] = ['R', 'X'].map((part) => model.number(object, `SynchronousMachine.earthingStarPoint${part}`) ?? 0);
  const { x0Percent } = generator;
  const made = brought.add(
    'synchronousMachine',
    object.id,
    model.nameOf(object),
    {
      ...generator.says,
      ...(x0Percent !== undefined && { x0Percent }),
      ...(earthing !== undefined && { neutral: neutralFrom(earthing, r, x) }),
      ...(operation && { operation }),
    },
    generator.assumes,
  );
  making.tie(made, oneTerminal(object, making));
}

export function asynchronousMachine(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const label = model.labelOf(object);
  const of = (name: string) => model.number(object, `AsynchronousMachine.${name}`);
  const rated = (name: string) => model.number(object, `RotatingMachine.${name}`);
  const terminals = oneTerminal(object, making);
  const ownKv = rated('ratedU');
  const ratedKv = ownKv && ownKv > 0 ? ownKv : model.kvAtTerminal(terminals[0], object);
  const ratedMva = rated('ratedS');
  if (ratedKv === undefined) return brought.wrong.add('a machine without rated voltage cannot be taken', label);
  const pf = rated('ratedPowerFactor');
  if (model.flag(object, 'AsynchronousMachine.converterFedDrive')) {
    if (ratedMva === undefined || ratedMva <= 0)
      return brought.wrong.add('a drive without rated power cannot be taken', label);
    const p = rated('p');
    const factor = pf !== undefined && pf > 0 && pf <= 1 ? pf : 0.9;
    const loading = p === undefined ? undefined : (100 * Math.abs(p)) / factor / ratedMva;
    return making.tie(
      brought.add(
        'staticDrive',
        object.id,
        model.nameOf(object),
        {
          ratedMva,
          ratedKv,
          feedsBack: model.flag(object, 'AsynchronousMachine.reversible') ?? false,
          ...(factor === pf && { powerFactor: factor }),
          ...(loading !== undefined && loading <= 150 && { loadingPercent: loading }),
        },
        { ...(factor !== pf && { powerFactor: factor }) },
      ),
      terminals,
    );
  }
  const efficiency = of('efficiency');
  const eta = efficiency !== undefined && efficiency > 0 && efficiency <= 100 ? efficiency : 95;
  const factor = pf !== undefined && pf > 0 && pf <= 1 ? pf : 0.88;
  const mechanical = of('ratedMechanicalPower');
  const ratedMw =
    mechanical !== undefined && mechanical > 0
      ? mechanical
      : ratedMva !== undefined
        ? (ratedMva * factor * eta) / 100
        : undefined;
  if (ratedMw === undefined || ratedMw <= 0)
    return brought.wrong.add('a motor without rated power cannot be taken', label);
  const [ratio, poles, rx, p] = [of('iaIrRatio'), of('polePairNumber'), of('rxLockedRotorRatio'), rated('p')];
  const hasRatio = ratio !== undefined && ratio > 0;
  if (!hasRatio || eta !== efficiency || factor !== pf)
    brought.assumed.add(
      'starting current 5.5 × Ir, efficiency 95 %, power factor 0.88 of motors, where not given',
      label,
    );
  const loading = p === undefined ? undefined : (100 * p * (eta / 100)) / ratedMw;
  const made = brought.add(
    'asynchronousMotor',
    object.id,
    model.nameOf(object),
    {
      ratedMw,
      ratedKv,
      count: 1,
      ...(hasRatio && { startingRatio: ratio }),
      ...(eta === efficiency && { efficiencyPercent: eta }),
      ...(factor === pf && { powerFactor: factor }),
      ...(poles !== undefined && Number.isInteger(poles) && poles > 0 && poles <= 60 && { polePairs: poles }),
      ...(rx !== undefined && rx > 0 && rx <= 5 && { rOverX: rx }),
      ...(loading !== undefined && loading >= 0 && loading <= 150 && { loadingPercent: loading }),
    },
    {
      ...(!hasRatio && { startingRatio: 5.5 }),
      ...(eta !== efficiency && { efficiencyPercent: eta }),
      ...(factor !== pf && { powerFactor: factor }),
    },
  );
  making.tie(made, terminals);
}

export function converter(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const of = (name: string) => model.number(object, `PowerElectronicsConnection.${name}`);
  const terminals = oneTerminal(object, making);
  const label = model.labelOf(object);
  const operation = operationOf(object, making, 'PowerElectronicsConnection');
  const own = of('ratedU');
  const ratedKv = own && own > 0 ? own : model.kvAtTerminal(terminals[0], object);
  const ratedMva = of('ratedS');
  if (ratedKv === undefined || ratedMva === undefined || ratedMva <= 0)
    return brought.wrong.add('a converter without rated power or voltage cannot be taken', label);
  const ratio = of('maxIFault');
  if (ratio === undefined) brought.assumed.add('fault current 1.1 × In of converters', label);
  const made = brought.add(
    'converterSource',
    object.id,
    model.nameOf(object),
    { ratedMva, ratedKv, ...(ratio !== undefined && { faultRatio: ratio }), ...(operation && { operation }) },
    { ...(ratio === undefined && { faultRatio: 1.1 }) },
  );
  making.tie(made, terminals);
}
