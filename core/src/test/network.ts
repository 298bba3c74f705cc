/** Small networks for tests, written briefly: elements by name, and what is joined to what. */
import { newElement, type PlaceableKind } from '../model/defaults';
import { defaultSettings, type Element, type ElementOf, type ProjectSettings } from '../model/element';
import { elementId, neutralOf, type ElementId } from '../model/fields';
import { networkOf, type Network } from '../model/network';

export class Builder {
  // Margins between the curves as they are set, which tests work out by hand.
  readonly elements: Element[] = [{ ...defaultSettings, wantedMarginS: 0.3, marginCounts: 'curves' }];
  private joins = 0;

  constructor(settings: Partial<ProjectSettings> = {}) {
    Object.assign(this.elements[0], settings);
  }

  add<K extends PlaceableKind>(kind: K, name: string, over: Partial<ElementOf<K>> = {}): ElementId {
    const id = elementId(name.replace(/[^A-Za-z0-9_-]/g, '_'));
    this.elements.push(newElement(kind, id, name, over));
    return id;
  }

  /** Joins "element" or "element:terminal" pairs in a row. */
  join(...ends: string[]): this {
    const end = (text: string) => {
      const [name, terminal] = text.split(':');
      return { element: elementId(name), terminal: Number(terminal ?? 0) };
    };
    for (let k = 0; k + 1 < ends.length; k += 2)
      this.elements.push({
        kind: 'connection',
        id: elementId(`w${++this.joins}`),
        from: end(ends[k]),
        to: end(ends[k + 1]),
      });
    return this;
  }

  network(): Network {
    return networkOf(this.elements);
  }
}

/** Shape of the networks in `reference/iec60909.json`. */
export interface ReferenceNetwork {
  buses: Record<string, number>;
  feeders: { name: string; bus: string; Ik_kA: number; R_over_X: number; X0_over_X1?: number; R0_over_X0?: number }[];
  trafos2?: {
    name: string;
    hv: string;
    lv: string;
    SrT_MVA: number;
    UrHV_kV: number;
    UrLV_kV: number;
    ukr_pct: number;
    uRr_pct: number;
    vector: [string, string];
    R0_over_R1?: number;
    X0_over_X1?: number;
  }[];
  lines?: {
    name: string;
    from: string;
    to: string;
    length_km: number;
    parallel?: number;
    R1_ohm_per_km: number;
    X1_ohm_per_km: number;
    R0_ohm_per_km: number;
    X0_ohm_per_km: number;
  }[];
}

/** A reference network as a model. */
export function fromReference(reference: ReferenceNetwork): Network {
  const b = new Builder();
  for (const [name, nominalKv] of Object.entries(reference.buses)) b.add('bus', name, { nominalKv });
  for (const f of reference.feeders) {
    const level = {
      given: 'current' as const,
      ikKa: f.Ik_kA,
      skMva: null,
      rOverX: f.R_over_X,
      x0OverX1: f.X0_over_X1 ?? null,
      r0OverX0: f.R0_over_X0 ?? null,
    };
    b.add('networkFeeder', f.name, { earthed: f.X0_over_X1 !== undefined, max: level, min: level });
    b.join(f.name, f.bus);
  }
  for (const t of reference.trafos2 ?? []) {
    const earthing = (winding: string) => neutralOf(winding.endsWith('N') ? 'solid' : 'isolated');
    b.add('transformer', t.name, {
      ratedMva: t.SrT_MVA,
      hvKv: t.UrHV_kV,
      lvKv: t.UrLV_kV,
      ukPercent: t.ukr_pct,
      uRPercent: t.uRr_pct,
      vectorGroup: `${t.vector[0]}${t.vector[1].toLowerCase()}5`,
      x0OverX1: t.X0_over_X1 ?? null,
      r0OverR1: t.R0_over_R1 ?? null,
      hvNeutral: earthing(t.vector[0]),
      lvNeutral: earthing(t.vector[1]),
    });
    b.join(`${t.name}:0`, t.hv, `${t.name}:1`, t.lv);
  }
  for (const l of reference.lines ?? []) {
    b.add('line', l.name, {
      lengthKm: l.length_km,
      circuits: l.parallel ?? 1,
      r1OhmPerKm: l.R1_ohm_per_km,
      x1OhmPerKm: l.X1_ohm_per_km,
      r0OhmPerKm: l.R0_ohm_per_km,
      x0OhmPerKm: l.X0_ohm_per_km,
    });
    b.join(`${l.name}:0`, l.from, `${l.name}:1`, l.to);
  }
  return b.network();
}

