/** Complex numbers as plain records, for the edges of the computation. Kernels work on pairs of typed arrays instead. */

export interface Complex {
  readonly re: number;
  readonly im: number;
}

export const complex = (re: number, im = 0): Complex => ({ re, im });
export const zero: Complex = { re: 0, im: 0 };

export const add = (a: Complex, b: Complex): Complex => ({ re: a.re + b.re, im: a.im + b.im });
export const subtract = (a: Complex, b: Complex): Complex => ({ re: a.re - b.re, im: a.im - b.im });
export const scale = (a: Complex, factor: number): Complex => ({ re: a.re * factor, im: a.im * factor });
export const multiply = (a: Complex, b: Complex): Complex => ({
  re: a.re * b.re - a.im * b.im,
  im: a.re * b.im + a.im * b.re,
});

/** a / b by Smith's method, which neither overflows nor loses digits for very unequal parts. */
export function divide(a: Complex, b: Complex): Complex {
  if (Math.abs(b.re) >= Math.abs(b.im)) {
    const ratio = b.im / b.re;
    const denominator = b.re + b.im * ratio;
    return { re: (a.re + a.im * ratio) / denominator, im: (a.im - a.re * ratio) / denominator };
  }
  const ratio = b.re / b.im;
  const denominator = b.re * ratio + b.im;
  return { re: (a.re * ratio + a.im) / denominator, im: (a.im * ratio - a.re) / denominator };
}

export const inverse = (a: Complex): Complex => divide({ re: 1, im: 0 }, a);
export const conjugate = ({ re, im }: Complex): Complex => ({ re, im: -im });
/** Not Math.hypot, which guards against squares that overflow and takes ten times as long: no quantity here comes near 1e150. */
export const magnitude = ({ re, im }: Complex): number => Math.sqrt(re * re + im * im);
/** Angle in radians, in (−π, π]. */
export const angle = (a: Complex): number => Math.atan2(a.im, a.re);
export const polar = (size: number, radians: number): Complex => ({
  re: size * Math.cos(radians),
  im: size * Math.sin(radians),
});
/** a rotated by an angle in radians. */
export const rotate = (a: Complex, radians: number): Complex => multiply(a, polar(1, radians));
