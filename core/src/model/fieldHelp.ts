/** What a quantity is, and where on a nameplate, a data sheet or a test report it stands. By kind and path; "*" for all kinds. */
import type { ElementKind } from './element';

const help: Readonly<Record<string, string>> = {
  'bus.nominalKv':
    'The voltage by which this level is called, between phases. Nameplates show the rated voltage, which may differ: 0.42 kV windings feed a 0.4 kV bus.',
  'bus.ratedKv':
    'Of the board: nameplate, Ur (IEC 62271-1) or Ue (IEC 61439-1). Not below the nominal voltage of the network.',
  'bus.ratedA': 'Of the busbars: nameplate, Ir (IEC 62271-1) or InA (IEC 61439-1).',
  'bus.peakKa':
    'Nameplate, Ip (IEC 62271-1) or Ipk (IEC 61439-1): the first peak that the busbars withstand. Compared with the largest ip.',
  'bus.shortTimeKa':
    'Nameplate, Ik (IEC 62271-1) or Icw (IEC 61439-1): r.m.s. value that the busbars carry for the rated duration. Compared with the largest Ith over that duration.',
  'bus.shortTimeS': 'How long the board carries its short-time withstand current: nameplate, tk; usually 1 s or 3 s.',
  'switch.ratedA':
    'Rated normal current: on the nameplate as Ir (IEC 62271-1); of a fuse the rated current of its link.',
  'switch.breakingKa':
    'Largest short-circuit current that it breaks: nameplate, Isc (IEC 62271-100); of a fuse the breaking capacity (IEC 60282-1, IEC 60269-1). Compared with the largest Ik″ where it stands.',
  'switch.openingTimeS':
    'From the trip command until the contacts part: type test report, or the data sheet of the breaker. Not the arcing time.',
  'currentTransformer.primaryA': 'First figure of the ratio on the nameplate, such as the 400 of 400/1.',
  'currentTransformer.secondaryA': 'Second figure of the ratio on the nameplate: 1 A or 5 A.',
  'currentTransformer.accuracy':
    'Class and limit factor of the core that feeds the protection, such as 5P20 (IEC 61869-2).',
  'switch.ratedBy':
    'Standard on the nameplate: it says what the rating includes (d.c. component, power factor of the test circuit) and how the duty is found. By voltage: IEC 60947-2 up to 1 kV, IEC 62271-100 above.',
  'switch.serviceBreakingKa':
    'Nameplate, Ics (IEC 60947-2): what the breaker breaks and goes on in service; Icu only once.',
  'switch.makingKa':
    'Nameplate: peak that it closes onto, ip (IEC 62271-100) or Icm (IEC 60947-2); of American breakers the close-and-latch peak. Empty: from the breaking current, by the factor of the standard.',
  'switch.timeConstantMs':
    'Time constant of the d.c. component that the breaking capacity is rated for: nameplate; 45 ms unless it says 60, 75 or 120 ms (IEC 62271-100, 5.102).',
  'switch.ratedCycles':
    'Nameplate, rated interrupting time in cycles (IEEE C37.04): 8, 5, 3 or 2; it gives contact parting and the factor S.',
  'switch.minimumBreakingA': 'Data sheet, I3 (IEC 60282-1): below it a back-up fuse melts without breaking.',
  'currentTransformer.ratedVa': 'Burden that the accuracy limit of the nameplate is meant at.',
  'currentTransformer.windingOhm':
    'Of the secondary winding. With it and the burden the accuracy limit that really holds is found.',
  'currentTransformer.kneeV':
    'Rated knee point e.m.f. of class PX (IEC 61869-2); for a P class it is taken from the accuracy limit.',
  'currentTransformer.kneeA': 'From the magnetising curve. Empty: 5 % of the rated secondary current, typical.',
  'currentTransformer.remanencePercent':
    'Flux that a fault before has left in the core; up to 80 % without an air gap. It makes saturation come sooner.',
  'currentTransformer.burdenOhm': 'What is really connected; a smaller burden raises the accuracy limit.',
  'currentTransformer.shortTimeKa':
    'Nameplate, Ith (IEC 61869-2, 5.204): r.m.s. current that the primary carries for the rated duration; often given as a multiple of the rated primary current, such as 100 × In.',
  'currentTransformer.dynamicKa':
    'Nameplate, Idyn (IEC 61869-2, 5.204): peak that the primary withstands. Empty: 2.5 times Ith, as usual at 50 Hz.',
  'earthingSwitch.makingKa':
    'Nameplate, rated short-circuit making current (IEC 62271-102); of one without, closing onto a live circuit is not covered.',
  'line.emergencyA':
    'What one circuit may carry for a limited time: from the operator or the cable calculation. Empty: the share of the rated current that the project settings allow.',
  'line.sectionMm2':
    'Cross-section of one phase conductor; of a steel-reinforced one the aluminium alone. For its heating by a short circuit.',
  'line.metal': 'Metal of the phase conductor; of a steel-reinforced conductor aluminium.',
  'line.insulation':
    'Sets the temperatures in service and at the end of a short circuit (IEC 60724, IEC 60986, IEC 60364-4-43). None: bare, IEC 60865-1.',
  'line.serviceTemperatureC':
    'Conductor temperature when the fault comes. Empty: the highest in service, 70 °C for PVC, 90 °C for XLPE and EPR, 65 °C for paper, 80 °C for bare conductors.',
  '*.emergencyPercent':
    'Loading allowed for a limited time, from the loading guide (IEC 60076-7) or the operator. Empty: what the project settings allow.',
  '*.withstandS':
    'How long the windings carry the current of a short circuit at the terminals: 2 s unless agreed otherwise (IEC 60076-5, 4.1.3).',
  'seriesReactor.shortTimeKa': 'Nameplate, rated thermal short-circuit current (IEC 60076-6).',
  'seriesReactor.peakKa': 'Nameplate, rated mechanical short-circuit current, a peak (IEC 60076-6).',
  '*.shortTimeKa':
    'Nameplate, Ik (IEC 62271-1) or Icw (IEC 60947-2): r.m.s. value that it carries for the rated duration. Empty: not checked, and listed as unknown.',
  '*.shortTimeS': 'Nameplate, tk: how long it carries its short-time withstand current.',
  'synchronousMachine.td2S':
    'T″d: data sheet or sudden short-circuit test (IEC 60034-4). For the course of the current over time.',
  'synchronousMachine.td1S':
    'T′d: data sheet or sudden short-circuit test (IEC 60034-4). For the course of the current over time.',
  'synchronousMachine.taS':
    'Ta: data sheet or sudden short-circuit test (IEC 60034-4); sets how fast the d.c. component dies away.',
  'asynchronousMotor.startPowerFactor':
    'Power factor with the rotor locked: data sheet; 0.1 to 0.3 for large, 0.3 to 0.5 for small motors. Empty: from R/X.',
  'asynchronousMotor.startTorque':
    'Locked-rotor torque over rated torque: data sheet. Empty: the least of IEC 60034-12, design N.',
  'asynchronousMotor.pullOutTorque':
    'Breakdown (pull-out) torque over rated torque: data sheet. Empty: the least of IEC 60034-12, design N.',
  'asynchronousMotor.inertiaKgM2':
    'Of motor, coupling and load together, at the speed of the motor: data sheets. Needed for the run-up time.',
  'asynchronousMotor.loadTorque':
    'How the torque of the load rises up to rated speed: with its square (pumps, fans), in proportion, or constant (conveyors, mills).',
  'earthingTransformer.shortTimeA': 'Neutral current that it carries for the rated duration: nameplate (IEC 60076-6).',
  'earthingTransformer.shortTimeS': 'Nameplate; usually 10 s with a resistor.',
  '*.hvNeutral.ratedA': 'Neutral current that the impedance carries for the rated duration: nameplate.',
  '*.mvNeutral.ratedA': 'Neutral current that the impedance carries for the rated duration: nameplate.',
  '*.lvNeutral.ratedA': 'Neutral current that the impedance carries for the rated duration: nameplate.',
  '*.neutral.ratedA': 'Neutral current that the impedance carries for the rated duration: nameplate.',
  '*.ratedS':
    'How long the neutral impedance carries its rated current: nameplate; usually 10 s for resistors. Coils for continuous service: 7200 s.',
  'condition.limits': 'Which limits of voltage and loading hold in it: the normal ones, or those for a limited time.',
  'earthStudy.xOverR': 'Of the whole loop of the fault. Empty: no decrement factor.',
  'earthStudy.durationS': 'Until the protection has cleared the fault: what people and wires bear depends on it.',
  'projectSettings.arc.edition':
    'Edition of IEEE 1584 that arc energy is computed by; the Arc stage shows the other one beside. Outside of its ranges the theoretical method stands in, and is named.',
  'projectSettings.arc.longestS':
    'Counted where nothing clears the arc earlier: usual is 2 s, after which a person has moved away. A busbar may have its own.',
  'projectSettings.arc.motorsFeedS':
    'How long motors add to the current of an arc: their contribution dies away within a few cycles. Empty: as long as they are connected.',
  'projectSettings.arc.limitCal': 'Above this energy a place is told on the drawing, in the table and on its label.',
  'projectSettings.ratingLimits.duty':
    'A fault on one side of a device drives only the current of the other side through it. The total is never less, and asks for more than needed.',
  'projectSettings.ratingLimits.clearing':
    'How long a short circuit heats what carries it: as long as the slowest main protection takes, or a fixed time for all.',
  'projectSettings.ratingLimits.clearingS': 'Usual are 1 s and 3 s, the rated durations of switchgear.',
  'projectSettings.ratingLimits.relayMs':
    'Time of the fastest protection: contacts part no sooner than this after the fault, and the opening time later. Half a cycle (10 ms) by IEC 62271-100.',
  'projectSettings.ratingLimits.warnPercent': 'From here on a duty counts as marginal.',
  'projectSettings.ratingLimits.failPercent':
    'Above it the rating is not met; below 100 % it keeps a reserve for growth.',
  'projectSettings.loadLimits.lowPercent': 'Of the nominal voltage, in normal conditions.',
  'projectSettings.loadLimits.highPercent': 'Of the nominal voltage, in normal conditions.',
  'projectSettings.loadLimits.emergencyLowPercent': 'In emergency conditions and with one element out.',
  'projectSettings.loadLimits.emergencyHighPercent': 'In emergency conditions and with one element out.',
  'projectSettings.loadLimits.loadingPercent': 'Of the rated current, in normal conditions.',
  'projectSettings.loadLimits.emergencyLoadingPercent':
    'Of the rated current, in emergency conditions and with one element out, where the element has no emergency rating of its own.',
  'voltageTransformer.primaryKv':
    'Nameplate; of three single-pole units, marked such as 11000/√3, the figure before the root. Usually the nominal voltage of the network.',
  'voltageTransformer.secondaryV':
    'Nameplate, between phases: 100 V or 110 V; marked such as 110/√3 on single-pole units.',
  'voltageTransformer.accuracy': 'Class of the winding that feeds the protection, such as 3P (IEC 61869-3).',
  'networkFeeder.max.ikKa':
    'Initial symmetrical short-circuit current at the point of connection with the most sources in service: from the network operator.',
  'networkFeeder.max.skMva':
    'Short-circuit power at the point of connection with the most sources in service: from the network operator.',
  'networkFeeder.min.ikKa': 'The same with the fewest sources in service; it decides whether protection sees a fault.',
  'networkFeeder.min.skMva': 'The same with the fewest sources in service; it decides whether protection sees a fault.',
  'networkFeeder.rOverX':
    'From the network operator. Above 35 kV with overhead lines 0.1 is usual; IEC 60909-0, 6.2 gives what to take when it is not known.',
  'networkFeeder.x0OverX1':
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
  'threeWindingTransformer.ukPercent':
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
  '*.earthing':
    'How the star point is joined to earth: single-line diagram, or the data sheet of the neutral equipment.',
  'switch.type':
    'A breaker breaks fault current, a disconnector only isolates, a fuse melts, a link is a bolted joint.',
  'networkFeeder.voltagePercent':
    'Voltage that the network holds at the point of connection in the load flow, in percent of the nominal voltage of the bus. No influence on faults by the equivalent voltage source.',
  'networkFeeder.given':
    'What the network operator names: the current Ik″ or the short-circuit power Sk″ = √3 · Un · Ik″.',
  'networkFeeder.r0OverX0':
    'Zero-sequence resistance over reactance at the point of connection: from the network operator. Needed for earth faults.',
  'line.type': 'Overhead line or cable: decides the charging that is usual, and the symbol.',
  'line.circuits': 'Like circuits in parallel between the same buses; the data are of one of them.',
  'line.data': 'Typed per kilometre, or computed from the places of the conductors on a tower.',
  'line.towerCircuit': 'Which circuit of the tower this line is: the tower drawing numbers them.',
  'line.b0UsPerKm':
    'Charging of the zero sequence, ω·C0 per kilometre: cable data sheet (screened cores: equal to B1). It gives the earth-fault current of an isolated network.',
  'transformer.shiftDegrees':
    'Beyond the clock number of the vector group, for a phase-shifting unit: nameplate or tap table.',
  'transformer.r0OverR1': 'Measured zero-sequence resistance over the positive one: test report. Near 1 for Dyn.',
  '*.core':
    'Three limbs let the zero-sequence flux close through the tank, five limbs and banks of single phases through iron: nameplate or outline drawing. Matters to star–star units without a delta.',
  '*.x0mPercent':
    'Zero-sequence magnetising reactance, from the zero-sequence open-circuit test in the test report (IEC 60076-1): about 30 to 100 % with three limbs.',
  '*.rOhm': 'Resistance between star point and earth itself, not tripled: nameplate of the neutral equipment.',
  '*.xOhm': 'Reactance between star point and earth itself, not tripled: nameplate of the neutral equipment.',
  '*.tap.side': 'The winding that has the taps: nameplate.',
  '*.tap.position':
    'Position in this study, 0 is the principal tapping; plus means more turns on that winding, hence a higher rated voltage of it.',
  '*.tap.steps': 'Steps on either side of the principal tapping: the 8 of ±8 × 1.25 % on the nameplate.',
  '*.tap.stepPercent': 'Change of voltage by one step: the 1.25 % of ±8 × 1.25 % on the nameplate.',
  '*.tap.holds':
    'In the load flow the on-load tap changer steps until this side has the voltage wanted: setting of the voltage regulator.',
  '*.tap.targetPercent': 'Voltage that the regulator is set to hold, in percent of the nominal voltage of the bus.',
  '*.vectorGroup':
    'Connection symbol on the nameplate: YNyn0d5 of three windings, YNd5 of a unit transformer (IEC 60076-1).',
  '*.hvKv': 'Rated voltage of the high-voltage winding on its principal tapping: nameplate.',
  '*.mvKv': 'Rated voltage of the middle winding on its principal tapping: nameplate.',
  '*.lvKv': 'Rated voltage of the low-voltage winding, without load: nameplate.',
  'threeWindingTransformer.ratedMva':
    'The power to which uk and uR of this pair of windings refer, as a rule that of the weaker one: test report.',
  'threeWindingTransformer.uRPercent':
    'Load losses between these two windings in percent of the power named with them: test report.',
  'threeWindingTransformer.x0OverX1':
    'Measured zero-sequence reactance of this pair over its positive one: test report.',
  'threeWindingTransformer.r0OverR1':
    'Measured zero-sequence resistance of this pair over its positive one: test report.',
  'seriesReactor.rOverX': 'From the losses in the test report; 0.03 and less is usual, often neglected.',
  'seriesReactor.x0OverX1': '1 for three separate coils without coupling; otherwise from the test report.',
  'synchronousMachine.xd1Percent':
    'Transient reactance of the direct axis: data sheet of the machine. It governs the current some tenths of a second later; kept with the data, no calculation uses it yet.',
  'synchronousMachine.xdPercent':
    'Synchronous reactance of the direct axis, saturated (the reciprocal of the short-circuit ratio): data sheet. Decides the steady current Ik.',
  'synchronousMachine.rotor': 'Turbo: cylindrical rotor, two or four poles. Salient poles: hydro and most diesel sets.',
  'synchronousMachine.regulationPercent':
    'Highest lasting voltage above the rated one: data sheet, as a rule 5 %. Enters the correction factor (IEC 60909-0, 6.6.1).',
  'synchronousMachine.x2Percent':
    'Data sheet of the machine; where it is not known, x″d is taken (IEC 60909-0, 6.6.1). For unbalanced faults.',
  'synchronousMachine.x0Percent': 'Data sheet of the machine; needed only when its star point is earthed.',
  'synchronousMachine.excitation':
    'How far the exciter can go, and whether it is fed from the terminals, which a near fault takes away: data sheet of the exciter.',
  'condition.sources':
    'Fault levels of the feeders, the voltage factor, and which machines run unless the condition says otherwise.',
  'switch.ratedKv':
    'Rated voltage on the nameplate, the highest of the network that it may stand in (IEC 62271-1, 5.2).',
  '*.runsAtMinimum':
    'Whether it is in service in the case with the fewest sources, which decides the smallest fault currents.',
  '*.operation.holds': 'In the load flow: a fixed reactive power, or the voltage at its terminals.',
  '*.operation.activeMw': 'Active power that it delivers in the load flow; negative: absorbed.',
  '*.operation.reactiveMvar': 'Reactive power that it delivers in the load flow; negative: absorbed.',
  '*.operation.voltagePercent': 'Voltage that its regulator holds, in percent of the nominal voltage of the bus.',
  '*.operation.minMvar':
    'Limit of under-excitation: capability diagram. At it the machine no longer holds the voltage.',
  '*.operation.maxMvar': 'Limit of over-excitation: capability diagram. At it the machine no longer holds the voltage.',
  'powerStationUnit.onLoadTapChanger':
    'Whether the unit transformer has one: decides between the correction factors KS and KSO (IEC 60909-0, 6.7.1 and 6.7.2).',
  'powerStationUnit.pTPercent':
    'Largest off-load tapping that is used for long, from the principal one: nameplate and record of the tap in use.',
  'asynchronousMotor.rOverX': 'From the test report. Else by rating: 0.10, 0.15 or 0.42 (IEC 60909-0, 6.10).',
  '*.loadingPercent': 'Power in the load flow, in percent of the rated one: load list. No influence on fault currents.',
  'staticDrive.ratedMva': 'Nameplate of the converter transformer, where there is one, else of the converter.',
  'staticDrive.feedsBack':
    'Reversible drives (hoists, rolling mills) return braking energy, and with it fault current: data sheet of the converter (IEC 60909-0, 6.11).',
  'staticDrive.powerFactor': 'At the terminals on the network side: data sheet of the converter.',
  'converterSource.faultRatio':
    'Largest steady current into a three-phase fault over the rated current: from the maker of the converter, often 1.0 to 1.2.',
  'doublyFedMachine.peakKa':
    'Highest instantaneous current at a three-phase fault, on the high-voltage side of its transformer: from the maker (IEC 60909-0, 6.8).',
  'doublyFedMachine.kappa':
    'Factor for the peak that belongs to that current: from the maker; 1.7 where it is not known (IEC 60909-0, 6.8).',
  'doublyFedMachine.rOverX': 'From the maker; 0.1 where it is not known (IEC 60909-0, 6.8).',
  'load.ratedMva': 'Load that is meant: metered peak, or the load list with its coincidence.',
  'load.behaves':
    'How it follows the voltage in the load flow: drives keep their power, heating its impedance, discharge lamps and rectifiers roughly their current.',
  'shunt.type': 'Capacitor or reactor bank.',
  'earthingTransformer.r0Ohm': 'Zero-sequence resistance per phase: test report, from the losses (IEC 60076-6).',
  '*.closed': 'Position in the normal condition of the network.',
  'tower.earthResistivityOhmM':
    'Measured (Wenner) along the route; 100 Ω·m where nothing is known. Enters through the depth of the return path (Carson).',
  'lineCoupling.firstFromKm':
    'Distance from the sending end (terminal 0) of the first line to where both run side by side: route plan.',
  'lineCoupling.secondFromKm': 'The same on the second line.',
  'lineCoupling.opposite': 'The second line has its sending end on the far side of the common stretch.',
  'lineCoupling.lengthKm': 'Length of the route on which both stand on common towers: route plan.',
  'lineCoupling.r0mOhmPerKm':
    'Mutual zero-sequence resistance: from the tower, or measured. Empty: from the tower that both lines refer to.',
  'lineCoupling.x0mOhmPerKm':
    'Mutual zero-sequence reactance: from the tower, or measured. Empty: from the tower that both lines refer to.',
  'gradingChart.bands':
    'Around each curve what the device really does: errors of a relay, melting to clearing of a fuse, tolerances of a release.',
  'gradingChart.referenceKv': 'All currents of the chart are referred to this voltage by the rated ratios between.',
  'gradingChart.mode': 'Phase curves against phase faults, or earth curves against earth faults.',
  'linePackage.scheme': 'How the ends work together: each by itself, or with a signal between them.',
  'linePackage.criterion': 'Which load the line must be able to carry without a trip, NERC PRC-023 R1 (as remembered).',
  'load.reactive':
    'Sign of the reactive power: lagging loads draw it, leading ones (long cables, filters without load) give it.',
  'textNote.size': 'Of the letters on the drawing.',
  'panel.type': 'What the panel is for; it tells which devices belong into it.',
  'projectSettings.frequencyHz':
    'Of the network. Reactances in ohm are meant at this frequency; those of towers are computed at it.',
  'projectSettings.lowVoltageTolerancePercent':
    'How far a low-voltage network may go above its nominal voltage: with 6 % c is 1.05, with 10 % it is 1.10.',
  'projectSettings.minimumFactors':
    'Impedance correction factors in minimum short-circuit currents: 1 after the 2016 edition of IEC 60909-0 (7.1.2, as remembered), or those of the maximum.',
  'projectSettings.wantedMarginS':
    'Between two devices that follow each other: 0.3 s is usual between curves as they are set, 0.1 s where errors, overshoot and the breaker are counted.',
  'projectSettings.marginCounts':
    'Curves as they are set: errors, overshoot and the breaker are part of the required margin. Bands: the margin is what remains after them.',
  'bus.system':
    'Alternating or direct current. Boards of direct current, with all that is joined to them by switches, are a network of their own.',
  'battery.cells': 'Of one string: 54 or 55 lead-acid cells make 110 V, 106 to 110 make 220 V.',
  'battery.strings': 'Like strings in parallel.',
  'battery.capacityAh': 'Data sheet, ten-hour rate. For identification; currents come from the resistance.',
  'battery.cellV': 'Open-circuit voltage of a charged cell: about 2.05 V for lead-acid; not the voltage it is held at.',
  'battery.cellMohm':
    'Internal resistance of a charged cell: data sheet (IEC 60896), or the open-circuit voltage over the short-circuit current given there.',
  'battery.dischargedV': 'Open-circuit voltage of a cell at the end of the discharge; for the smallest currents.',
  'battery.dischargedMohm': 'Empty: 1.7 times that of a charged cell (IEC 61660-1, as remembered).',
  'battery.connectorMohm': 'Links between cells and rows, shared out to a cell.',
  'battery.inductanceUh': 'Of the battery with its connectors. Empty: 0.2 µH a cell (IEC 61660-1, as remembered).',
  'rectifier.type':
    'Limited: a charger whose control limits the current. Bridge: an uncontrolled three-phase bridge behind a transformer.',
  'rectifier.ratedA': 'Nameplate: direct current that it gives without end.',
  'rectifier.transformerKva': 'Rated power of the transformer in front of the bridge: nameplate.',
  'rectifier.smoothingMh': 'Inductance of the smoothing reactor; 0 where there is none.',
  'rectifier.efficiencyPercent': 'For what it draws from the a.c. network in the load flow.',
  'rectifier.powerFactor': 'For what it draws from the a.c. network in the load flow.',
  'rectifier.ukPercent': 'Of the transformer of a bridge: nameplate.',
  'rectifier.uRPercent': 'Resistive part of uk: load losses over rated power.',
  'directMotor.ratedV': 'Nameplate.',
  'directMotor.ratedA': 'Nameplate; what it draws in service.',
  'directMotor.armatureMh': 'Armature circuit with its leads; it sets how fast the current rises.',
  'directCapacitor.capacitanceMf': 'Nameplate; of several in parallel the sum.',
  'directCapacitor.seriesUh': 'Of the capacitor with its leads: data sheet.',
  'directLoad.behaves':
    'Electronic supplies draw the same power at any voltage, coils and lamps less of it when the voltage falls.',
  'directCable.parallel': 'Like cables side by side.',
  'directCable.inductanceUhPerM':
    'Of the loop, there and back: 0.5 to 0.7 µH/m for a cable, about 1 for conductors apart.',
  'directCable.sectionMm2': 'Of one conductor.',
  'directCable.metal': 'Metal of the conductors (IEC 60228).',
  'directCable.ratedA': 'What the cable may carry as it is laid (IEC 60364-5-52).',
  'projectSettings.arc.findings':
    'A finding makes every place above the limit a check of the project: in Findings, in verify, before a sheet is issued. Quiet: they stand in the Arc stage alone.',
  'projectSettings.arc.direct':
    'Which method decides for boards of direct current; all are shown beside each other. No method is prescribed: the worst is the careful choice.',
  'projectSettings.arc.transientAfterS':
    'Until then generators feed an arc behind their subtransient reactance, from then on behind the transient one where it is given. Empty: subtransient throughout.',
  'projectSettings.arc.steadyAfterS':
    'From then on behind the synchronous reactance with the highest excitation (IEC 60909-0, 10.2), where it is given. Empty: not within the longest time.',
  'rectifier.floatV': 'Voltage that the charger holds: about 2.23 V for each lead-acid cell.',
  'rectifier.limitPercent': 'Largest current that its control lets through, also into a short circuit.',
  'rectifier.acV': 'Between phases at the valve side of the transformer, without load.',
  'rectifier.skMva': 'Fault level of the network that feeds the transformer. Empty: taken as infinite.',
  'rectifier.smoothingMohm': 'Of the smoothing reactor and the leads on the d.c. side.',
  'directMotor.armatureMohm': 'Armature with brushes and leads, at service temperature.',
  'directMotor.fieldShare':
    'Inductance of the field circuit at the short circuit over that at no load (IEC 61660-1): the share of the peak that stays.',
  'directMotor.fieldS': 'Time constant of the field circuit; with it the current falls to its steady value.',
  'directCapacitor.seriesMohm': 'Equivalent series resistance with the leads.',
  'directLoad.powerW': 'What it takes at nominal voltage; of trip coils while they are energised.',
  'directLoad.lowestPercent':
    'Data sheet: 70 % is usual for trip coils, 85 % for closing coils and relays (IEC 62271-1).',
  'directCable.lengthM': 'Of the route; resistance counts there and back.',
  'directCable.serviceTemperatureC': 'For voltages in service and the smallest currents; the largest take 20 °C.',
  'projectSettings.baseMva': 'For percent and per-unit values as they are shown; no influence on results.',
  'projectSettings.symbols': 'IEC 60617 or IEEE 315, for the drawing only.',
};

