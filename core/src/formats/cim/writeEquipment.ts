/** How each kind of element is written as CIM: the counterpart of `equipment` and `transformers`. */
import { motorResistanceRatio } from '../../sequence/asynchronousMotor';
import { lineConstants } from '../../sequence/lineConstants';
import { starLegs } from '../../sequence/threeWindingTransformer';
import { impedance, type Impedance } from '../../sequence/stamp';
import { parseVectorGroup, parseVectorGroup3, type Winding } from '../../model/vectorgroup';
import type { Line, Tap, WindingPair } from '../../model/branches';
import type { Element, ElementKind, ElementOf } from '../../model/element';
import { isolatedNeutral, type Neutral } from '../../model/fields';
import { find, settingsOf } from '../../model/network';
import type { Operation } from '../../model/sources';
import type { Property } from './document';
import type { Writing } from './write';

type Writers = { [K in ElementKind]?: (element: ElementOf<K>, writing: Writing) => void };

const switchClasses = {
  breaker: 'Breaker',
  disconnector: 'Disconnector',
  fuse: 'Fuse',
  link: 'Jumper',
  recloser: 'Recloser',
  contactor: 'Breaker',
} as const;

const atRest = 'that machines stand still at minimum sources';

export const writers: Writers = {
  bus(bus, writing) {
    if (bus.system === 'dc') return writing.left.add('direct current', bus.name);
    writing.equipment('BusbarSection', bus, bus.nominalKv, {
      'BusbarSection.ipMax': bus.peakKa === null ? null : bus.peakKa * 1000,
    });
    writing.terminals(bus, 1, () => bus.nominalKv);
  },

  switch(unit, writing) {
    const kv = writing.kvAt(unit.id, 0, unit.ratedKv ?? 1);
    writing.equipment(switchClasses[unit.type], unit, kv, {
      'Switch.normalOpen': !unit.closed,
      'Switch.retained': unit.type === 'breaker',
      'Switch.ratedCurrent': unit.ratedA,
    });
    writing.ssh.add(switchClasses[unit.type], writing.idOf(unit), { 'Switch.open': !unit.closed });
    writing.terminals(unit, 2, (k) => writing.kvAt(unit.id, k, kv));
    if (unit.functions.length > 0) writing.left.add('protection in switches', unit.name);
  },

  earthingSwitch(unit, writing) {
    const kv = writing.kvAt(unit.id, 0, 1);
    writing.equipment('GroundDisconnector', unit, kv, { 'Switch.normalOpen': !unit.closed, 'Switch.retained': false });
    writing.ssh.add('GroundDisconnector', writing.idOf(unit), { 'Switch.open': !unit.closed });
    writing.terminals(unit, 1, () => kv);
    const earth = writing.ownNode(`earth ${unit.id}`, unit.id, kv);
    writing.terminalAt(writing.idOf(unit), earth, 1);
    const ground = writing.id(`ground ${unit.id}`);
    writing.eq.add('Ground', ground, {
      'IdentifiedObject.name': `Earth of ${unit.name}`,
      'Equipment.EquipmentContainer': { to: writing.level(unit.id, kv) },
    });
    writing.terminalAt(ground, earth, 0);
  },

  line(line, writing) {
    const kv = writing.kvAt(line.id, 0, 1);
    const of = perKm(line, writing);
    const whole = (value: number | null) => (value === null ? null : (value * line.lengthKm) / line.circuits);
    const charge = (us: number) => us * 1e-6 * line.lengthKm * line.circuits;
    if (line.circuits > 1) writing.left.add('parallel circuits: one line that stands for all', line.name);
    const kind = line.type === 'cable' ? 'Cable' : 'Overhead line';
    const type = writing.id(`type ${kind}`);
    if (!once(writing, type)) writing.eq.add('PSRType', type, { 'IdentifiedObject.name': kind });
    const container = writing.id(`line ${line.id}`);
    writing.eq.add('Line', container, {
      'IdentifiedObject.name': line.name,
      'Line.Region': { to: writing.id('subregion') },
    });
    writing.eq.add('ACLineSegment', writing.idOf(line), {
      'IdentifiedObject.name': line.name,
      'Equipment.EquipmentContainer': { to: container },
      'ConductingEquipment.BaseVoltage': { to: writing.baseVoltage(kv) },
      'PowerSystemResource.PSRType': { to: type },
      'Conductor.length': line.lengthKm,
      'ACLineSegment.r': whole(of.r1),
      'ACLineSegment.x': whole(of.x1),
      'ACLineSegment.bch': charge(of.b1),
      'ACLineSegment.gch': 0,
      'ACLineSegment.r0': whole(of.r0),
      'ACLineSegment.x0': whole(of.x0),
      'ACLineSegment.b0ch': charge(of.b0),
      'ACLineSegment.g0ch': 0,
      'ACLineSegment.shortCircuitEndTemperature': line.endTemperatureC,
    });
    const [terminal] = writing.terminals(line, 2, (k) => writing.kvAt(line.id, k, kv));
    limit(writing, terminal, 'patl', line.ratedA === null ? null : line.ratedA * line.circuits);
    limit(writing, terminal, 'tatl', line.emergencyA === null ? null : line.emergencyA * line.circuits);
  },

  seriesReactor(unit, writing) {
    const z = ((unit.ukPercent / 100) * unit.ratedKv * 1000) / (Math.sqrt(3) * unit.ratedA);
    const x = z / Math.hypot(1, unit.rOverX);
    const kv = writing.kvAt(unit.id, 0, unit.ratedKv);
    writing.equipment('SeriesCompensator', unit, kv, {
      'SeriesCompensator.r': unit.rOverX * x,
      'SeriesCompensator.x': x,
      'SeriesCompensator.r0': unit.rOverX * x,
      'SeriesCompensator.x0': unit.x0OverX1 * x,
    });
    const [terminal] = writing.terminals(unit, 2, (k) => writing.kvAt(unit.id, k, kv));
    limit(writing, terminal, 'patl', unit.ratedA);
  },

  transformer(unit, writing) {
    const { hv, lv, clock } = parseVectorGroup(unit.vectorGroup)!;
    const z = ohms(unit, unit.hvKv);
    transformerObject(unit, writing, {});
    if (unit.shiftDegrees !== 0) writing.left.add('additional phase shift of transformers', unit.name);
    if (unit.core !== 'unspecified' || unit.x0mPercent !== null)
      writing.left.add('core and zero-sequence magnetising reactance of transformers', unit.name);
    const isAuto = lv === 'A';
    const first = winding(unit, writing, 0, {
      kv: unit.hvKv,
      mva: unit.ratedMva,
      z,
      zero: zeroOhms(unit, z),
      winding: hv,
      clock: 0,
      neutral: unit.hvNeutral,
    });
    const second = winding(unit, writing, 1, {
      kv: unit.lvKv,
      mva: unit.ratedMva,
      z: impedance(0, 0),
      zero: impedance(0, 0),
      winding: lv,
      clock,
      neutral: isAuto ? unit.hvNeutral : unit.lvNeutral,
    });
    tapChanger(unit.tap, { hv: first, lv: second }, writing, unit);
  },

  threeWindingTransformer(unit, writing) {
    const { windings, clocks } = parseVectorGroup3(unit.vectorGroup)!;
    transformerObject(unit, writing, {});
    if (unit.core !== 'unspecified' || unit.x0mPercent !== null)
      writing.left.add('core and zero-sequence magnetising reactance of transformers', unit.name);
    const pairs = [unit.hvMv, unit.hvLv, unit.mvLv];
    const of = (pair: WindingPair) => ohms(pair, unit.hvKv);
    const at = (pair: WindingPair, kv: number) => scaledTo(ohms(pair, kv), (unit.hvKv / kv) ** 2);
    const legs = starLegs(of(unit.hvMv), of(unit.hvLv), at(unit.mvLv, unit.mvKv));
    const knowsZero = pairs.every(({ x0OverX1 }) => x0OverX1 !== null);
    const zeros = knowsZero
      ? starLegs(
          zeroOhms(unit.hvMv, of(unit.hvMv))!,
          zeroOhms(unit.hvLv, of(unit.hvLv))!,
          scaledTo(zeroOhms(unit.mvLv, ohms(unit.mvLv, unit.mvKv))!, (unit.hvKv / unit.mvKv) ** 2),
        )
      : null;
    const rated = [
      Math.max(unit.hvMv.ratedMva, unit.hvLv.ratedMva),
      Math.max(unit.hvMv.ratedMva, unit.mvLv.ratedMva),
      Math.max(unit.hvLv.ratedMva, unit.mvLv.ratedMva),
    ];
    const byWindings = [Math.min(rated[0], rated[1]), Math.min(rated[0], rated[2]), Math.min(rated[1], rated[2])];
    if (pairs.some(({ ratedMva }, k) => ratedMva !== byWindings[k]))
      writing.left.add('ratings of pairs of windings that no ratings of single windings make', unit.name);
    const kvs = [unit.hvKv, unit.mvKv, unit.lvKv];
    const neutrals = [unit.hvNeutral, unit.mvNeutral, unit.lvNeutral];
    const ends = windings.map((of3, k) => {
      const share = (kvs[k] / unit.hvKv) ** 2;
      return winding(unit, writing, k, {
        kv: kvs[k],
        mva: rated[k],
        z: scaledTo(legs[k], share),
        zero: zeros && scaledTo(zeros[k], share),
        winding: of3,
        clock: clocks[k],
        neutral: of3 === 'A' ? unit.hvNeutral : neutrals[k],
      });
    });
    tapChanger(unit.tap, { hv: ends[0], lv: ends[2] }, writing, unit);
  },

  earthingTransformer(unit, writing) {
    transformerObject(unit, writing, {});
    winding(unit, writing, 0, {
      kv: unit.ratedKv,
      mva: null,
      z: impedance(0, 0),
      zero: impedance(unit.r0Ohm, unit.x0Ohm),
      winding: 'ZN',
      clock: 0,
      neutral: unit.neutral,
    });
  },

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

  load(load, writing) {
    const kv = writing.kvAt(load.id, 0, 1);
    if (load.behaves !== 'constantPower') writing.left.add('how loads answer to their voltage', load.name);
    if (load.circuit) writing.left.add('what of a load belongs to low-voltage circuits', load.name);
    writing.equipment('EnergyConsumer', load, kv, {});
    writing.terminals(load, 1, () => kv);
    const q = load.ratedMva * Math.sqrt(Math.max(0, 1 - load.powerFactor ** 2));
    writing.ssh.add('EnergyConsumer', writing.idOf(load), {
      'EnergyConsumer.p': load.ratedMva * load.powerFactor,
      'EnergyConsumer.q': load.reactive === 'leading' ? -q : q,
    });
  },

  shunt(shunt, writing) {
    const kv = writing.kvAt(shunt.id, 0, shunt.ratedKv);
    const b = ((shunt.type === 'capacitor' ? 1 : -1) * shunt.ratedMvar) / shunt.ratedKv ** 2;
    const earthed = shunt.neutral.earthing !== 'isolated';
    if (earthed && shunt.neutral.earthing !== 'solid')
      writing.left.add('impedance at the star point of shunts', shunt.name);
    writing.equipment('LinearShuntCompensator', shunt, kv, {
      'ShuntCompensator.nomU': shunt.ratedKv,
      'ShuntCompensator.normalSections': 1,
      'ShuntCompensator.maximumSections': 1,
      'ShuntCompensator.grounded': earthed,
      'LinearShuntCompensator.bPerSection': b,
      'LinearShuntCompensator.gPerSection': 0,
      'LinearShuntCompensator.b0PerSection': earthed ? b : 0,
    });
    writing.ssh.add('LinearShuntCompensator', writing.idOf(shunt), { 'ShuntCompensator.sections': 1 });
    writing.terminals(shunt, 1, () => kv);
  },

  lineCoupling(coupling, writing) {
    const [first, second] = [coupling.first, coupling.second].map((id) => find(writing.network, 'line', id));
    if (!first || !second) return;
    if (coupling.r0mOhmPerKm === null || coupling.x0mOhmPerKm === null)
      return writing.left.add('couplings of lines whose figures come from their tower', coupling.name);
    const terminal = (line: Line, number: number) => writing.id(`terminal ${writing.idOf(line)} ${number}`);
    const from = (line: Line, fromKm: number, number: number) =>
      number === 0 ? fromKm : line.lengthKm - fromKm - coupling.lengthKm;
    const far = coupling.opposite ? 1 : 0;
    const [a, b] = [from(first, coupling.firstFromKm, 0), from(second, coupling.secondFromKm, 0)];
    // Distances count from the terminal named; against each other the second line is counted from its other end.
    const second1 = far === 1 ? second.lengthKm - b - coupling.lengthKm : b;
    writing.eq.add('MutualCoupling', writing.id(`coupling ${coupling.id}`), {
      'IdentifiedObject.name': coupling.name,
      'MutualCoupling.First_Terminal': { to: terminal(first, 0) },
      'MutualCoupling.Second_Terminal': { to: terminal(second, far) },
      'MutualCoupling.r0': coupling.r0mOhmPerKm * coupling.lengthKm,
      'MutualCoupling.x0': coupling.x0mOhmPerKm * coupling.lengthKm,
      'MutualCoupling.b0ch': 0,
      'MutualCoupling.g0ch': 0,
      'MutualCoupling.distance11': a,
      'MutualCoupling.distance12': a + coupling.lengthKm,
      'MutualCoupling.distance21': second1,
      'MutualCoupling.distance22': second1 + coupling.lengthKm,
    });
  },

  currentTransformer(unit, writing) {
    writing.left.add('current transformers: the profiles have no ratio for them', unit.name);
  },
  voltageTransformer(unit, writing) {
    writing.left.add('voltage transformers: the profiles have no ratio for them', unit.name);
  },
};

