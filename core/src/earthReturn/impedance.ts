/**
 * Series impedances of conductors with earth as the return, in Ω/km: Carson 1926 by his whole series or by its limit for low heights, and the complex depth of A. Deri et al. 1981. Lengths in
 * metres; depths are negative heights.
 */
import type { Complex } from '../linear/complex';
import { addTo, denseMatrix, type DenseMatrix } from '../linear/dense';
import { equivalentDepth } from '../sequence/lineConstants';

/** `twoTerm`: Carson's limit for low heights, the only one for conductors in the ground. */
export const earthReturnMethods = ['series', 'twoTerm', 'complexDepth'] as const;
export type EarthReturnMethod = (typeof earthReturnMethods)[number];

export interface ReturnConductor {
  readonly name: string;
  /** Everything that is not a phase returns current. */
  readonly role: 'phase' | 'return';
  readonly xM: number;
  readonly hM: number;
  readonly rOhmPerKm: number;
  readonly gmrM: number;
  /** Part of the current of the line that a phase carries. */
  readonly share: number;
  /** The conductors that a sheath lies around. */
  readonly around: string | readonly string[] | null;
  /** Joined to every tower; else at the stations alone. */
  readonly bonded: boolean;
}

const eulerGamma = 0.5772156649015329;
const mu0 = 4e-7 * Math.PI;

/** Carson's P and Q by their series with as many terms as asked for. */
export function carsonSeries(k: number, theta: number, terms = 24): { readonly p: number; readonly q: number } {
  let p = Math.PI / 8;
  let q = 0.25 - eulerGamma / 2 + Math.log(2 / k) / 2;
  const b = [0, Math.SQRT2 / 6, 1 / 16];
  const c = [0, 0, Math.LN2 + 1.25 - eulerGamma];
  const log = Math.log(k);
  for (let i = 1; i <= terms; i++) {
    if (i > 2) {
      const sign = Math.floor((i - 1) / 4) % 2 === 0 ? 1 : -1;
      b[i] = (b[i - 2] * sign) / (i * (i + 2));
      if (i % 2 === 0) c[i] = c[i - 2] + 1 / i + 1 / (i + 2);
    }
    const [power, cos, sin] = [k ** i, Math.cos(i * theta), Math.sin(i * theta)];
    const plain = b[i] * power * cos;
    const logged = i % 2 === 0 ? b[i] * ((c[i] - log) * power * cos + theta * power * sin) : 0;
    const quarter = (Math.PI / 4) * plain;
    switch (i % 4) {
      case 1:
        p -= plain;
        q += plain;
        break;
      case 2:
        p += logged;
        q -= quarter;
        break;
      case 3:
        p += plain;
        q += plain;
        break;
      default:
        p -= quarter;
        q -= logged;
    }
  }
  return { p, q };
}

const isAround = ({ around }: ReturnConductor, { name }: ReturnConductor): boolean =>
  around === name || (Array.isArray(around) && around.includes(name));

/** Between two conductors, or of one with itself, without its resistance. */
function loopImpedance(
  a: ReturnConductor,
  b: ReturnConductor,
  frequencyHz: number,
  soilOhmM: number,
  method: EarthReturnMethod,
): Complex {
  const omega = 2 * Math.PI * frequencyHz;
  const across = Math.abs(a.xM - b.xM);
  const distance = a === b || isAround(a, b) ? a.gmrM : isAround(b, a) ? b.gmrM : Math.hypot(across, a.hM - b.hM);
  if (method === 'twoTerm')
    return {
      re: (omega * mu0 * 1000) / 8,
      im: omega * 2e-4 * Math.log(equivalentDepth(soilOhmM, frequencyHz) / distance),
    };
  const image = Math.hypot(across, a.hM + b.hM);
  if (method === 'series') {
    const { p, q } = carsonSeries(image * Math.sqrt((omega * mu0) / soilOhmM), Math.atan2(across, a.hM + b.hM));
    return { re: omega * 4e-4 * p, im: omega * 2e-4 * (Math.log(image / distance) + 2 * q) };
  }
  // p = 1/√(jωµ0/ρ); ln of a complex image distance.
  const size = 1 / Math.sqrt((omega * mu0) / soilOhmM);
  const depth: Complex = { re: size * Math.SQRT1_2, im: -size * Math.SQRT1_2 };
  const height: Complex = { re: a.hM + b.hM + 2 * depth.re, im: 2 * depth.im };
  const square: Complex = { re: across ** 2 + height.re ** 2 - height.im ** 2, im: 2 * height.re * height.im };
  const log: Complex = {
    re: Math.log(Math.hypot(square.re, square.im)) / 2 - Math.log(distance),
    im: Math.atan2(square.im, square.re) / 2,
  };
  return { re: -omega * 2e-4 * log.im, im: omega * 2e-4 * log.re };
}

/** Series impedance matrix in Ω/km of conductors in their order. */
export function returnImpedances(
  conductors: readonly ReturnConductor[],
  frequencyHz: number,
  soilOhmM: number,
  method: EarthReturnMethod,
): DenseMatrix {
  const m = denseMatrix(conductors.length);
  conductors.forEach((a, i) =>
    conductors.forEach((b, j) => {
      addTo(m, i, j, loopImpedance(a, b, frequencyHz, soilOhmM, method));
      if (i === j) addTo(m, i, j, { re: a.rOhmPerKm, im: 0 });
    }),
  );
  return m;
}