/** Kind whose fields a group of fields repeats: the unit's generator is a machine like others. */
const like: Readonly<Record<string, string>> = { generator: 'synchronousMachine', transformer: 'transformer' };

/** The key under which a field is explained: the nearest of kind and path, kind and name, what it is like, any kind. */
export function helpKey(kind: ElementKind, path: string): string | null {
  const parts = path.split('.');
  const name = parts.at(-1)!;
  const keys = [`${kind}.${path}`, `${kind}.${name}`, `${like[parts[0]]}.${name}`, `*.${path}`, `*.${name}`];
  return keys.find((key) => key in help) ?? null;
}

/** Help for a field of an element, `path` with dots; null where the title says all. */
export const fieldHelp = (kind: ElementKind, path: string): string | null => {
  const key = helpKey(kind, path);
  return key && help[key];
};
export const helpKeys: readonly string[] = Object.keys(help);

const groups: readonly [string, RegExp][] = [
  ['Zero and negative sequence', /^(x0|r0|b0|x2|x0m|core$|r2)/],
  [
    'Ratings',
    /^(rated|breakingKa|serviceBreaking|makingKa|minimumBreaking|timeConstant|peakKa|shortTime|dynamicKa|emergency|sectionMm2|metal|insulation|serviceTemperature|withstand|hvKv|mvKv|lvKv|nominalKv|primaryA|secondaryA|accuracy|powerFactor|efficiency|vectorGroup|count$|lengthKm|circuits)/,
  ],
  [
    'Impedance',
    /^(uk|uR|r1|x1|b1|xd|td1|td2|taS|rOhm|rOverX|startingRatio|polePairs|data$|towerCircuit|endTemperature|shiftDegrees|kappa|rotor|regulation)/,
  ],
  ['Starting', /^(startPower|startTorque|pullOut|inertia|loadTorque)/],
  ['Operation', /^(closed|runs|operation|loading|voltagePercent|openingTime|excitation|behaves|earthed)/],
];

/** The group under which a field of the card stands; null for what names the element. */
export const groupOf = (name: string): string | null => groups.find(([, pattern]) => pattern.test(name))?.[0] ?? null;
export const groupOrder: readonly string[] = [
  'Ratings',
  'Impedance',
  'Zero and negative sequence',
  'Starting',
  'Operation',
];