const made = new WeakMap<Writing, Set<string>>();
/** Whether this was written before; remembers that it is now. */
function once(writing: Writing, id: string): boolean {
  const known = made.get(writing) ?? new Set<string>();
  made.set(writing, known);
  if (known.has(id)) return true;
  known.add(id);
  return false;
}

function perKm(line: Line, writing: Writing) {
  const tower = line.data === 'tower' ? find(writing.network, 'tower', line.tower) : undefined;
  const constants = tower && lineConstants(tower, line.towerCircuit, settingsOf(writing.network).frequencyHz);
  if (!constants)
    return {
      r1: line.r1OhmPerKm,
      x1: line.x1OhmPerKm,
      r0: line.r0OhmPerKm,
      x0: line.x0OhmPerKm,
      b1: line.b1UsPerKm,
      b0: line.b0UsPerKm,
    };
  writing.left.add('towers: lines are written with the figures that follow from them', line.name);
  return {
    r1: constants.z1.re,
    x1: constants.z1.im,
    r0: constants.z0.re,
    x0: constants.z0.im,
    b1: constants.b1UsPerKm,
    b0: constants.b0UsPerKm,
  };
}

function limit(writing: Writing, terminal: string, kind: 'patl' | 'tatl', ampere: number | null): void {
  if (ampere === null) return;
  const type = writing.id(`limit ${kind}`);
  if (!once(writing, type))
    writing.eq.add('OperationalLimitType', type, {
      'IdentifiedObject.name': kind === 'patl' ? 'Permanent' : 'Emergency',
      'OperationalLimitType.kind': { choice: `LimitKind.${kind}` },
      'OperationalLimitType.isInfiniteDuration': kind === 'patl',
    });
  const set = writing.id(`limits ${terminal} ${kind}`);
  writing.eq.add('OperationalLimitSet', set, {
    'IdentifiedObject.name': kind === 'patl' ? 'Permanent' : 'Emergency',
    'OperationalLimitSet.Terminal': { to: terminal },
  });
  writing.eq.add('CurrentLimit', writing.id(`limit ${terminal} ${kind}`), {
    'IdentifiedObject.name': kind === 'patl' ? 'Permanent' : 'Emergency',
    'OperationalLimit.OperationalLimitSet': { to: set },
    'OperationalLimit.OperationalLimitType': { to: type },
    'CurrentLimit.normalValue': ampere,
  });
}

