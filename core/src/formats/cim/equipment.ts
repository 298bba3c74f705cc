/** Equipment of a CIM model as elements: which attribute is which field, and what is taken where an attribute is missing. Attributes of IEC 61970-301 and of the exchange profiles of IEC 61970-452 as remembered. */
import { idle } from '../../model/sources';
import { neutralOf } from '../../model/fields';
import type { Element } from '../../model/element';
import type { CimObject } from './graph';
import { asynchronousMachine, converter, synchronousMachine } from './machines';
import { limitsOf, oneTerminal, twoTerminals, voltageHeld, type Limit, type Making } from './making';
import type { CimTerminal } from './model';
import { transformers } from './transformers';

/** Equipment by class; those with two or more terminals first. */
const mappings: Readonly<Record<string, (object: CimObject, making: Making) => void>> = {
  ACLineSegment: line,
  SeriesCompensator: seriesCompensator,
  EquivalentBranch: equivalentBranch,
  Breaker: (object, making) => switchOf(object, making, 'breaker'),
  Disconnector: (object, making) => switchOf(object, making, 'disconnector'),
  LoadBreakSwitch: (object, making) => switchOf(object, making, 'disconnector'),
  DisconnectingCircuitBreaker: (object, making) => switchOf(object, making, 'breaker'),
  Recloser: (object, making) => switchOf(object, making, 'recloser'),
  Sectionaliser: (object, making) => switchOf(object, making, 'disconnector'),
  Fuse: (object, making) => switchOf(object, making, 'fuse'),
  Jumper: (object, making) => switchOf(object, making, 'link'),
  Cut: (object, making) => switchOf(object, making, 'link'),
  Switch: (object, making) => switchOf(object, making, 'disconnector'),
  ProtectedSwitch: (object, making) => switchOf(object, making, 'breaker'),
  GroundDisconnector: earthingSwitch,
  ExternalNetworkInjection: networkInjection,
  EquivalentInjection: equivalentInjection,
  EnergySource: energySource,
  SynchronousMachine: synchronousMachine,
  AsynchronousMachine: asynchronousMachine,
  PowerElectronicsConnection: converter,
  EnergyConsumer: load,
  ConformLoad: load,
  NonConformLoad: load,
  StationSupply: load,
  LinearShuntCompensator: shunt,
  NonlinearShuntCompensator: (object, { brought, model }) =>
    brought.left.add('shunt compensators with a table of sections', model.labelOf(object)),
};

/** Classes that carry nothing that a network is made of, and are part of what was read. */
const understood: ReadonlySet<string> = new Set(
  (
    'FullModel Terminal ConnectivityNode TopologicalNode BaseVoltage Substation VoltageLevel Bay GeographicalRegion SubGeographicalRegion Line BusbarSection Junction ' +
    'PowerTransformer PowerTransformerEnd RatioTapChanger TapChangerControl RegulatingControl OperationalLimitSet OperationalLimitType CurrentLimit ApparentPowerLimit MutualCoupling Ground ' +
    'GeneratingUnit ThermalGeneratingUnit HydroGeneratingUnit NuclearGeneratingUnit WindGeneratingUnit SolarGeneratingUnit PowerElectronicsUnit BatteryUnit PhotoVoltaicUnit PowerElectronicsWindUnit ' +
    'Diagram DiagramObject DiagramObjectPoint VisibilityLayer TextDiagramObject PSRType LoadArea SubLoadArea ConformLoadGroup NonConformLoadGroup LoadResponseCharacteristic ConnectivityNodeContainer ' +
    'DiagramObjectStyle Name NameType NameTypeAuthority PhaseTapChangerLinear PhaseTapChangerSymmetrical PhaseTapChangerAsymmetrical PhaseTapChangerTabular TransformerMeshImpedance EquivalentNetwork'
  ).split(' '),
);

