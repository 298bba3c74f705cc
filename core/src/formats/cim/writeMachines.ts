/** Sources, machines and drives as CIM: the counterpart of `machines`. */
import { motorResistanceRatio } from '../../sequence/asynchronousMotor';
import { parseVectorGroup } from '../../model/vectorgroup';
import { impedance } from '../../sequence/stamp';
import type { Element } from '../../model/element';
import { isolatedNeutral, type Neutral } from '../../model/fields';
import type { Operation } from '../../model/sources';
import type { Property } from './document';
import type { Writers } from './writers';
import type { Writing } from './write';
import { ohms, tapChanger, transformerObject, winding, zeroOhms } from './writeTransformers';

const atRest = 'that machines stand still at minimum sources';

export const machineWriters: Writers = {
  networkFeeder(feeder, writing) {
    const kv = writing.kvAt(feeder.id, 0, 1);
    const level = (which: 'max' | 'min') => {
      const { given, ikKa, skMva, rOverX, x0OverX1, r0OverX0 } = feeder[which];
      const ampere = given === 'current' ? ikKa! * 1000 : (skMva! * 1000) / (Math.sqrt(3) * kv);
      const knowsZero = feeder.earthed && x0OverX1 !== null && r0OverX0 !== null;
      return {
        [`ExternalNetworkInjection.${which}InitialSymShCCurrent`]: ampere,
        [`ExternalNetworkInjection.${which}R1ToX1Ratio`]: rOverX,
        [`ExternalNetworkInjection.${which}R0ToX0Ratio`]: knowsZero ? r0OverX0 : null,
        [`ExternalNetworkInjection.${which}Z0ToZ1Ratio`]: knowsZero
          ? (x0OverX1 * Math.hypot(1, r0OverX0)) / Math.hypot(1, rOverX)
          : 0,
      };
    };
    const control = voltageControl(feeder, kv, feeder.voltagePercent, writing);
    writing.equipment('ExternalNetworkInjection', feeder, kv, { ...level('max'), ...level('min'), ...control.link });
    const [terminal] = writing.terminals(feeder, 1, () => kv);
    control.make(terminal);
    writing.ssh.add('ExternalNetworkInjection', writing.idOf(feeder), { 'RegulatingCondEq.controlEnabled': true });
  },

  synchronousMachine(machine, writing) {
    const kv = writing.kvAt(machine.id, 0, machine.ratedKv);
    if (!machine.runsAtMinimum) writing.left.add(atRest, machine.name);
    machineObject(machine, machine, writing.idOf(machine), kv, 0, writing, {
      'SynchronousMachine.x0': perUnit(machine.x0Percent),
      ...starPoint(machine.neutral),
    });
  },

  powerStationUnit(unit, writing) {
    const { generator, transformer } = unit;
    if (!unit.runsAtMinimum) writing.left.add(atRest, unit.name);
    const { hv, lv, clock } = parseVectorGroup(transformer.vectorGroup)!;
    const z = ohms(transformer, transformer.hvKv);
    transformerObject(unit, writing, { 'PowerTransformer.isPartOfGeneratorUnit': true });
    const hvEnd = winding(unit, writing, 0, {
      kv: transformer.hvKv,
      mva: transformer.ratedMva,
      z,
      zero: zeroOhms(transformer, z),
      winding: hv,
      clock: 0,
      neutral: unit.hvNeutral,
    });
    winding(unit, writing, 1, {
      kv: transformer.lvKv,
      mva: transformer.ratedMva,
      z: impedance(0, 0),
      zero: impedance(0, 0),
      winding: lv,
      clock,
      neutral: isolatedNeutral,
    });
    const range = transformer.onLoadTapChanger
      ? { steps: 8, stepPercent: 1.25 }
      : { steps: 1, stepPercent: transformer.pTPercent };
    if (range.stepPercent > 0)
      tapChanger(
        { side: 'hv', position: 0, ...range, holds: 'nothing', targetPercent: 100 },
        { hv: hvEnd, lv: hvEnd },
        writing,
        unit,
        transformer.onLoadTapChanger,
      );
    const kv = writing.kvAt(unit.id, 1, transformer.lvKv);
    machineObject(
      unit,
      { ...generator, operation: unit.operation },
      writing.id(`generator ${unit.id}`),
      kv,
      1,
      writing,
      { 'SynchronousMachine.earthing': false },
    );
  },

  asynchronousMotor(motor, writing) {
    const kv = writing.kvAt(motor.id, 0, motor.ratedKv);
    const electrical = (motor.ratedMw / (motor.efficiencyPercent / 100)) * motor.count;
    const p = (electrical * motor.loadingPercent) / 100;
    if (motor.count > 1) writing.left.add('groups of like motors: one that stands for all', motor.name);
    writing.equipment('AsynchronousMachine', motor, kv, {
      'RotatingMachine.ratedS': electrical / motor.powerFactor,
      'RotatingMachine.ratedU': motor.ratedKv,
      'RotatingMachine.ratedPowerFactor': motor.powerFactor,
      'AsynchronousMachine.ratedMechanicalPower': motor.ratedMw * motor.count,
      'AsynchronousMachine.efficiency': motor.efficiencyPercent,
      'AsynchronousMachine.iaIrRatio': motor.startingRatio,
      'AsynchronousMachine.polePairNumber': motor.polePairs,
      // Of a group R/X goes by the rating of one motor.
      'AsynchronousMachine.rxLockedRotorRatio':
        motor.rOverX ?? (motor.count > 1 ? motorResistanceRatio(motor.ratedKv, motor.ratedMw / motor.polePairs) : null),
      'AsynchronousMachine.converterFedDrive': false,
      'AsynchronousMachine.reversible': false,
    });
    writing.terminals(motor, 1, () => kv);
    writing.ssh.add('AsynchronousMachine', writing.idOf(motor), {
      'RotatingMachine.p': p,
      'RotatingMachine.q': p * Math.tan(Math.acos(motor.powerFactor)),
      'AsynchronousMachine.asynchronousMachineType': { choice: 'AsynchronousMachineKind.motor' },
    });
  },

  staticDrive(drive, writing) {
    const kv = writing.kvAt(drive.id, 0, drive.ratedKv);
    const p = (drive.ratedMva * drive.powerFactor * drive.loadingPercent) / 100;
    writing.equipment('AsynchronousMachine', drive, kv, {
      'RotatingMachine.ratedS': drive.ratedMva,
      'RotatingMachine.ratedU': drive.ratedKv,
      'RotatingMachine.ratedPowerFactor': drive.powerFactor,
      'AsynchronousMachine.converterFedDrive': true,
      'AsynchronousMachine.reversible': drive.feedsBack,
    });
    writing.terminals(drive, 1, () => kv);
    writing.ssh.add('AsynchronousMachine', writing.idOf(drive), {
      'RotatingMachine.p': p,
      'RotatingMachine.q': p * Math.tan(Math.acos(drive.powerFactor)),
    });
  },

  converterSource(unit, writing) {
    const kv = writing.kvAt(unit.id, 0, unit.ratedKv);
    const { operation } = unit;
    const control = voltageControl(unit, kv, operation.holds === 'voltage' ? operation.voltagePercent : null, writing);
    writing.equipment('PowerElectronicsConnection', unit, kv, {
      'PowerElectronicsConnection.ratedS': unit.ratedMva,
      'PowerElectronicsConnection.ratedU': unit.ratedKv,
      'PowerElectronicsConnection.maxIFault': unit.faultRatio,
      'PowerElectronicsConnection.minQ': operation.minMvar,
      'PowerElectronicsConnection.maxQ': operation.maxMvar,
      ...control.link,
    });
    const [terminal] = writing.terminals(unit, 1, () => kv);
    control.make(terminal);
    writing.ssh.add('PowerElectronicsConnection', writing.idOf(unit), {
      'PowerElectronicsConnection.p': -operation.activeMw,
      'PowerElectronicsConnection.q': -operation.reactiveMvar,
      'RegulatingCondEq.controlEnabled': operation.holds === 'voltage',
    });
  },
};

