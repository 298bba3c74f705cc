/** Overhead lines and cables. IEC 60909-0:2016, 6.4; conductor temperature of the minimum case 7.1.2, equation for RL. */
import type { Line } from '../model/branches';
import { formula, given, quantityOf, type Quantity } from '../working/trace';
import { impedance, series, type SequenceContext, type SequenceModel } from './stamp';

/** Temperature coefficient of resistance at 20 °C, for copper, aluminium and its alloys, in 1/K. */
const temperatureCoefficient = 0.004;

export function line(line: Line, context: SequenceContext): SequenceModel {
  const { trace, faultCase } = context;
  const at = (symbol: string, value: number, unit: string, field: string) => given(symbol, value, unit, line.id, field);
  const length = at('l', line.lengthKm, 'km', 'lengthKm');
  const n = at('n', line.circuits, '', 'circuits');
  const perKm = (symbol: string, label: string, value: number, field: string) =>
    trace.step(
      symbol,
      formula`${at(label, value, 'Ω/km', field)} · ${length} / ${n}`,
      (value * line.lengthKm) / line.circuits,
      'Ω',
      'IEC 60909-0, 6.4',
    );

  trace.section(`${line.type === 'cable' ? 'Cable' : 'Line'} ${line.name}`, line.id);
  const r20 = perKm('R20', 'R′', line.r1OhmPerKm, 'r1OhmPerKm');
  const x = perKm('X', 'X′', line.x1OhmPerKm, 'x1OhmPerKm');
  let r: Quantity & { value: number } = r20;
  if (faultCase === 'min') {
    const alpha = quantityOf('α', temperatureCoefficient, '1/K');
    const theta = at('θe', line.endTemperatureC, '°C', 'endTemperatureC');
    r = trace.step(
      'R',
      formula`(1 + ${alpha} · (${theta} - 20)) · ${r20}`,
      (1 + temperatureCoefficient * (line.endTemperatureC - 20)) * r20.value,
      'Ω',
      'IEC 60909-0, 7.1.2',
    );
  }
  const positive = [series(impedance(r.value, x.value))];
  if (line.r0OhmPerKm === null || line.x0OhmPerKm === null) {
    const fields = [line.r0OhmPerKm === null ? 'r0OhmPerKm' : '', line.x0OhmPerKm === null ? 'x0OhmPerKm' : ''];
    return { positive, zero: [], zeroUnknown: { fields: fields.filter(Boolean), terminals: [0, 1] } };
  }
  const r020 = perKm('R0,20', 'R′0', line.r0OhmPerKm, 'r0OhmPerKm');
  const x0 = perKm('X0', 'X′0', line.x0OhmPerKm, 'x0OhmPerKm');
  // Only the conductor heats up; the return through earth and sheath keeps its resistance.
  const r0 =
    faultCase === 'min'
      ? trace.step('R0', formula`${r020} + ${r} - ${r20}`, r020.value + r.value - r20.value, 'Ω')
      : r020;
  return { positive, zero: [series(impedance(r0.value, x0.value))] };
}