/** Everything of the model that has a counterpart; the rest is told by class. */
export function* equipment(making: Making): Generator<number, void> {
  const { model, brought } = making;
  const all = model.graph.objects.size;
  let done = 0;
  yield* transformers(making);
  for (const [type, map] of Object.entries(mappings))
    for (const object of model.graph.ofType(type)) {
      if (++done % 500 === 0) yield done / all;
      if (!making.consumed.has(object)) map(object, making);
    }
  for (const [type, objects] of model.graph.types)
    if (!(type in mappings) && !understood.has(type))
      brought.left.add(
        `${type}: ${/^Sv|^DCLine|^Topological/.test(type) ? 'results, which are computed anew' : 'nothing of it is needed here'} (${objects.length})`,
      );
  for (const type of [
    'PhaseTapChangerLinear',
    'PhaseTapChangerSymmetrical',
    'PhaseTapChangerAsymmetrical',
    'PhaseTapChangerTabular',
  ])
    for (const object of model.graph.ofType(type))
      brought.left.add('phase-shifting tap changers: the angle is to be typed', model.labelOf(object));
}

/** Above this susceptance a line is taken for a cable. */
const cableFromUsPerKm = 20;
const usualOhmPerKm = { overhead: 0.4, cable: 0.12 } as const;

function line(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const of = (name: string) => model.number(object, `ACLineSegment.${name}`);
  const [r = 0, x = 0, r0, x0, b = 0, b0 = 0] = ['r', 'x', 'r0', 'x0', 'bch', 'b0ch'].map(of);
  const label = model.labelOf(object);
  if (x <= 0) return brought.wrong.add('a line without reactance cannot be taken', label);
  const kindName = model.graph.linked(object, 'PowerSystemResource.PSRType')?.name.toLowerCase() ?? '';
  const stated = /cable|underground/.test(kindName) ? 'cable' : /overhead/.test(kindName) ? 'overhead' : null;
  const given = model.number(object, 'Conductor.length');
  const hasLength = given !== undefined && given > 0;
  const isCable = stated ? stated === 'cable' : (b * 1e6) / (hasLength ? given : x / 0.3) > cableFromUsPerKm;
  const type = isCable ? ('cable' as const) : ('overhead' as const);
  const lengthKm = hasLength ? given : x / usualOhmPerKm[type];
  if (!hasLength) brought.assumed.add('length of lines, by a usual reactance per km', label);
  if (!stated) brought.assumed.add('whether lines are overhead or cables, by their capacitance', label);
  const hasZero = r0 !== undefined && x0 !== undefined && x0 > 0;
  if (!hasZero) brought.assumed.add('zero sequence of lines: unknown, earth faults there are not computed', label);
  if ((of('gch') ?? 0) !== 0) brought.left.add('shunt conductance of lines', label);
  const endTemperatureC = model.number(object, 'ACLineSegment.shortCircuitEndTemperature');
  const { permanent, temporary } = limitsOf(object, making);
  const kv = model.kvAtTerminal(model.terminalsOf(object)[0], object);
  const ampere = (limit: Limit | null) =>
    limit && (limit.unit === 'A' ? limit.value : kv === undefined ? null : (limit.value * 1000) / (Math.sqrt(3) * kv));
  const [ratedA, emergencyA] = [ampere(permanent), ampere(temporary)];
  const made = brought.add(
    'line',
    object.id,
    model.nameOf(object),
    {
      ...(stated && { type }),
      ...(hasLength && { lengthKm }),
      circuits: 1,
      r1OhmPerKm: r / lengthKm,
      x1OhmPerKm: x / lengthKm,
      ...(hasZero && { r0OhmPerKm: r0 / lengthKm, x0OhmPerKm: x0 / lengthKm }),
      b1UsPerKm: (b * 1e6) / lengthKm,
      ...(hasZero && { b0UsPerKm: (b0 * 1e6) / lengthKm }),
      ...(endTemperatureC !== undefined && endTemperatureC >= 20 && endTemperatureC <= 400 && { endTemperatureC }),
      ...(ratedA && { ratedA }),
      ...(emergencyA && ratedA && emergencyA > ratedA && { emergencyA }),
    },
    {
      ...(!stated && { type }),
      ...(!hasLength && { lengthKm }),
      ...(!hasZero && { r0OhmPerKm: null, x0OhmPerKm: null }),
    },
  );
  making.tie(made, twoTerminals(object, making));
}