const perUnit = (percent: number | null): number | null => (percent === null ? null : percent / 100);

interface MachineData {
  readonly ratedMva: number;
  readonly ratedKv: number;
  readonly powerFactor: number;
  readonly xd2Percent: number;
  readonly xd1Percent: number | null;
  readonly xdPercent: number | null;
  readonly x2Percent: number | null;
  readonly rOhm: number | null;
  readonly regulationPercent: number;
  readonly rotor: 'turbo' | 'salient';
  readonly excitation: 'series1' | 'series2' | 'terminalFed';
  readonly operation: Operation;
}

const rotorKinds = {
  turbo: { series1: 'turboSeries1', series2: 'turboSeries2', terminalFed: 'turboSeries1' },
  salient: { series1: 'salientPole1', series2: 'salientPole2', terminalFed: 'salientPole1' },
} as const;

function machineObject(
  element: Element & { name: string },
  data: MachineData,
  id: string,
  kv: number,
  terminalIndex: number,
  writing: Writing,
  more: Readonly<Record<string, Property>>,
): void {
  const { operation } = data;
  if (data.excitation === 'terminalFed') writing.left.add('excitation from the terminals', element.name);
  const unit = writing.id(`generating unit ${element.id}`);
  writing.eq.add('ThermalGeneratingUnit', unit, {
    'IdentifiedObject.name': element.name,
    'Equipment.EquipmentContainer': { to: writing.stationOf(element.id) },
    'GeneratingUnit.minOperatingP': 0,
    'GeneratingUnit.maxOperatingP': data.ratedMva * data.powerFactor,
  });
  const control = voltageControl(element, kv, operation.holds === 'voltage' ? operation.voltagePercent : null, writing);
  writing.equipment(
    'SynchronousMachine',
    element,
    kv,
    {
      ...(terminalIndex > 0 && { 'IdentifiedObject.name': `${element.name} generator` }),
      'RotatingMachine.GeneratingUnit': { to: unit },
      'RotatingMachine.ratedS': data.ratedMva,
      'RotatingMachine.ratedU': data.ratedKv,
      'RotatingMachine.ratedPowerFactor': data.powerFactor,
      'SynchronousMachine.satDirectSubtransX': perUnit(data.xd2Percent),
      'SynchronousMachine.satDirectTransX': perUnit(data.xd1Percent),
      'SynchronousMachine.satDirectSyncX': perUnit(data.xdPercent),
      'SynchronousMachine.x2': perUnit(data.x2Percent),
      'SynchronousMachine.r': data.rOhm,
      'SynchronousMachine.voltageRegulationRange': data.regulationPercent,
      'SynchronousMachine.shortCircuitRotorType': {
        choice: `ShortCircuitRotorKind.${rotorKinds[data.rotor][data.excitation]}`,
      },
      'SynchronousMachine.minQ': operation.minMvar,
      'SynchronousMachine.maxQ': operation.maxMvar,
      ...more,
      ...control.link,
    },
    id,
  );
  const terminal = writing.terminal(element, terminalIndex, 0, kv, id);
  control.make(terminal);
  writing.ssh.add('SynchronousMachine', id, {
    'RotatingMachine.p': -operation.activeMw,
    'RotatingMachine.q': -operation.reactiveMvar,
    'RegulatingCondEq.controlEnabled': operation.holds === 'voltage',
  });
}