/** Shape of the reference case of a line fed from both ends. */
export interface TwoSidedLine {
  Un_kV: number;
  ZA_ohm: [number, number];
  ZB_ohm: [number, number];
  line_length_km: number;
  Z1_line_ohm_per_km: [number, number];
  expected_by_percent_from_A: Record<string, { Ik3_kA: number; I_from_A_kA: number; I_from_B_kA: number }>;
}

/** Feeders QA and QB at the buses A and B; with `cutAt` a bus F stands at that fraction between the lines LA and LB, else one line L joins them. */
export function twoSidedLine(reference: TwoSidedLine, cutAt?: number): Network {
  const b = new Builder();
  for (const [name, [r, x]] of [
    ['A', reference.ZA_ohm],
    ['B', reference.ZB_ohm],
  ] as const) {
    b.add('bus', name, { nominalKv: reference.Un_kV });
    const ikKa = (1.1 * reference.Un_kV) / Math.sqrt(3) / Math.hypot(r, x);
    const level = { given: 'current' as const, ikKa, skMva: null, rOverX: r / x, x0OverX1: null, r0OverX0: null };
    b.add('networkFeeder', `Q${name}`, { earthed: false, max: level, min: level });
    b.join(`Q${name}`, name);
  }
  const [r1OhmPerKm, x1OhmPerKm] = reference.Z1_line_ohm_per_km;
  const line = (name: string, lengthKm: number, from: string, to: string) => {
    b.add('line', name, { lengthKm, r1OhmPerKm, x1OhmPerKm });
    b.join(`${name}:0`, from, `${name}:1`, to);
  };
  if (cutAt === undefined) line('L', reference.line_length_km, 'A', 'B');
  else {
    b.add('bus', 'F', { nominalKv: reference.Un_kV });
    line('LA', reference.line_length_km * cutAt, 'A', 'F');
    line('LB', reference.line_length_km * (1 - cutAt), 'B', 'F');
  }
  return b.network();
}

/** Shape of the reference case of X and R reduced apart: resistance and reactance of two sources beside each other and of a line behind them. */
export type TwoSources = Readonly<Record<'s1' | 's2' | 'ser', readonly [number, number]>>;

/** Feeders N1 and N2 at bus A, line L to bus B. 1 per unit of 1 Ω at 10 kV: ohms stand for per unit. */
export function twoSources({ s1, s2, ser: [r, x] }: TwoSources): Network {
  const b = new Builder();
  b.add('bus', 'A', { nominalKv: 10 });
  b.add('bus', 'B', { nominalKv: 10 });
  for (const [name, [rOhm, xOhm]] of [
    ['N1', s1],
    ['N2', s2],
  ] as const) {
    const level = {
      given: 'current' as const,
      ikKa: 10 / Math.sqrt(3) / Math.hypot(rOhm, xOhm),
      skMva: null,
      rOverX: rOhm / xOhm,
      x0OverX1: 1,
      r0OverX0: rOhm / xOhm,
    };
    b.add('networkFeeder', name, { max: level, min: level });
    b.join(name, 'A');
  }
  b.add('line', 'L', { lengthKm: 1, r1OhmPerKm: r, x1OhmPerKm: x, r0OhmPerKm: r, x0OhmPerKm: x });
  b.join('L:0', 'A', 'L:1', 'B');
  return b.network();
}
