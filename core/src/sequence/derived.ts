/** What follows from the typed data of one element by itself: the figures an engineer checks a nameplate with. Plain definitions, no correction factors. */
import type { Element } from '../model/element';
import { inSeries, tripledNeutral } from './neutral';
import { impedance as ohms } from './stamp';

export interface Derived {
  readonly title: string;
  readonly value: number;
  readonly unit: 'µF' | 'A' | 'Ω' | 'MVA' | 'MW' | 'Mvar' | 'kA' | '' | '%' | '°';
  /** How it comes about, in the symbols of the trade. */
  readonly by: string;
}

export interface DerivedContext {
  /** Nominal voltage where the element's first terminal stands, in kV; null when nothing tells. */
  readonly kv: number | null;
  readonly baseMva: number;
  readonly frequencyHz: number;
}

const root3 = Math.sqrt(3);

export function derivedOf(element: Element, { kv, baseMva, frequencyHz }: DerivedContext): Derived[] {
  const list: Derived[] = [];
  const put = (title: string, value: number, unit: Derived['unit'], by: string) => {
    if (Number.isFinite(value)) list.push({ title, value, unit, by });
  };
  const current = (title: string, mva: number, atKv: number) =>
    put(title, (mva * 1000) / (root3 * atKv), 'A', 'Ir = Sr / (√3 · Ur)');
  const impedance = (name: string, rOhm: number, xOhm: number, atKv: number | null, parts = true) => {
    put(`|Z${name}|`, Math.hypot(rOhm, xOhm), 'Ω', 'Z = √(R² + X²)');
    if (parts) {
      put(`R${name}`, rOhm, 'Ω', '');
      put(`X${name}`, xOhm, 'Ω', '');
    }
    if (rOhm > 0) put(`X/R${name && ` of ${name}`}`, xOhm / rOhm, '', 'X / R');
    if (atKv === null) return;
    const percent = (100 * baseMva) / atKv ** 2;
    const on = `on ${Number(baseMva.toPrecision(4))} MVA`;
    put(`|z${name}| ${on}`, Math.hypot(rOhm, xOhm) * percent, '%', 'z = Z · Sb / U²');
    if (parts) {
      put(`r${name} ${on}`, rOhm * percent, '%', 'r = R · Sb / U²');
      put(`x${name} ${on}`, xOhm * percent, '%', 'x = X · Sb / U²');
    }
  };
  const winding = (name: string, mva: number, ukPercent: number, uRPercent: number, atKv: number) => {
    const base = atKv ** 2 / mva;
    impedance(
      name,
      (uRPercent / 100) * base,
      (Math.sqrt(Math.max(ukPercent ** 2 - uRPercent ** 2, 0)) / 100) * base,
      atKv,
    );
  };
  switch (element.kind) {
    case 'transformer':
      current('Rated current, HV', element.ratedMva, element.hvKv);
      current('Rated current, LV', element.ratedMva, element.lvKv);
      winding('T', element.ratedMva, element.ukPercent, element.uRPercent, element.hvKv);
      put('Load losses', (element.uRPercent / 100) * element.ratedMva, 'MW', 'PkrT = uRr · SrT');
      break;
    case 'threeWindingTransformer':
      current('Rated current, HV', element.hvMv.ratedMva, element.hvKv);
      winding('HV–MV', element.hvMv.ratedMva, element.hvMv.ukPercent, element.hvMv.uRPercent, element.hvKv);
      winding('HV–LV', element.hvLv.ratedMva, element.hvLv.ukPercent, element.hvLv.uRPercent, element.hvKv);
      winding('MV–LV', element.mvLv.ratedMva, element.mvLv.ukPercent, element.mvLv.uRPercent, element.hvKv);
      break;
    case 'line': {
      if (element.data === 'tower') break;
      const share = element.lengthKm / element.circuits;
      impedance('1', element.r1OhmPerKm * share, element.x1OhmPerKm * share, kv);
      if (element.r0OhmPerKm !== null && element.x0OhmPerKm !== null) {
        put('|Z0|', Math.hypot(element.r0OhmPerKm, element.x0OhmPerKm) * share, 'Ω', "Z0 = √(R'0² + X'0²) · l");
        put('X0/X1', element.x0OhmPerKm / element.x1OhmPerKm, '', 'X0 / X1');
      }
      if (kv !== null && element.b1UsPerKm > 0)
        put(
          'Charging',
          element.b1UsPerKm * 1e-6 * element.lengthKm * element.circuits * kv ** 2,
          'Mvar',
          "Qc = B' · l · Un²",
        );
      break;
    }
    case 'seriesReactor': {
      const x =
        ((element.ukPercent / 100) * element.ratedKv * 1000) / (root3 * element.ratedA) / Math.hypot(1, element.rOverX);
      impedance('', x * element.rOverX, x, element.ratedKv);
      break;
    }
    case 'networkFeeder':
      if (kv === null) break;
      for (const [name, level] of [
        ['max', element.max],
        ['min', element.min],
      ] as const) {
        const ik = level.given === 'current' ? level.ikKa : level.skMva === null ? null : level.skMva / (root3 * kv);
        if (ik === null) continue;
        if (level.given === 'current') put(`Sk″ ${name}`, root3 * kv * ik, 'MVA', 'Sk″ = √3 · Un · Ik″');
        else put(`Ik″ ${name}`, ik, 'kA', 'Ik″ = Sk″ / (√3 · Un)');
        if (level.rOverX > 0) put(`X/R ${name}`, 1 / level.rOverX, '', '1 / (R/X)');
      }
      break;
    case 'synchronousMachine': {
      current('Rated current', element.ratedMva, element.ratedKv);
      const x = ((element.xd2Percent / 100) * element.ratedKv ** 2) / element.ratedMva;
      put('X″d', x, 'Ω', 'X″d = x″d · UrG² / SrG');
      put(
        `x″d on ${Number(baseMva.toPrecision(4))} MVA`,
        element.xd2Percent * (baseMva / element.ratedMva),
        '%',
        'x · Sb / SrG',
      );
      put('Rated active power', element.ratedMva * element.powerFactor, 'MW', 'PrG = SrG · cos φ');
      break;
    }
    case 'powerStationUnit':
      current('Rated current of the generator', element.generator.ratedMva, element.generator.ratedKv);
      put(
        'X″d',
        ((element.generator.xd2Percent / 100) * element.generator.ratedKv ** 2) / element.generator.ratedMva,
        'Ω',
        'X″d = x″d · UrG² / SrG',
      );
      current('Rated current, HV', element.transformer.ratedMva, element.transformer.hvKv);
      winding(
        'T',
        element.transformer.ratedMva,
        element.transformer.ukPercent,
        element.transformer.uRPercent,
        element.transformer.hvKv,
      );
      break;
    case 'asynchronousMotor': {
      const each = element.ratedMw / ((element.efficiencyPercent / 100) * element.powerFactor);
      put('Rated apparent power', each * element.count, 'MVA', 'SrM = PrM / (η · cos φ)');
      current(element.count > 1 ? 'Rated current of all' : 'Rated current', each * element.count, element.ratedKv);
      put(
        'Starting current',
        ((element.startingRatio * each * 1000) / (root3 * element.ratedKv)) * element.count,
        'A',
        'ILR = (ILR/IrM) · IrM',
      );
      put(
        '|ZM|',
        element.ratedKv ** 2 / (each * element.count) / element.startingRatio,
        'Ω',
        'ZM = UrM² / SrM / (ILR/IrM)',
      );
      break;
    }
    case 'staticDrive':
    case 'converterSource':
    case 'doublyFedMachine':
      current('Rated current', element.ratedMva, element.ratedKv);
      break;
    case 'load':
      put('Active power', element.ratedMva * element.powerFactor, 'MW', 'P = S · cos φ');
      put('Reactive power', element.ratedMva * Math.sqrt(1 - element.powerFactor ** 2), 'Mvar', 'Q = S · sin φ');
      if (kv !== null) current('Current at Un', element.ratedMva, kv);
      break;
    case 'shunt': {
      put('Rated current', (element.ratedMvar * 1000) / (root3 * element.ratedKv), 'A', 'Ir = Qr / (√3 · Ur)');
      const x = element.ratedKv ** 2 / element.ratedMvar;
      put('Reactance', x, 'Ω', 'X = Ur² / Qr');
      if (element.type === 'capacitor')
        put('Capacitance', 1e6 / (2 * Math.PI * frequencyHz * x), 'µF', 'C = 1 / (ω · X)');
      break;
    }
    case 'earthingTransformer': {
      const neutral = tripledNeutral(element.neutral);
      if (!neutral) break;
      const { rOhm, xOhm } = inSeries(ohms(element.r0Ohm, element.x0Ohm), neutral);
      put(
        'Earth current at Un',
        (root3 * element.ratedKv * 1000) / Math.hypot(rOhm, xOhm),
        'A',
        '3·I0 = √3 · Un / |Z0 + 3·ZN|',
      );
      break;
    }
    case 'voltageTransformer':
      put('Ratio', (element.primaryKv * 1000) / element.secondaryV, '', 'kr = Upr / Usr');
      break;
    case 'currentTransformer':
      put('Ratio', element.primaryA / element.secondaryA, '', 'kr = Ipr / Isr');
      break;
    default:
      break;
  }
  return list;
}
