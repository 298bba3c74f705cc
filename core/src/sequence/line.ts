/** Overhead lines and cables. IEC 60909-0:2016, 6.4; conductor temperature of the minimum case 7.1.2, equation for RL. */
import type { Line } from '../model/branches';
import { formula, given, quantityOf, type Quantity } from '../working/trace';
import { lineConstants, type LineConstants } from './lineConstants';
import { impedance, series, shunt, type SequenceContext, type SequenceModel, type Shunt } from './stamp';

/** Temperature coefficient of resistance at 20 °C, for copper, aluminium and its alloys, in 1/K. */
const temperatureCoefficient = 0.004;

/** Per-kilometre data of a line, typed or from its tower; null in a field that is not known. */
export interface PerKilometre {
  readonly r1: number;
  readonly x1: number;
  readonly r0: number | null;
  readonly x0: number | null;
  readonly b1Us: number;
  readonly b0Us: number;
  readonly constants: LineConstants | null;
}

export function perKilometre(line: Line, context: SequenceContext): PerKilometre {
  const tower = line.data === 'tower' && line.tower !== null ? context.element(line.tower) : undefined;
  const constants = tower?.kind === 'tower' ? lineConstants(tower, line.towerCircuit, context.frequencyHz) : null;
  if (constants)
    return {
      r1: constants.z1.re,
      x1: constants.z1.im,
      r0: constants.z0.re,
      x0: constants.z0.im,
      b1Us: constants.b1UsPerKm,
      b0Us: constants.b0UsPerKm,
      constants,
    };
  return {
    r1: line.r1OhmPerKm,
    x1: line.x1OhmPerKm,
    r0: line.r0OhmPerKm,
    x0: line.x0OhmPerKm,
    b1Us: line.b1UsPerKm,
    b0Us: line.b0UsPerKm,
    constants: null,
  };
}

export function line(line: Line, context: SequenceContext): SequenceModel {
  const { trace, faultCase, basis } = context;
  const at = (symbol: string, value: number, unit: string, field: string) => given(symbol, value, unit, line.id, field);
  const length = at('l', line.lengthKm, 'km', 'lengthKm');
  const n = at('n', line.circuits, '', 'circuits');
  const data = perKilometre(line, context);

  trace.section(`${line.type === 'cable' ? 'Cable' : 'Line'} ${line.name}`, line.id);
  if (data.constants) {
    const [zs, zm] = [
      quantityOf('Z′s', data.constants.zSelf, 'Ω/km'),
      quantityOf('Z′m', data.constants.zMutual, 'Ω/km'),
    ];
    trace.step('Z′1', formula`${zs} - ${zm}`, data.constants.z1, 'Ω/km', 'Carson 1926', 'from the tower');
    trace.step('Z′0', formula`${zs} + 2 · ${zm}`, data.constants.z0, 'Ω/km', 'Carson 1926', 'from the tower');
  }
  const perKm = (symbol: string, label: string, value: number, field: string) => {
    const own = data.constants ? quantityOf(label, value, 'Ω/km') : at(label, value, 'Ω/km', field);
    return trace.step(
      symbol,
      formula`${own} · ${length} / ${n}`,
      (value * line.lengthKm) / line.circuits,
      'Ω',
      'IEC 60909-0, 6.4',
    );
  };
  const r20 = perKm('R20', 'R′', data.r1, 'r1OhmPerKm');
  const x = perKm('X', 'X′', data.x1, 'x1OhmPerKm');
  let r: Quantity & { value: number } = r20;
  const hot = faultCase === 'min' && basis === 'iec60909';
  if (hot) {
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
  const positive = [series(impedance(r.value, x.value), 1, 0, { circuits: line.circuits })];
  const halves = (perKmUs: number): Shunt[] =>
    perKmUs > 0
      ? [0, 1].map((end) =>
          shunt(end, impedance(0, -2e6 / (perKmUs * line.lengthKm * line.circuits)), 'passive', false),
        )
      : [];
  const charging = { positive: halves(data.b1Us), zero: halves(data.b0Us) };
  if (data.r0 === null || data.x0 === null) {
    const fields = [data.r0 === null ? 'r0OhmPerKm' : '', data.x0 === null ? 'x0OhmPerKm' : ''];
    return { positive, zero: [], charging, zeroUnknown: { fields: fields.filter(Boolean), terminals: [0, 1] } };
  }
  const r020 = perKm('R0,20', 'R′0', data.r0, 'r0OhmPerKm');
  const x0 = perKm('X0', 'X′0', data.x0, 'x0OhmPerKm');
  const r0 = hot ? heated(r020) : r020;
  return { positive, zero: [series(impedance(r0.value, x0.value), 1, 0, { circuits: line.circuits })], charging };

  function heated(cold: Quantity & { value: number }) {
    // In low voltage the current returns through a conductor of the line, R0 = RL + 3·RN, and both are hot; above it through earth and sheath, which keep theirs.
    if (context.nominalKv(line.id, 0) > 1) {
      const value = cold.value + r.value - r20.value;
      return trace.step(
        'R0',
        formula`${cold} + ${r} - ${r20}`,
        value,
        'Ω',
        'IEC 60909-0, 7.1.2',
        'line conductors hot',
      );
    }
    const value = r20.value === 0 ? cold.value : (cold.value * r.value) / r20.value;
    const step = r20.value === 0 ? formula`${cold}` : formula`${cold} · ${r} / ${r20}`;
    return trace.step('R0', step, value, 'Ω', 'IEC 60909-0, 7.1.2', 'line and neutral conductors hot');
  }
}
