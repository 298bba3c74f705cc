/** Sources and drives behind converters, and doubly-fed machines. IEC 60909-0:2016, 6.8, 6.9 and 6.11. */
import type { ConverterSource, DoublyFedMachine, StaticDrive } from '../model/sources';
import { formula, given, quantityOf } from '../working/trace';
import { impedance, nothing, shunt, type SequenceContext, type SequenceModel } from './stamp';

/** Full-size converter: a current of its own choosing, reactive against the voltage at its terminal; nothing in the minimum case (7.1.2). */
export function converterSource(source: ConverterSource, context: SequenceContext): SequenceModel {
  if (context.faultCase === 'min' && context.basis !== 'operating') return nothing;
  const { trace } = context;
  const at = (symbol: string, value: number, unit: string, field: string) =>
    given(symbol, value, unit, source.id, field);
  trace.section(`Full-converter source ${source.name}`, source.id);
  const s = at('SrPF', source.ratedMva, 'MVA', 'ratedMva');
  const u = at('UrPF', source.ratedKv, 'kV', 'ratedKv');
  const ratio = at('IkPF/IrPF', source.faultRatio, '', 'faultRatio');
  const current = trace.step(
    'IkPF',
    formula`${ratio} · ${s} / (√(3) · ${u})`,
    (source.faultRatio * source.ratedMva) / (Math.sqrt(3) * source.ratedKv),
    'kA',
    'IEC 60909-0, 6.9',
  );
  return { ...nothing, injection: { terminal: 0, current: { re: 0, im: -1000 * current.value } } };
}

/** Doubly-fed machine seen from the HV side of its transformer: ZWD from the highest instantaneous current. */
export function doublyFedMachine(machine: DoublyFedMachine, context: SequenceContext): SequenceModel {
  if (context.faultCase === 'min' && context.basis !== 'operating') return nothing;
  if (context.basis === 'thirtyCycle') return nothing;
  const { trace } = context;
  const at = (symbol: string, value: number, unit: string, field: string) =>
    given(symbol, value, unit, machine.id, field);
  trace.section(`Doubly-fed machine ${machine.name}`, machine.id);
  const u = at('UrTHV', machine.ratedKv, 'kV', 'ratedKv');
  const kappa = at('κWD', machine.kappa, '', 'kappa');
  const peak = at('iWDmax', machine.peakKa, 'kA', 'peakKa');
  const z = trace.step(
    'ZWD',
    formula`√(2) · ${kappa} · ${u} / (√(3) · ${peak})`,
    (Math.SQRT2 * machine.kappa * machine.ratedKv) / (Math.sqrt(3) * machine.peakKa),
    'Ω',
    'IEC 60909-0, 6.8',
  );
  const ratio = at('RWD/XWD', machine.rOverX, '', 'rOverX');
  const x = trace.step('XWD', formula`${z} / √(1 + ${ratio}^2)`, z.value / Math.hypot(1, machine.rOverX), 'Ω');
  const r = trace.step('RWD', formula`${ratio} · ${x}`, machine.rOverX * x.value, 'Ω');
  return { positive: [shunt(0, impedance(r.value, x.value), 'source', false)], zero: [] };
}

/** Drive that feeds back while braking: like a motor with ILR/IrM = 3 and RM/XM = 0.10, in Ik″ and ip only. */
export function staticDrive(drive: StaticDrive, context: SequenceContext): SequenceModel {
  if (!drive.feedsBack || context.basis !== 'iec60909' || context.faultCase === 'min') return nothing;
  const { trace } = context;
  const at = (symbol: string, value: number, unit: string, field: string) =>
    given(symbol, value, unit, drive.id, field);
  trace.section(`Static drive ${drive.name}`, drive.id);
  const z = trace.step(
    'ZM',
    formula`1 / ${quantityOf('ILR/IrM', 3)} · ${at('UrM', drive.ratedKv, 'kV', 'ratedKv')}^2 / ${at('SrM', drive.ratedMva, 'MVA', 'ratedMva')}`,
    drive.ratedKv ** 2 / drive.ratedMva / 3,
    'Ω',
    'IEC 60909-0, 6.11',
  );
  const x = trace.step('XM', formula`${z} / √(1 + 0.1^2)`, z.value / Math.hypot(1, 0.1), 'Ω', 'IEC 60909-0, 6.11');
  const r = trace.step('RM', formula`0.1 · ${x}`, 0.1 * x.value, 'Ω', 'IEC 60909-0, 6.11');
  const own = shunt(0, impedance(r.value, x.value), 'source', false);
  return { positive: [own], zero: [] };
}
