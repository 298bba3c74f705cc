/** Builds the demo project: the Brackwater part of Sorrel Island. All of it is invented. Run by `npm run generate`. */
import { newElement, type PlaceableKind } from '../core/src/model/defaults';
import { defaultSettings, type Element, type ElementOf } from '../core/src/model/element';
import { elementId, type ElementId, type Neutral } from '../core/src/model/fields';
import type { FunctionCode, OvercurrentFunction } from '../core/src/model/protection';
import { genericRelays, newFunction } from '../core/src/protection/overcurrent/library';
import { terminalsOf } from '../core/src/model/drawing';

const elements: Element[] = [{ ...defaultSettings, owner: 'Sorrel Island Power & Water' }];
const solid: Neutral = { earthing: 'solid', rOhm: 0, xOhm: 0 };
const isolated: Neutral = { earthing: 'isolated', rOhm: 0, xOhm: 0 };

const idOf = (name: string): ElementId => elementId(name.replace(/[^A-Za-z0-9]+/g, '-').toLowerCase());
const byId = (id: ElementId) => elements.find((element) => element.id === id)!;

function put<K extends PlaceableKind>(
  kind: K,
  name: string,
  x: number,
  y: number,
  over: Partial<ElementOf<K>> = {},
): ElementId {
  const id = idOf(name);
  elements.push(newElement(kind, id, name, { x, y, ...over } as Partial<ElementOf<K>>));
  return id;
}

let wires = 0;
function join(from: [ElementId, number], to: [ElementId, number]): void {
  const end = ([element, terminal]: [ElementId, number], other: [ElementId, number]) => {
    const target = byId(element);
    if (target.kind !== 'bus') return { element, terminal };
    const far = byId(other[0]) as ElementOf<'switch'>;
    const along = far.x + terminalsOf(far)[other[1]].x - target.x;
    return { element, terminal, at: Math.min(Math.max(along, 0), target.length) };
  };
  elements.push({ kind: 'connection', id: elementId(`wire-${++wires}`), from: end(from, to), to: end(to, from) });
}

/** Joins two-terminal elements one below the other; `top` and `bottom` are buses or single-terminal elements. */
function run(top: ElementId | null, middle: ElementId[], bottom: ElementId | null): void {
  if (top) join([top, 0], [middle[0], 0]);
  for (let k = 0; k + 1 < middle.length; k++) join([middle[k], 1], [middle[k + 1], 0]);
  if (bottom) join([middle[middle.length - 1], 1], [bottom, 0]);
}

const ranges = genericRelays[0].ranges;
function fn(relay: string, code: FunctionCode, over: Partial<OvercurrentFunction>): OvercurrentFunction {
  return { ...newFunction(elementId(`${idOf(relay)}-${code.toLowerCase()}`), code, ranges), ...over };
}

function relay(
  name: string,
  ct: ElementId,
  trips: ElementId[],
  functions: OvercurrentFunction[],
  dx = 70,
  note = '',
): ElementId {
  const at = byId(ct) as ElementOf<'currentTransformer'>;
  return put('relay', name, at.x + dx, at.y, { ct, trips, functions, note });
}

const ct = (name: string, x: number, y: number, primaryA: number) =>
  put('currentTransformer', name, x, y, { primaryA });
const breaker = (name: string, x: number, y: number, over: Partial<ElementOf<'switch'>> = {}) =>
  put('switch', name, x, y, over);