/** Leakage impedance in ohms at `kv`. */
function ohms(
  { ratedMva, ukPercent, uRPercent }: { ratedMva: number; ukPercent: number; uRPercent: number },
  kv: number,
): Impedance {
  const base = kv ** 2 / ratedMva / 100;
  return impedance(uRPercent * base, Math.sqrt(Math.max(0, ukPercent ** 2 - uRPercent ** 2)) * base);
}

const scaledTo = (z: Impedance, by: number): Impedance => impedance(z.rOhm * by, z.xOhm * by);

const zeroOhms = (
  { x0OverX1, r0OverR1 }: { x0OverX1: number | null; r0OverR1: number | null },
  z: Impedance,
): Impedance | null => (x0OverX1 === null ? null : impedance((r0OverR1 ?? 1) * z.rOhm, x0OverX1 * z.xOhm));

function transformerObject(
  element: Element & { name: string },
  writing: Writing,
  more: Readonly<Record<string, Property>>,
): void {
  writing.eq.add('PowerTransformer', writing.idOf(element), {
    'IdentifiedObject.name': element.name,
    'Equipment.EquipmentContainer': { to: writing.stationOf(element.id) },
    ...more,
  });
}

interface WindingData {
  readonly kv: number;
  readonly mva: number | null;
  readonly z: Impedance;
  readonly zero: Impedance | null;
  readonly winding: Winding;
  readonly clock: number;
  readonly neutral: Neutral;
}