/** On a rating on which the drop is a usual one. */
const reactorPercent = 6;

function seriesCompensator(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const of = (name: string) => model.number(object, `SeriesCompensator.${name}`);
  const [r = 0, x = 0, x0] = [of('r'), of('x'), of('x0')];
  const label = model.labelOf(object);
  if (x <= 0) return brought.left.add('series capacitors: they have no counterpart, and their place stays open', label);
  const terminals = twoTerminals(object, making);
  const kv = model.kvAtTerminal(terminals[0], object);
  if (kv === undefined) return brought.wrong.add('a series reactor tells no voltage', label);
  const { permanent } = limitsOf(object, making);
  const z = Math.hypot(r, x);
  const ratedA = permanent?.unit === 'A' ? permanent.value : ((reactorPercent / 100) * kv * 1000) / (Math.sqrt(3) * z);
  if (!permanent) brought.assumed.add('rated current of series reactors', label);
  const made = brought.add(
    'seriesReactor',
    object.id,
    model.nameOf(object),
    {
      ratedKv: kv,
      ...(permanent && { ratedA }),
      ukPercent: (100 * z * Math.sqrt(3) * ratedA) / (kv * 1000),
      rOverX: r / x,
      ...(x0 !== undefined && x0 > 0 && { x0OverX1: x0 / x }),
    },
    { ...(!permanent && { ratedA }), ...(!(x0 !== undefined && x0 > 0) && { x0OverX1: 1 }) },
  );
  making.tie(made, terminals);
}

function equivalentBranch(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const of = (name: string) => model.number(object, `EquivalentBranch.${name}`);
  const [r = 0, x = 0, r0, x0] = [of('r'), of('x'), of('zeroR12'), of('zeroX12')];
  const label = model.labelOf(object);
  if (x <= 0) return brought.wrong.add('an equivalent branch without reactance cannot be taken', label);
  brought.assumed.add('equivalent branches are lines of 1 km', label);
  const hasZero = r0 !== undefined && x0 !== undefined && x0 > 0;
  const made = brought.add(
    'line',
    object.id,
    model.nameOf(object),
    { r1OhmPerKm: r, x1OhmPerKm: x, b1UsPerKm: 0, b0UsPerKm: 0, ...(hasZero && { r0OhmPerKm: r0, x0OhmPerKm: x0 }) },
    { type: 'overhead', lengthKm: 1, ...(!hasZero && { r0OhmPerKm: null, x0OhmPerKm: null }) },
  );
  making.tie(made, twoTerminals(object, making));
}

function switchOf(
  object: CimObject,
  making: Making,
  type: 'breaker' | 'disconnector' | 'fuse' | 'link' | 'recloser',
): void {
  const { model, brought } = making;
  const open = model.flag(object, 'Switch.open') ?? model.flag(object, 'Switch.normalOpen');
  if (open === undefined) brought.assumed.add('switches are closed', model.labelOf(object));
  const ratedA = model.number(object, 'Switch.ratedCurrent');
  const made = brought.add(
    'switch',
    object.id,
    model.nameOf(object),
    { type, ...(open !== undefined && { closed: !open }), ...(ratedA !== undefined && ratedA > 0 && { ratedA }) },
    { ...(open === undefined && { closed: true }), ...(type === 'breaker' ? {} : { openingTimeS: null }) },
  );
  making.tie(made, twoTerminals(object, making));
}

