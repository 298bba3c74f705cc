/** What people type for a quantity, and how quantities are written. */

const prefixes: Record<string, number> = {
  p: 1e-12,
  n: 1e-9,
  µ: 1e-6,
  μ: 1e-6,
  u: 1e-6,
  m: 1e-3,
  k: 1e3,
  K: 1e3,
  M: 1e6,
  G: 1e9,
};
/** Units that may carry a prefix; written without it. */
const bases = ['VA', 'var', 'V', 'A', 'W', 'Ω', 'Ohm', 'ohm', 'S', 's', 'm', 'Hz'];

interface SplitUnit {
  factor: number;
  base: string;
}

/** "kV" → 1e3 V; "Ω/km" → 1e-3 Ω/m; null for a text that is no unit. */
function splitUnit(unit: string): SplitUnit | null {
  const [over, under] = unit.split('/');
  const top = splitSimple(over);
  if (!top || under === undefined) return top;
  const bottom = splitSimple(under);
  return bottom && { factor: top.factor / bottom.factor, base: `${top.base}/${bottom.base}` };
}

function splitSimple(unit: string): SplitUnit | null {
  const canonical = (base: string) => (base === 'Ohm' || base === 'ohm' ? 'Ω' : base);
  for (const base of bases) {
    if (unit === base) return { factor: 1, base: canonical(base) };
    if (unit.endsWith(base) && unit.slice(0, -base.length) in prefixes)
      return { factor: prefixes[unit.slice(0, -base.length)], base: canonical(base) };
  }
  return null;
}

export type ParsedQuantity = { ok: true; value: number } | { ok: false; message: string };

/**
 * Reads "11k", "0.4 kV", "2,5", "1e3", "400 V" for a field in `unit`; the value comes in that unit. A bare number is in the field's
 * unit; a bare prefix means that multiple of the unit without prefix ("11k" in a field of kV is 11 kV, "1600k" in MVA is 1.6 MVA).
 */
export function parseQuantity(text: string, unit: string): ParsedQuantity {
  const match = /^\s*([+-]?(?:\d[\d\s\u2009\u00a0']*)?(?:[.,]\d*)?(?:[eE][+-]?\d+)?)\s*((?:[^\d.,\s]\S*)?)\s*$/.exec(
    text.replace('−', '-'),
  );
  if (!match || !/\d/.test(match[1])) return { ok: false, message: 'This is not a number.' };
  const digits = match[1].replace(/[\s\u2009\u00a0']/g, '');
  const ambiguous = /^[+-]?([1-9]\d{0,2}),(\d{3})$/.exec(digits);
  if (ambiguous)
    return {
      ok: false,
      message: `"${digits}" may mean ${ambiguous[1]}.${ambiguous[2]} or ${ambiguous[1]}${ambiguous[2]}: write one of them.`,
    };
  const value = Number(digits.replace(',', '.'));
  if (!Number.isFinite(value)) return { ok: false, message: 'This is not a number.' };
  const typed = match[2];
  if (typed === '' || typed === unit) return { ok: true, value };
  const wanted = splitUnit(unit);
  // Metres in a field of kilometres, not thousandths of one.
  if (wanted && typed === wanted.base) return { ok: true, value: clean(value / wanted.factor) };
  if (typed in prefixes && wanted) return { ok: true, value: clean((value * prefixes[typed]) / wanted.factor) };
  const given = splitUnit(typed);
  if (given && wanted && given.base === wanted.base)
    return { ok: true, value: clean((value * given.factor) / wanted.factor) };
  return {
    ok: false,
    message: unit ? `"${typed}" does not fit a value in ${unit}.` : `"${typed}" is not expected here.`,
  };
}

/** Removes the dust of binary conversion: 0.1 · 3 stays 0.3. */
const clean = (value: number) => Number(value.toPrecision(12));

/** Up to `digits` significant digits, without exponent for everyday sizes. */
export function formatNumber(value: number, digits = 4): string {
  if (!Number.isFinite(value)) return value > 0 ? '∞' : '–';
  if (value === 0) return '0';
  const size = Math.abs(value);
  if (size >= 1e7 || size < 1e-4)
    return value
      .toExponential(digits - 1)
      .replace('e+', 'e')
      .replace('-', '−');
  const rounded = Number(value.toPrecision(digits));
  const decimals = Math.max(0, digits - 1 - Math.floor(Math.log10(Math.abs(rounded))));
  return rounded.toFixed(Math.min(decimals, 10)).replace('-', '−');
}

/** As typed into a field: all digits that matter, none that do not. */
export const plainNumber = (value: number): string => String(clean(value));

/** With a thin space before the unit. */
export const withUnit = (value: number, unit: string, digits = 4): string =>
  `${formatNumber(value, digits)}\u2009${unit}`;

/** Amperes as A or kA. */
export const formatCurrent = (amperes: number, digits = 4): string =>
  Math.abs(amperes) >= 1000 ? withUnit(amperes / 1000, 'kA', digits) : withUnit(amperes, 'A', digits);