// --- Causeway and Fernhill, 132 and 33 kV -------------------------------------------------------------------------
const level = { given: 'current' as const, skMva: null, rOverX: 0.09, x0OverX1: 0.92, r0OverX0: 0.14 };
const mainland = put('networkFeeder', 'Mainland', 290, 20, {
  max: { ...level, ikKa: 14.2 },
  min: { ...level, ikKa: 8.6 },
  note: 'Infeed of the mainland at Causeway.',
});
const cau = put('bus', 'CAU 132', 60, 60, { nominalKv: 132, length: 430 });
join([mainland, 0], [cau, 0]);
const fer132 = put('bus', 'FER 132', 60, 200, { nominalKv: 132, length: 430 });
for (const [n, x] of [
  [1, 150],
  [2, 400],
] as const) {
  run(
    cau,
    [
      breaker(`CAU Q0${n}`, x, 90),
      put('line', `CAU-FER ${n}`, x, 130, {
        type: 'overhead',
        lengthKm: 24.3,
        r1OhmPerKm: 0.118,
        x1OhmPerKm: 0.402,
        r0OhmPerKm: 0.312,
        x0OhmPerKm: 1.21,
        b1UsPerKm: 2.83,
        b0UsPerKm: 1.72,
        ratedA: 645,
        note: 'Both circuits stand on one tower line; their mutual zero sequence is not modelled yet.',
      }),
      breaker(`FER Q0${n}`, x, 170),
    ],
    fer132,
  );
}
const fer33 = put('bus', 'FER 33', 60, 390, { nominalKv: 33, length: 560 });
for (const [n, x] of [
  [1, 150],
  [2, 400],
] as const) {
  const high = ct(`FER CT1${n}`, x, 240, 300);
  const low = ct(`FER CT2${n}`, x, 340, 1000);
  run(
    fer132,
    [
      breaker(`FER Q1${n}`, x, 220),
      high,
      put('transformer', `FER T${n}`, x, 290, {
        ratedMva: 45,
        hvKv: 132,
        lvKv: 33,
        ukPercent: 12.4,
        uRPercent: 0.42,
        vectorGroup: 'YNd1',
        x0OverX1: 0.95,
        r0OverR1: 1,
        hvNeutral: solid,
        lvNeutral: isolated,
        tap: { side: 'hv', position: 0, steps: 8, stepPercent: 1.25 },
      }),
      low,
      breaker(`FER Q2${n}`, x, 360),
    ],
    fer33,
  );
}
const zigzag = put('earthingTransformer', 'FER NET', 560, 470, {
  ratedKv: 33,
  r0Ohm: 0.9,
  x0Ohm: 18,
  neutral: { earthing: 'impedance', rOhm: 19.05, xOhm: 0 },
  note: 'Zigzag with a resistor for 1000 A.',
});
run(fer33, [breaker('FER Q09', 560, 410)], zigzag);

// --- The parallel cables to Brackwater ------------------------------------------------------------------------------
const bra33 = put('bus', 'BRA 33', 60, 560, { nominalKv: 33, length: 540 });
for (const [n, x] of [
  [1, 150],
  [2, 400],
] as const) {
  run(
    fer33,
    [
      breaker(`FER Q3${n}`, x, 410),
      ct(`FER CT3${n}`, x, 430, 600),
      put('line', `FER-BRA ${n}`, x, 480, {
        type: 'cable',
        lengthKm: 6.4,
        r1OhmPerKm: 0.0991,
        x1OhmPerKm: 0.112,
        r0OhmPerKm: 0.71,
        x0OhmPerKm: 0.38,
        b1UsPerKm: 81.7,
        b0UsPerKm: 81.7,
        ratedA: 520,
        endTemperatureC: 160,
        note: 'The parallel pair that needs direction.',
      }),
      breaker(`BRA Q0${n}`, x, 530),
    ],
    bra33,
  );
}

// --- Brackwater 33/11 kV ---------------------------------------------------------------------------------------------
const bra11a = put('bus', 'BRA 11 A', -40, 750, { nominalKv: 11, length: 390 });
const bra11b = put('bus', 'BRA 11 B', 390, 750, { nominalKv: 11, length: 420 });
for (const [n, x, bus] of [
  [1, 150, bra11a],
  [2, 510, bra11b],
] as const) {
  run(
    bra33,
    [
      breaker(`BRA Q1${n}`, x, 580),
      ct(`BRA CT1${n}`, x, 600, 300),
      put('transformer', `BRA T${n}`, x, 650, {
        ratedMva: 12.5,
        hvKv: 33,
        lvKv: 11.5,
        ukPercent: 8.6,
        uRPercent: 0.5,
        vectorGroup: 'Dyn11',
        x0OverX1: 0.95,
        r0OverR1: 1,
        lvNeutral: { earthing: 'impedance', rOhm: 6.35, xOhm: 0 },
        tap: { side: 'hv', position: 0, steps: 8, stepPercent: 1.25 },
      }),
      ct(`BRA CT2${n}`, x, 700, 800),
      breaker(`BRA Q2${n}`, x, 720),
    ],
    bus,
  );
}
const coupler = breaker('BRA Q30', 370, 750, { turn: 90 });
join([bra11a, 0], [coupler, 1]);
join([coupler, 0], [bra11b, 0]);

