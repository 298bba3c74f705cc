/** Random networks that hold every kind of element the engine knows, with couplings, earthed dead lines and all sorts of earthing, for comparison with the phase-domain solver. */
import type { Complex } from '../linear/complex';
import { elementId, type ElementId, type Neutral, neutralOf } from '../model/fields';
import type { Network } from '../model/network';
import { Builder } from './network';

export interface EveryKind {
  readonly network: Network;
  readonly buses: readonly string[];
  readonly lines: readonly string[];
  /** Elements at whose terminals a conductor can break, with the number of their terminals. */
  readonly breakable: readonly { id: ElementId; terminals: number }[];
  readonly loads: ReadonlyMap<ElementId, Complex>;
  readonly random: Random;
}

export interface Random {
  /** In [0, 1). */
  (): number;
}

/** Small generator with a seed, so that a failing network can be made again (mulberry32). */
export function randomFrom(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

export function everyKind(seed: number): EveryKind {
  const random = randomFrom(seed);
  const between = (low: number, high: number) => low + (high - low) * random();
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  const b = new Builder();
  const buses: string[] = [];
  const lines: string[] = [];
  const breakable: { id: ElementId; terminals: number }[] = [];
  const loads = new Map<ElementId, Complex>();
  const neutral = (): Neutral =>
    pick([
      neutralOf('solid'),
      neutralOf('isolated'),
      neutralOf('resistor', between(1, 40)),
      neutralOf('reactor', between(0, 1), between(1, 30)),
      neutralOf('coil', between(1, 5), between(100, 900)),
    ] as const);
  const bus = (name: string, nominalKv: number): string => {
    b.add('bus', name, { nominalKv });
    // A small capacitance to earth at every bus, so that no part floats.
    b.add('shunt', `C-${name}`, {
      type: 'capacitor',
      ratedKv: nominalKv,
      ratedMvar: (between(0.2, 1) * nominalKv) / 1000,
      neutral: neutralOf('solid'),
    });
    b.join(`C-${name}`, name);
    buses.push(name);
    return name;
  };
  const line = (name: string, from: string, to: string, scale = 1): string => {
    const [r, x] = [between(0.05, 0.3) * scale, between(0.2, 0.45) * scale];
    b.add('line', name, {
      lengthKm: between(2, 40),
      circuits: pick([1, 1, 1, 2]),
      r1OhmPerKm: r,
      x1OhmPerKm: x,
      r0OhmPerKm: r * between(2, 4),
      x0OhmPerKm: x * between(2.5, 3.5),
      b1UsPerKm: between(0, 3),
      b0UsPerKm: between(0, 2),
    });
    b.join(`${name}:0`, from, `${name}:1`, to);
    lines.push(name);
    breakable.push({ id: elementId(name), terminals: 2 });
    return name;
  };
  const feeder = (name: string, at: string, ikKa: number) => {
    const level = {
      given: 'current' as const,
      ikKa,
      skMva: null,
      rOverX: between(0.05, 0.3),
      x0OverX1: between(0.6, 3),
      r0OverX0: between(0.05, 0.4),
    };
    b.add('networkFeeder', name, { earthed: random() < 0.7, max: level, min: level });
    b.join(name, at);
  };

  // 132 kV: a ring with a coupled pair, a dead line earthed at both ends beside it, one open at both ends.
  const ring = [0, 1, 2].map((k) => bus(`H${k}`, 132));
  feeder('Q0', ring[0], between(5, 20));
  if (random() < 0.6) feeder('Q1', ring[2], between(2, 10));
  const pair = [line('LP1', ring[0], ring[1]), line('LP2', ring[random() < 0.5 ? 0 : 1], ring[1])];
  // The second runs against the first, or leads to another bus, half of the time.
  line('LR1', ring[1], ring[2]);
  line('LR2', ring[2], ring[0]);
  b.add('bus', 'D0', { nominalKv: 132 });
  b.add('bus', 'D1', { nominalKv: 132 });
  for (const end of ['D0', 'D1']) {
    b.add('earthingSwitch', `E-${end}`, { closed: true });
    b.join(`E-${end}`, end);
  }
  b.add('voltageTransformer', 'VT', { primaryKv: 132 });
  b.join('VT', ring[0]);
  b.add('line', 'LD', { lengthKm: 20, r1OhmPerKm: 0.1, x1OhmPerKm: 0.4, r0OhmPerKm: 0.3, x0OhmPerKm: 1.2 });
  b.join('LD:0', 'D0', 'LD:1', 'D1');
  const lengthOf = (name: string) =>
    (b.elements.find((element) => element.id === name) as unknown as { lengthKm: number }).lengthKm;
  const couple = (name: string, first: string, second: string) => {
    const shortest = Math.min(lengthOf(first), lengthOf(second));
    const lengthKm = between(0.3, 1) * shortest;
    b.elements.push({
      kind: 'lineCoupling',
      id: elementId(name),
      name,
      first: elementId(first),
      second: elementId(second),
      lengthKm,
      firstFromKm: between(0, 1) * (lengthOf(first) - lengthKm),
      secondFromKm: between(0, 1) * (lengthOf(second) - lengthKm),
      opposite: random() < 0.5,
      r0mOhmPerKm: between(0.05, 0.1),
      x0mOhmPerKm: between(0.1, 0.25),
    });
  };
  couple('K1', pair[0], pair[1]);
  couple('K2', pair[0], 'LD');

  // Power-station unit with its auxiliaries' bus.
  bus('AUX', 10.5);
  b.add('powerStationUnit', 'U', {
    generator: {
      ratedMva: between(50, 150),
      ratedKv: 10.5,
      powerFactor: 0.85,
      xd2Percent: between(12, 22),
      x2Percent: random() < 0.5 ? between(12, 30) : null,
      rOhm: random() < 0.5 ? 0.004 : null,
      regulationPercent: 5,
      xd1Percent: null,
      xdPercent: null,
      td2S: null,
      td1S: null,
      taS: null,
      rotor: 'turbo',
      excitation: 'series1',
    },
    transformer: {
      ratedMva: 120,
      hvKv: between(115, 140),
      lvKv: 10.5,
      ukPercent: between(8, 16),
      uRPercent: 0.4,
      vectorGroup: pick(['YNd1', 'YNd5', 'YNd11', 'Yd7']),
      onLoadTapChanger: false,
      pTPercent: 0,
      x0OverX1: between(0.8, 1),
      r0OverR1: 1,
    },
    hvNeutral: neutral(),
  });
  b.join('U:0', ring[1], 'U:1', 'AUX');

  // Three windings: 132/33 with a tertiary that feeds a bus.
  const m = [0, 1].map((k) => bus(`M${k}`, 33));
  bus('T0', 11);
  const winding = (uk: number) => ({
    ratedMva: between(20, 60),
    ukPercent: uk,
    uRPercent: between(0.2, 0.6),
    x0OverX1: between(0.8, 1),
    r0OverR1: between(0.9, 1.2),
  });
  const tap = {
    side: pick(['none', 'hv', 'lv'] as const),
    position: pick([-5, 0, 3]),
    steps: 8,
    stepPercent: 1.25,
    holds: 'nothing' as const,
    targetPercent: 100,
  };
  const group = pick([
    'YNyn0d1',
    'YNa0d11',
    'YNyn6d5',
    'YNd1d1',
    'YNyn4d7',
    'Dyn11d0',
    'Dyn11yn5',
    'Dyn1yn11',
    'Dyn5yn5',
    'YNy0d5',
    'YNyn0yn0',
    'Yyn10d3',
  ]);
  b.add('threeWindingTransformer', 'T3', {
    hvKv: between(125, 140),
    mvKv: between(32, 35),
    lvKv: between(10, 11.5),
    vectorGroup: group,
    hvMv: winding(between(10, 16)),
    hvLv: winding(between(18, 24)),
    mvLv: winding(between(6, 9)),
    core: pick(['threeLimb', 'bank'] as const),
    hvNeutral: neutral(),
    mvNeutral: neutral(),
    lvNeutral: neutral(),
    tap,
  });
  b.join('T3:0', ring[2], 'T3:1', m[0], 'T3:2', 'T0');
  breakable.push({ id: elementId('T3'), terminals: 3 });
  line('LM', m[0], m[1]);
  b.add('earthingTransformer', 'Z', { ratedKv: 33, r0Ohm: between(0.2, 2), x0Ohm: between(5, 30), neutral: neutral() });
  b.join('Z', m[1]);
  b.add('doublyFedMachine', 'W', { ratedKv: 33, peakKa: between(0.2, 1), rOverX: between(0.05, 0.3) });
  b.join('W', m[1]);
  b.add('converterSource', 'P', { ratedKv: 33, ratedMva: 10 });
  b.join('P', m[0]);

  // 11 kV below two-winding transformers of many groups, one of them an autotransformer or star–star.
  const groups = [
    'Dyn11',
    'Dyn1',
    'Dyn5',
    'Dyn7',
    'YNd1',
    'YNd5',
    'YNd11',
    'Yzn11',
    'Dzn0',
    'Yzn5',
    'YNyn0',
    'YNyn6',
    'Yyn0',
    'YNy8',
    'YNyn2',
    'Dd0',
  ];
  const below = [0, 1, 2].map((k) => bus(`L${k}`, 11));
  below.forEach((name, k) => {
    const vectorGroup = pick(groups);
    const starStar = /^Y.*y/.test(vectorGroup);
    b.add('transformer', `TL${k}`, {
      ratedMva: between(5, 20),
      hvKv: between(32, 34),
      lvKv: between(10.5, 11.5),
      ukPercent: between(6, 12),
      uRPercent: between(0.3, 0.9),
      vectorGroup,
      x0OverX1: between(0.8, 1),
      r0OverR1: between(0.9, 1.2),
      core: starStar ? pick(['threeLimb', 'bank', 'unspecified'] as const) : 'unspecified',
      hvNeutral: neutral(),
      lvNeutral: neutral(),
      tap: starStar ? { ...tap, side: 'none' as const } : { ...tap, side: pick(['none', 'hv', 'lv'] as const) },
    });
    b.join(`TL${k}:0`, m[k % 2], `TL${k}:1`, name);
    breakable.push({ id: elementId(`TL${k}`), terminals: 2 });
  });
  const ends = below.map((name, k) => {
    const end = bus(`E${k}`, 11);
    line(`LE${k}`, name, end, 0.5);
    return end;
  });
  b.add('seriesReactor', 'X', { ratedKv: 11, ratedA: between(300, 2000), ukPercent: between(2, 10) });
  bus('X0', 11);
  b.join('X:0', ends[0], 'X:1', 'X0');
  breakable.push({ id: elementId('X'), terminals: 2 });
  b.add('synchronousMachine', 'G', {
    ratedMva: between(3, 12),
    ratedKv: 11,
    xd2Percent: between(12, 25),
    x2Percent: random() < 0.5 ? between(14, 30) : null,
    x0Percent: between(4, 9),
    neutral: neutral(),
  });
  b.join('G', 'X0');
  b.add('asynchronousMotor', 'A', { ratedMw: between(0.5, 3), ratedKv: 11, count: pick([1, 3]) });
  b.join('A', ends[1]);
  b.add('load', 'O', { ratedMva: 4 });
  b.join('O', ends[2]);
  loads.set(elementId('O'), { re: between(10, 40), im: between(5, 20) });
  b.add('shunt', 'R', { type: 'reactor', ratedKv: 132, ratedMvar: between(5, 20), neutral: neutral() });
  b.join('R', ring[0]);
  b.add('transformer', 'TA', {
    ratedMva: 60,
    hvKv: 132,
    lvKv: 66,
    ukPercent: 8,
    uRPercent: 0.3,
    vectorGroup: 'YNa0',
    x0OverX1: between(0.8, 1),
    r0OverR1: 1,
    hvNeutral: neutral(),
    tap,
  });
  bus('S', 66);
  b.join('TA:0', ring[0], 'TA:1', 'S');
  breakable.push({ id: elementId('TA'), terminals: 2 });
  return { network: b.network(), buses, lines, breakable, loads, random };
}