function earthingSwitch(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const open = model.flag(object, 'Switch.open') ?? model.flag(object, 'Switch.normalOpen');
  const [first, second] = model.terminalsOf(object);
  // The terminal that leads to earth has nothing beside it but that.
  const leadsToEarth = (terminal: CimTerminal | undefined) =>
    terminal?.node?.terminals.some(({ equipment: other }) => other.type === 'Ground') ?? false;
  const made = brought.add(
    'earthingSwitch',
    object.id,
    model.nameOf(object),
    { ...(open !== undefined && { closed: !open }) },
    { ...(open === undefined && { closed: false }) },
  );
  making.tie(made, [leadsToEarth(first) ? second : first]);
}

/** Behind a fault level that the file does not tell. */
const assumedFaultKa = 10;

function networkInjection(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const label = model.labelOf(object);
  const of = (name: string) => model.number(object, `ExternalNetworkInjection.${name}`);
  const terminals = oneTerminal(object, making);
  const level = (which: 'max' | 'min') => {
    const ikA = of(`${which}InitialSymShCCurrent`);
    const z0 = of(`${which}Z0ToZ1Ratio`);
    const [rOverX, r0OverX0] = [of(`${which}R1ToX1Ratio`), of(`${which}R0ToX0Ratio`)];
    const isEarthed = z0 !== undefined && z0 > 0;
    return {
      stated: ikA !== undefined && ikA > 0,
      isEarthed,
      level: {
        given: 'current' as const,
        ikKa: ikA !== undefined && ikA > 0 ? ikA / 1000 : assumedFaultKa,
        skMva: null,
        rOverX: rOverX ?? 0.1,
        x0OverX1: isEarthed ? (z0 * Math.hypot(1, rOverX ?? 0.1)) / Math.hypot(1, r0OverX0 ?? 0.1) : null,
        r0OverX0: isEarthed ? (r0OverX0 ?? 0.1) : null,
      },
    };
  };
  const [max, min] = [level('max'), level('min')];
  if (!max.stated) brought.assumed.add(`fault level ${assumedFaultKa} kA of network injections`, label);
  else if (!min.stated) brought.assumed.add('minimum fault level of network injections: the maximum', label);
  const earthed = max.isEarthed || min.isEarthed;
  if (!earthed) brought.assumed.add('networks behind injections without zero sequence are not earthed', label);
  const made = brought.add(
    'networkFeeder',
    object.id,
    model.nameOf(object),
    {
      ...(earthed && { earthed }),
      ...(max.stated && { max: max.level }),
      ...(min.stated && { min: min.level }),
      ...voltageHeld(object, making),
    },
    {
      ...(!earthed && { earthed }),
      ...(!max.stated && { max: max.level }),
      ...(!min.stated && { min: max.level }),
    },
  );
  making.tie(made, terminals);
}

function equivalentInjection(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const of = (name: string) => model.number(object, `EquivalentInjection.${name}`);
  const [r = 0, x = 0, r0, x0, p = 0, q = 0] = ['r', 'x', 'r0', 'x0', 'p', 'q'].map(of);
  const terminals = oneTerminal(object, making);
  const kv = model.kvAtTerminal(terminals[0], object);
  const label = model.labelOf(object);
  if (x > 0 && kv !== undefined) {
    const earthed = x0 !== undefined && x0 > 0;
    const level = {
      given: 'current' as const,
      ikKa: (1.1 * kv) / (Math.sqrt(3) * Math.hypot(r, x)),
      skMva: null,
      rOverX: r / x,
      x0OverX1: earthed ? x0 / x : null,
      r0OverX0: earthed ? (r0 ?? 0) / x0 : null,
    };
    brought.assumed.add('equivalent injections with an impedance are networks, their fault level with c = 1.1', label);
    making.tie(
      brought.add('networkFeeder', object.id, model.nameOf(object), { earthed, max: level, min: level }),
      terminals,
    );
  } else making.tie(powerAt(object, p, q, making), terminals);
}