// --- 11 kV board -----------------------------------------------------------------------------------------------------
const gas = put('synchronousMachine', 'BRA G1', 30, 860, {
  ratedMva: 6.3,
  ratedKv: 11,
  xd2Percent: 17.5,
  powerFactor: 0.8,
  runsAtMinimum: false,
  note: 'Gas-engine set; stands still with minimum sources.',
});
const gasCt = ct('BRA CT31', 30, 790, 400);
run(bra11a, [breaker('BRA Q31', 30, 770), gasCt], gas);

const bra04 = put('bus', 'BRA 0.4', -10, 960, { nominalKv: 0.4, length: 370 });
const tl1 = put('transformer', 'BRA TL1', 140, 840, {
  ratedMva: 1.6,
  hvKv: 11,
  lvKv: 0.42,
  ukPercent: 6.1,
  uRPercent: 1.05,
  vectorGroup: 'Dyn5',
  x0OverX1: 0.96,
  r0OverR1: 1,
  lvNeutral: solid,
});
const tl1Ct = ct('BRA CT32', 140, 790, 150);
const lvCt = ct('BRA CT41', 140, 890, 2500);
const q32 = breaker('BRA Q32', 140, 770);
const f41 = breaker('BRA F41', 140, 930, { openingTimeS: 0.05 });
run(bra11a, [q32, tl1Ct, tl1, lvCt, f41], bra04);
const pump = {
  ratedMw: 2.1,
  ratedKv: 11,
  powerFactor: 0.87,
  efficiencyPercent: 96.2,
  startingRatio: 5.6,
  polePairs: 2,
};
for (const [n, x, bus] of [
  [1, 290, bra11a],
  [2, 480, bra11b],
  [3, 590, bra11b],
] as const)
  run(
    bus,
    [breaker(`BRA Q3${n + 2}`, x, 770), ct(`BRA CT3${n + 2}`, x, 790, 200)],
    put('asynchronousMotor', `BRA P${n}`, x, 860, pump),
  );

const bra33a = put('bus', 'BRA 3.3', 660, 920, { nominalKv: 3.3, length: 200 });
run(
  bra11b,
  [
    breaker('BRA Q36', 740, 770),
    ct('BRA CT36', 740, 790, 300),
    put('transformer', 'BRA TM1', 740, 840, {
      ratedMva: 4,
      hvKv: 11,
      lvKv: 3.45,
      ukPercent: 7.2,
      uRPercent: 0.8,
      vectorGroup: 'Dyn11',
      x0OverX1: 0.95,
      r0OverR1: 1,
      lvNeutral: { earthing: 'impedance', rOhm: 4.75, xOhm: 0 },
    }),
    breaker('BRA F61', 740, 890),
  ],
  bra33a,
);
run(
  bra33a,
  [breaker('BRA F62', 710, 940)],
  put('asynchronousMotor', 'BRA P4', 710, 1000, {
    ...pump,
    ratedMw: 0.55,
    ratedKv: 3.3,
    efficiencyPercent: 95,
    count: 4,
  }),
);
run(bra33a, [breaker('BRA F63', 800, 940)], put('load', 'BRA dosing', 800, 1000, { ratedMva: 0.6, powerFactor: 0.9 }));