const connectionKinds: Readonly<Record<Winding, string>> = { D: 'D', Y: 'Y', YN: 'Yn', Z: 'Z', ZN: 'Zn', A: 'A' };

/** A winding with its terminal; gives the identifier of its end. */
function winding(element: Element & { name: string }, writing: Writing, k: number, data: WindingData): string {
  const terminal = writing.terminal(element, k, k, writing.kvAt(element.id, k, data.kv));
  const id = writing.id(`winding ${element.id} ${k}`);
  const earthed =
    data.neutral.earthing !== 'isolated' && (data.winding === 'YN' || data.winding === 'ZN' || data.winding === 'A');
  const through = earthed && data.neutral.earthing !== 'solid';
  if (data.neutral.earthing === 'coil' && earthed)
    writing.left.add('that a reactance at a neutral is a coil tuned to the network', element.name);
  writing.eq.add('PowerTransformerEnd', id, {
    'IdentifiedObject.name': `${element.name} ${k + 1}`,
    'PowerTransformerEnd.PowerTransformer': { to: writing.idOf(element) },
    'TransformerEnd.Terminal': { to: terminal },
    'TransformerEnd.endNumber': k + 1,
    'TransformerEnd.BaseVoltage': { to: writing.baseVoltage(writing.kvAt(element.id, k, data.kv)) },
    'PowerTransformerEnd.ratedU': data.kv,
    'PowerTransformerEnd.ratedS': data.mva,
    'PowerTransformerEnd.r': data.z.rOhm,
    'PowerTransformerEnd.x': data.z.xOhm,
    'PowerTransformerEnd.b': 0,
    'PowerTransformerEnd.g': 0,
    'PowerTransformerEnd.r0': data.zero?.rOhm,
    'PowerTransformerEnd.x0': data.zero?.xOhm,
    'PowerTransformerEnd.connectionKind': { choice: `WindingConnection.${connectionKinds[data.winding]}` },
    'PowerTransformerEnd.phaseAngleClock': data.clock,
    'TransformerEnd.grounded': earthed,
    'TransformerEnd.rground': through ? data.neutral.rOhm : null,
    'TransformerEnd.xground': through && data.neutral.earthing !== 'resistor' ? data.neutral.xOhm : null,
  });
  return id;
}

function tapChanger(
  tap: Tap,
  ends: Readonly<Record<'hv' | 'lv', string>>,
  writing: Writing,
  element: Element & { name: string },
  onLoad = true,
): void {
  if (tap.side === 'none' || tap.steps === 0) return;
  if (tap.holds !== 'nothing') writing.left.add('which voltage a tap changer holds', element.name);
  const id = writing.id(`tap changer ${element.id}`);
  writing.eq.add('RatioTapChanger', id, {
    'IdentifiedObject.name': `${element.name} taps`,
    'RatioTapChanger.TransformerEnd': { to: ends[tap.side] },
    'TapChanger.lowStep': -tap.steps,
    'TapChanger.highStep': tap.steps,
    'TapChanger.neutralStep': 0,
    'TapChanger.normalStep': tap.position,
    'TapChanger.ltcFlag': onLoad,
    'RatioTapChanger.stepVoltageIncrement': tap.stepPercent,
  });
  writing.ssh.add('RatioTapChanger', id, { 'TapChanger.step': tap.position, 'TapChanger.controlEnabled': false });
}

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
