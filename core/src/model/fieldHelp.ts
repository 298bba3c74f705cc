/** What a quantity is, and where on a nameplate, a data sheet or a test report it stands. By kind and path; "*" for all kinds. */
import type { ElementKind } from './element';

const help: Readonly<Record<string, string>> = {
  'bus.nominalKv':
    'The voltage by which this level is called, between phases. Nameplates show the rated voltage, which may differ: 0.42 kV windings feed a 0.4 kV bus.',
  'switch.ratedA':
    'Rated normal current: on the nameplate as Ir (IEC 62271-1); of a fuse the rated current of its link.',
  'switch.breakingKa':
    'Largest short-circuit current that it breaks: nameplate, Isc (IEC 62271-100); of a fuse the breaking capacity (IEC 60282-1, IEC 60269-1). Compared with the largest Ik″ where it stands.',
  'switch.openingTimeS':
    'From the trip command until the contacts part: type test report, or the data sheet of the breaker. Not the arcing time.',
  'switch.closed': 'Position in the normal condition of the network.',
  'currentTransformer.primaryA': 'First figure of the ratio on the nameplate, such as the 400 of 400/1.',
  'currentTransformer.secondaryA': 'Second figure of the ratio on the nameplate: 1 A or 5 A.',
  'currentTransformer.accuracy':
    'Class and limit factor of the core that feeds the protection, such as 5P20 (IEC 61869-2).',
  'networkFeeder.max.ikKa':
    'Initial symmetrical short-circuit current at the point of connection with the most sources in service: from the network operator.',
  'networkFeeder.max.skMva':
    'Short-circuit power at the point of connection with the most sources in service: from the network operator.',
  'networkFeeder.min.ikKa': 'The same with the fewest sources in service; it decides whether protection sees a fault.',
  'networkFeeder.min.skMva': 'The same with the fewest sources in service; it decides whether protection sees a fault.',
  'networkFeeder.max.rOverX':
    'From the network operator. Above 35 kV with overhead lines 0.1 is usual; IEC 60909-0, 6.2 gives what to take when it is not known.',
  'networkFeeder.max.x0OverX1':
    'Zero- to positive-sequence reactance at the point of connection: from the network operator, needed for earth faults.',
  'networkFeeder.earthed': 'Whether the network behind the point of connection has an earthed neutral.',
  'line.lengthKm': 'Length of the route; of a cable the laid length, from the laying plan.',
  'line.r1OhmPerKm':
    'Direct-current resistance at 20 °C per kilometre of one circuit: cable data sheet (IEC 60228), conductor table.',
  'line.x1OhmPerKm':
    'Positive-sequence reactance at rated frequency, for the laying as it is: cable data sheet, or from the tower.',
  'line.r0OhmPerKm':
    'Zero-sequence resistance with the return path as it is (screen, earth): cable data sheet, or measured (IEC 60909-2).',
  'line.x0OhmPerKm':
    'Zero-sequence reactance with the return path as it is: cable data sheet, or measured (IEC 60909-2).',
  'line.b1UsPerKm': 'Charging susceptance ω·C per kilometre: from the capacitance on the cable data sheet.',
  'line.ratedA':
    'Current-carrying capacity as laid, of one circuit: not the table value for free air unless it hangs there.',
  'line.endTemperatureC':
    'Conductor temperature at the end of the fault, for the smallest currents: IEC 60909-0, 5.3; 160 °C for PVC, 250 °C for XLPE.',
  'transformer.ratedMva':
    'Rated power on the nameplate, of the highest cooling stage unless uk refers to another (IEC 60076-1).',
  'transformer.hvKv': 'Rated voltage of the higher-voltage winding on its principal tapping: nameplate.',
  'transformer.lvKv': 'Rated voltage of the lower-voltage winding, without load: nameplate, such as 0.42 kV.',
  'transformer.ukPercent': 'Short-circuit impedance at the principal tapping: nameplate or test report, in percent.',
  'transformer.uRPercent': 'Load losses in percent of the rated power: test report, PkrT / SrT (IEC 60909-0, 6.3.1).',
  'transformer.vectorGroup': 'Connection symbol on the nameplate, such as Dyn11 or YNd1 (IEC 60076-1).',
  'transformer.x0OverX1':
    'Measured zero-sequence reactance over the positive one: test report. Near 1 for Dyn, below 1 for YNyn of three limbs.',
  'threeWindingTransformer.hvMv.ukPercent':
    'Between these two windings, referred to the rated power named with it: nameplate.',
  'threeWindingTransformer.hvLv.ukPercent':
    'Between these two windings, referred to the rated power named with it: nameplate.',
  'threeWindingTransformer.mvLv.ukPercent':
    'Between these two windings, referred to the rated power named with it: nameplate.',
  'synchronousMachine.ratedMva': 'Rated apparent power: nameplate.',
  'synchronousMachine.xd2Percent': 'Subtransient reactance of the direct axis, saturated: data sheet of the machine.',
  'synchronousMachine.powerFactor': 'Rated power factor: nameplate.',
  'synchronousMachine.rOhm': 'Armature resistance per phase, warm: test report.',
  'asynchronousMotor.ratedMw': 'Rated output at the shaft: nameplate.',
  'asynchronousMotor.startingRatio': 'Locked-rotor current over rated current, ILR/IrM: data sheet; 5 to 7 is usual.',
  'asynchronousMotor.polePairs': 'Half the number of poles: 1500 1/min at 50 Hz are two pairs.',
  'asynchronousMotor.efficiencyPercent': 'At rated load: nameplate or data sheet.',
  'asynchronousMotor.powerFactor': 'At rated load: nameplate or data sheet.',
  'asynchronousMotor.count': 'Like motors on one bus, taken together as one equivalent (IEC 60909-0, 6.10).',
  'seriesReactor.ukPercent': 'Voltage drop at rated current in percent of the rated voltage: nameplate (IEC 60076-6).',
  'seriesReactor.ratedA': 'Rated continuous current: nameplate.',
  'earthingTransformer.x0Ohm': 'Zero-sequence reactance per phase: nameplate (IEC 60076-6).',
  'load.powerFactor': 'At the load that is meant, not the contract value.',
  'shunt.ratedMvar': 'Rated reactive power at the rated voltage of the bank: nameplate.',
  '*.ratedKv': 'Rated voltage on the nameplate, between phases.',
  '*.ratedMva': 'Rated apparent power on the nameplate.',
  '*.hvNeutral.earthing': 'How the star point of this winding is joined to earth.',
  '*.lvNeutral.earthing': 'How the star point of this winding is joined to earth.',
  '*.neutral.earthing': 'How the star point is joined to earth.',
};