run(
  bra04,
  [put('switch', 'BRA F52', 50, 980, { type: 'fuse', ratedA: 315, openingTimeS: null })],
  put('load', 'Filter hall', 50, 1040, { ratedMva: 0.18, powerFactor: 0.92 }),
);
run(
  bra04,
  [breaker('BRA F51', 180, 980)],
  put('asynchronousMotor', 'Brine dosing', 180, 1040, {
    ratedMw: 0.0075,
    ratedKv: 0.4,
    powerFactor: 0.84,
    efficiencyPercent: 88,
    startingRatio: 6.2,
    polePairs: 2,
  }),
);
run(bra04, [breaker('BRA F53', 280, 980)], put('load', 'Workshop', 280, 1040, { ratedMva: 0.25, powerFactor: 0.9 }));

// --- Relays ----------------------------------------------------------------------------------------------------------
const dt = (delayS: number): Partial<OvercurrentFunction> => ({ characteristic: 'definite', delayS });
const rLv = relay(
  'BRA F41 relay',
  lvCt,
  [f41],
  [
    fn('BRA F41 relay', '51', { characteristic: 'iecB', pickup: 1, timeMultiplier: 0.1 }),
    fn('BRA F41 relay', '50', { pickup: 5, delayS: 0.1 }),
  ],
  80,
);
const rTl1 = relay(
  'BRA Q32 relay',
  tl1Ct,
  [q32],
  [
    fn('BRA Q32 relay', '51', { characteristic: 'iecB', pickup: 1, timeMultiplier: 0.26 }),
    fn('BRA Q32 relay', '50', { pickup: 14, delayS: 0.05 }),
    fn('BRA Q32 relay', '51N', { ...dt(0.1), pickup: 0.2 }),
  ],
);
const rInc = relay(
  'BRA Q21 relay',
  idOf('BRA CT21'),
  [idOf('BRA Q21')],
  [
    fn('BRA Q21 relay', '51', { pickup: 1.1, timeMultiplier: 0.07 }),
    fn('BRA Q21 relay', '51N', { ...dt(0.5), pickup: 0.2 }),
  ],
);
const rT1 = relay(
  'BRA Q11 relay',
  idOf('BRA CT11'),
  [idOf('BRA Q11'), idOf('BRA Q21')],
  [
    fn('BRA Q11 relay', '51', { pickup: 1.3, timeMultiplier: 0.15 }),
    fn('BRA Q11 relay', '50', { pickup: 16, delayS: 0.05 }),
  ],
);
const rCable = relay(
  'FER Q31 relay',
  idOf('FER CT31'),
  [idOf('FER Q31')],
  [
    fn('FER Q31 relay', '51', { pickup: 1, timeMultiplier: 0.2 }),
    fn('FER Q31 relay', '51N', { ...dt(0.4), pickup: 0.15 }),
  ],
);
const rFer = relay(
  'FER Q21 relay',
  idOf('FER CT21'),
  [idOf('FER Q21')],
  [fn('FER Q21 relay', '51', { pickup: 1, timeMultiplier: 0.3 })],
);

elements.push(
  {
    kind: 'gradingChart',
    id: elementId('chart-phase'),
    name: 'Brackwater low voltage to Fernhill',
    mode: 'phase',
    referenceKv: 11,
    relays: [rLv, rTl1, rInc, rT1, rCable, rFer],
    pairs: [
      [rLv, rTl1],
      [rTl1, rInc],
      [rInc, rT1],
      [rT1, rCable],
      [rCable, rFer],
    ].map(([downstream, upstream]) => ({ downstream, upstream, wantedMarginS: null })),
  },
  {
    kind: 'gradingChart',
    id: elementId('chart-earth'),
    name: 'Brackwater 11 kV, earth',
    mode: 'earth',
    referenceKv: 11,
    relays: [rTl1, rInc],
    pairs: [{ downstream: rTl1, upstream: rInc, wantedMarginS: null }],
  },
);

export const demoProject = {
  name: 'Sorrel Island',
  notes:
    'Sorrel Island and all that stands here is invented. This part shows the way from the mainland to the desalination works at Brackwater: ' +
    'fault levels with a gas-engine set and pumps that feed in, a chain of six overcurrent relays from 0.4 kV to 33 kV, resistor-earthed 11 kV and 33 kV.',
  elements,
};