function starPoint(neutral: Neutral): Record<string, Property> {
  const earthing = neutral.earthing !== 'isolated';
  const through = earthing && neutral.earthing !== 'solid';
  return {
    'SynchronousMachine.earthing': earthing,
    'SynchronousMachine.earthingStarPointR': through ? neutral.rOhm : null,
    'SynchronousMachine.earthingStarPointX': through && neutral.earthing !== 'resistor' ? neutral.xOhm : null,
  };
}

/** A control that holds the voltage at the equipment's own terminal; nothing where none is held. */
function voltageControl(element: Element & { name: string }, kv: number, percent: number | null, writing: Writing) {
  if (percent === null) return { link: {}, make: () => {} };
  const id = writing.id(`control ${element.id}`);
  return {
    link: { 'RegulatingCondEq.RegulatingControl': { to: id } },
    make: (terminal: string) => {
      writing.eq.add('RegulatingControl', id, {
        'IdentifiedObject.name': `${element.name} voltage`,
        'RegulatingControl.mode': { choice: 'RegulatingControlModeKind.voltage' },
        'RegulatingControl.Terminal': { to: terminal },
      });
      writing.ssh.add('RegulatingControl', id, {
        'RegulatingControl.enabled': true,
        'RegulatingControl.discrete': false,
        'RegulatingControl.targetValue': (kv * percent) / 100,
        'RegulatingControl.targetValueUnitMultiplier': { choice: 'UnitMultiplier.k' },
      });
    },
  };
}