export const fieldHelp = (kind: ElementKind, path: string): string | null =>
  help[`${kind}.${path}`] ?? help[`*.${path}`] ?? null;
export const helpKeys: readonly string[] = Object.keys(help);

const groups: readonly [string, RegExp][] = [
  ['Zero and negative sequence', /^(x0|r0|b0|x2|x0m|core$|r2)/],
  [
    'Ratings',
    /^(rated|breakingKa|peakKa|hvKv|mvKv|lvKv|nominalKv|primaryA|secondaryA|accuracy|powerFactor|efficiency|vectorGroup|count$|lengthKm|circuits)/,
  ],
  [
    'Impedance',
    /^(uk|uR|r1|x1|b1|xd|rOhm|rOverX|startingRatio|polePairs|data$|towerCircuit|endTemperature|shiftDegrees|kappa|rotor|regulation)/,
  ],
  ['Operation', /^(closed|runs|operation|loading|voltagePercent|openingTime|excitation|behaves|earthed)/],
];

/** The group under which a field of the card stands; null for what names the element. */
export const groupOf = (name: string): string | null => groups.find(([, pattern]) => pattern.test(name))?.[0] ?? null;
export const groupOrder: readonly string[] = ['Ratings', 'Impedance', 'Zero and negative sequence', 'Operation'];