function energySource(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const of = (name: string) => model.number(object, `EnergySource.${name}`);
  const [r = 0, x = 0, r0, x0] = ['r', 'x', 'r0', 'x0'].map(of);
  const terminals = oneTerminal(object, making);
  const kv = model.kvAtTerminal(terminals[0], object);
  const label = model.labelOf(object);
  if (kv === undefined) return brought.wrong.add('a source tells no voltage', label);
  const earthed = x0 !== undefined && x0 > 0;
  const known = x > 0;
  if (!known) brought.assumed.add(`fault level ${assumedFaultKa} kA of sources without impedance`, label);
  const level = {
    given: 'current' as const,
    ikKa: known ? (1.1 * kv) / (Math.sqrt(3) * Math.hypot(r, x)) : assumedFaultKa,
    skMva: null,
    rOverX: known ? r / x : 0.1,
    x0OverX1: earthed && known ? x0 / x : null,
    r0OverX0: earthed && known ? (r0 ?? 0) / x0 : null,
  };
  making.tie(
    brought.add(
      'networkFeeder',
      object.id,
      model.nameOf(object),
      known ? { earthed, max: level, min: level } : {},
      known ? {} : { earthed: false, max: level, min: level },
    ),
    terminals,
  );
}

function load(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const of = (name: string) => model.number(object, `EnergyConsumer.${name}`);
  const [p, q] = [of('p') ?? of('pfixed'), of('q') ?? of('qfixed')];
  if (p === undefined && q === undefined)
    brought.assumed.add('loads without power draw nothing', model.labelOf(object));
  making.tie(powerAt(object, p ?? 0, q ?? 0, making), oneTerminal(object, making));
}

/** A power drawn, or given where it is below nought. */
function powerAt(object: CimObject, p: number, q: number, { model, brought }: Making): Element | null {
  const mva = Math.hypot(p, q);
  if (p >= 0)
    return brought.add('load', object.id, model.nameOf(object), {
      ratedMva: mva,
      powerFactor: mva === 0 ? 1 : Math.max(p / mva, 1e-9),
      reactive: q < 0 ? 'leading' : 'lagging',
    });
  brought.assumed.add(
    'a load below nought is a source behind a converter that gives no fault current',
    model.labelOf(object),
  );
  const ratedKv = model.kvAtTerminal(model.terminalsOf(object)[0], object);
  if (ratedKv === undefined) {
    brought.wrong.add('a source tells no voltage', model.labelOf(object));
    return null;
  }
  return brought.add(
    'converterSource',
    object.id,
    model.nameOf(object),
    { operation: { ...idle, activeMw: -p, reactiveMvar: -q } },
    { ratedMva: mva, ratedKv, faultRatio: 0 },
  );
}

function shunt(object: CimObject, making: Making): void {
  const { model, brought } = making;
  const terminals = oneTerminal(object, making);
  const label = model.labelOf(object);
  const sections =
    model.number(object, 'ShuntCompensator.sections') ?? model.number(object, 'ShuntCompensator.normalSections') ?? 1;
  const b = (model.number(object, 'LinearShuntCompensator.bPerSection') ?? 0) * sections;
  const b0 = (model.number(object, 'LinearShuntCompensator.b0PerSection') ?? 0) * sections;
  const own = model.number(object, 'ShuntCompensator.nomU');
  const kv = own && own > 0 ? own : model.kvAtTerminal(terminals[0], object);
  if (kv === undefined) return brought.wrong.add('a shunt compensator tells no voltage', label);
  if (b === 0) return brought.left.add('shunt compensators that are switched off', label);
  const grounded = model.flag(object, 'ShuntCompensator.grounded') ?? b0 !== 0;
  const made = brought.add('shunt', object.id, model.nameOf(object), {
    type: b > 0 ? 'capacitor' : 'reactor',
    ratedMvar: Math.abs(b) * kv ** 2,
    ratedKv: kv,
    neutral: neutralOf(grounded ? 'solid' : 'isolated'),
  });
  making.tie(made, terminals);
}
