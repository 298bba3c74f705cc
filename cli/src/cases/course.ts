/** Currents over time: a circuit of resistance and reactance, a generator at its terminals. */
import * as circuit from '@mesura/core/faults/course/circuit';
import * as machine from '@mesura/core/faults/course/machine';
import { peakFactor } from '@mesura/core/faults/iec60909/peak';
import type { Inputs } from './case';

const degrees = 180 / Math.PI;

/** Each is given numbers by name, and lists of them. */
export const courseKinds: Readonly<
  Record<string, (inputs: Record<string, number>, given: Inputs) => Record<string, unknown>>
> = {
  rl: ({ symmetricalKa, rOverX, frequencyHz, closingAngleDeg, partingS }, { timesS }) => {
    const of: circuit.Circuit = {
      symmetrical: symmetricalKa,
      rOverX,
      frequencyHz,
      closingAngle: closingAngleDeg / degrees,
    };
    const peak = circuit.peakOf(of);
    const parting = circuit.dcAt(of, partingS);
    const kappa = peakFactor(rOverX);
    return {
      tauS: circuit.timeConstant(of),
      peakKa: Math.abs(peak.value),
      peakSign: Math.sign(peak.value),
      peakTimeS: peak.t,
      samplesKa: (timesS as number[]).map((t) => circuit.currentAt(of, t)),
      dcInitialKa: circuit.dcAt(of, 0),
      dcAtPartingKa: parting,
      dcPercentOfPeakAc: (100 * Math.abs(parting)) / (Math.SQRT2 * symmetricalKa),
      asymmetricRmsKa: circuit.asymmetricAt(of, partingS),
      cycleRmsKa: circuit.rmsAround(of, partingS),
      kappaIec60909: kappa,
      peakIec60909Ka: Math.SQRT2 * kappa * symmetricalKa,
      dcHeatFactor0to100ms: circuit.dcHeat(of, 0.1),
    };
  },
  rlWorstAngle: ({ symmetricalKa, rOverX, frequencyHz }) => {
    const of = { symmetrical: symmetricalKa, rOverX, frequencyHz };
    const { angle, peak } = circuit.worstClosing(of);
    return {
      peakAtVoltageZeroKa: Math.abs(circuit.peakOf({ ...of, closingAngle: 0 }).value),
      peakWorstKa: Math.abs(peak.value),
      worstAngleDeg: angle * degrees,
    };
  },
  generator: (i, { timesS }) => {
    const { ratedMva, ratedKv, frequencyHz, partingS, voltagePu = 1 } = i;
    const data: machine.GeneratorData = {
      xd: i.xdPu,
      xd1: i.xd1Pu,
      xd2: i.xd2Pu,
      xq2: i.xq2Pu,
      td2S: i.Td2S,
      td1S: i.Td1S,
      taS: i.TaS,
    };
    const ratedKa = ratedMva / (Math.sqrt(3) * ratedKv);
    const kilo = ratedKa * voltagePu;
    const at = (of: (t: number) => number) => (timesS as number[]).map((t) => kilo * of(t));
    const peak = machine.peakOf(data, frequencyHz);
    const [ac, dc] = [kilo * machine.acAt(data, partingS), kilo * machine.dcAt(data, partingS)];
    const asymmetry = machine.asymmetryAt(data, partingS);
    return {
      ratedKa,
      initialKa: kilo * machine.acAt(data, 0),
      acRmsKa: at((t) => machine.acAt(data, t)),
      dcKa: at((t) => machine.dcAt(data, t)),
      instantKa: at((t) => machine.currentAt(data, frequencyHz, t)),
      peakKa: kilo * Math.abs(peak.value),
      peakTimeS: peak.t,
      partingAcKa: ac,
      partingDcKa: dc,
      asymmetricRmsKa: Math.hypot(ac, dc),
      degreeOfAsymmetryPercent: 100 * asymmetry,
      currentZeroMissingAtParting: asymmetry > 1,
    };
  },
};
