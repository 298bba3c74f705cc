/** How each kind of element is written as CIM: the counterpart of `equipment` and `transformers`. */
import { lineConstants } from '../../sequence/lineConstants';
import type { Line } from '../../model/branches';
import { find, settingsOf } from '../../model/network';
import { machineWriters } from './writeMachines';
import type { Writers } from './writers';
import type { Writing } from './write';
import { transformerWriters } from './writeTransformers';

const switchClasses = {
  breaker: 'Breaker',
  disconnector: 'Disconnector',
  fuse: 'Fuse',
  link: 'Jumper',
  recloser: 'Recloser',
  contactor: 'Breaker',
} as const;

export const writers: Writers = {
  ...transformerWriters,
  ...machineWriters,

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
