/** Builds the demo project: the networks of Sorrel Island from 132 to 0.4 kV. All of it is invented. Run by `npm run generate`. */
import {
  usualPath,
  usualSheath,
  usualStretch,
  type ReturnPath,
  type StationEarthing,
} from '@mesura/core/model/earthing';
import { withCircuits } from './demoCircuits';
import { withDifferential } from './demoDifferential';
import { newElement, type PlaceableKind } from '../core/src/model/defaults';
import { defaultSettings, type Element, type ElementOf } from '../core/src/model/element';
import { elementId, type ElementId, type Neutral, neutralOf } from '../core/src/model/fields';
import { maximumSources, minimumSources } from '../core/src/model/condition';
import { familyNamed } from '../core/src/protection/registry';
import type { DeviceFunction, FamilyId, FunctionOf } from '../core/src/protection/schemas';
import { usualArcPlace } from '../core/src/model/arc';
import { newChart } from '../core/src/model/chart';
import { currentInput, tripCircuit } from '../core/src/model/protection';
import type { FunctionCode, OvercurrentFunction } from '../core/src/protection/overcurrent/schema';
import { genericRelays, newFunction } from '../core/src/protection/overcurrent/library';
import { firstInput as firstInputName } from '../core/src/model/upgrade';
import { networkOf } from '../core/src/model/network';
import { freshDistance } from '../core/src/protection/distance';
import { reachPlan, withReaches } from '../core/src/reach/plan';
import { Studies } from '../core/src/studies/studies';
import { finished } from '../core/src/working/steps';
import { rated } from './demoRatings';
import { terminalsOf } from '../core/src/drawing/shape/terminals';

const firstInput = firstInputName as ElementId;
const elements: Element[] = [
  { ...defaultSettings, wantedMarginS: 0.3, marginCounts: 'curves', owner: 'Sorrel Island Power & Water' },
];
const overhead132 = {
  type: 'overhead' as const,
  r1OhmPerKm: 0.118,
  x1OhmPerKm: 0.402,
  r0OhmPerKm: 0.312,
  x0OhmPerKm: 1.21,
  b1UsPerKm: 2.83,
  b0UsPerKm: 1.72,
  ratedA: 645,
};
const overhead33 = {
  type: 'overhead' as const,
  r1OhmPerKm: 0.272,
  x1OhmPerKm: 0.371,
  r0OhmPerKm: 0.42,
  x0OhmPerKm: 1.58,
  b1UsPerKm: 3.1,
  b0UsPerKm: 1.5,
  ratedA: 310,
};
const cable33 = {
  type: 'cable' as const,
  r1OhmPerKm: 0.0991,
  x1OhmPerKm: 0.112,
  r0OhmPerKm: 0.71,
  x0OhmPerKm: 0.38,
  b1UsPerKm: 81.7,
  b0UsPerKm: 81.7,
  ratedA: 520,
  endTemperatureC: 160,
};
const holdsLv = (targetPercent: number) =>
  ({ side: 'hv', position: 0, steps: 8, stepPercent: 1.25, holds: 'lv', targetPercent }) as const;

/** Off-load taps, set to lower the low voltage by a step. */
const offLoad = { side: 'hv', position: 1, steps: 2, stepPercent: 2.5, holds: 'nothing', targetPercent: 100 } as const;

const solid: Neutral = neutralOf('solid');
const isolated: Neutral = neutralOf('isolated');

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

/** A function of a switch that protects by itself. */
const own = <F extends FamilyId>(family: F, device: string, variant: string): FunctionOf<F> =>
  familyNamed(family).fresh(elementId(`${idOf(device)}-${variant.toLowerCase()}`), variant, null);

/** A moulded-case breaker: overload and undelayed short-circuit release. */
const moulded = (device: string, over: Partial<FunctionOf<'release'>>): FunctionOf<'release'> => ({
  ...own('release', device, familyNamed('release').variants[0].value),
  parts: ['longTime', 'instantaneous'],
  trS: 5,
  ...over,
});

function relay(
  name: string,
  ct: ElementId,
  trips: ElementId[],
  functions: DeviceFunction[],
  dx = 70,
  note = '',
  inputs: ElementOf<'relay'>['inputs'] = [currentInput(ct)],
): ElementId {
  const at = byId(ct) as ElementOf<'currentTransformer'>;
  return put('relay', name, at.x + dx, at.y, {
    inputs,
    circuits: [tripCircuit(trips)],
    functions,
    note,
  });
}

const ct = (name: string, x: number, y: number, primaryA: number) =>
  put('currentTransformer', name, x, y, { primaryA });
const breaker = (name: string, x: number, y: number, over: Partial<ElementOf<'switch'>> = {}) =>
  put('switch', name, x, y, over);

// --- Causeway and Fernhill, 132 and 33 kV -------------------------------------------------------------------------
const level = { given: 'current' as const, skMva: null, rOverX: 0.09, x0OverX1: 0.92, r0OverX0: 0.14 };
const mainland = put('networkFeeder', 'Mainland', 290, -60, {
  max: { ...level, ikKa: 14.2 },
  min: { ...level, ikKa: 8.6 },
  note: 'Infeed of the mainland at Causeway.',
});
const cau = put('bus', 'CAU 132', 60, -20, { nominalKv: 132, length: 1110 });
join([mainland, 0], [cau, 0]);
const fer132 = put('bus', 'FER 132', 60, 200, { nominalKv: 132, length: 980 });
for (const [n, x] of [
  [1, 150],
  [2, 400],
] as const) {
  run(
    cau,
    [
      breaker(`CAU Q0${n}`, x, 10),
      ct(`CAU CT0${n}`, x, 35, 800),
      put('line', `CAU-FER ${n}`, x, 90, {
        ...overhead132,
        lengthKm: 24.3,
        note: 'Both circuits stand on one tower line over the whole length: see the coupling CAU-FER.',
      }),
      ct(`FER CT0${n}`, x, 145, 800),
      breaker(`FER Q0${n}`, x, 170),
    ],
    fer132,
  );
}
elements.push({
  kind: 'lineCoupling',
  id: elementId('cau-fer'),
  name: 'CAU-FER',
  first: idOf('CAU-FER 1'),
  second: idOf('CAU-FER 2'),
  firstFromKm: 0,
  secondFromKm: 0,
  lengthKm: 24.3,
  opposite: false,
  r0mOhmPerKm: 0.194,
  x0mOhmPerKm: 0.708,
});
const fer33a = put('bus', 'FER 33 A', -120, 390, { nominalKv: 33, length: 470 });
const fer33b = put('bus', 'FER 33 B', 390, 390, { nominalKv: 33, length: 240 });
const ferCoupler = breaker('FER Q30', 370, 390, { turn: 90 });
join([fer33a, 0], [ferCoupler, 1]);
join([ferCoupler, 0], [fer33b, 0]);
for (const [n, x] of [
  [1, 150],
  [2, 400],
] as const) {
  const high = ct(`FER CT1${n}`, x, 240, 300);
  const section = n === 1 ? fer33a : fer33b;
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
        tap: holdsLv(101),
      }),
      low,
      breaker(`FER Q2${n}`, x, 360),
    ],
    section,
  );
}
const zigzag = put('earthingTransformer', 'FER NET', 560, 470, {
  ratedKv: 33,
  r0Ohm: 0.9,
  x0Ohm: 18,
  neutral: neutralOf('resistor', 19.05),
  note: 'Zigzag with a resistor for 1000 A.',
});
run(fer33b, [breaker('FER Q09', 560, 410)], zigzag);

// --- The parallel cables to Brackwater ------------------------------------------------------------------------------
const bra33 = put('bus', 'BRA 33', 60, 560, { nominalKv: 33, length: 540 });
for (const [n, x] of [
  [1, 150],
  [2, 400],
] as const) {
  run(
    n === 1 ? fer33a : fer33b,
    [
      breaker(`FER Q3${n}`, x, 430),
      ct(`FER CT3${n}`, x, 452, 600),
      put('line', `FER-BRA ${n}`, x, 500, {
        ...cable33,
        lengthKm: 6.4,
        note: 'The parallel pair that needs direction.',
      }),
      ct(`BRA CT0${n}`, x, 530, 600),
      breaker(`BRA Q0${n}`, x, 545),
    ],
    bra33,
  );
}
const vt33 = put('voltageTransformer', 'BRA VT33', 330, 600, { primaryKv: 33 });
join([bra33, 0], [vt33, 0]);

// --- Brackwater 33/11 kV ---------------------------------------------------------------------------------------------
const bra11a = put('bus', 'BRA 11 A', -40, 750, { nominalKv: 11, length: 390 });
const bra11b = put('bus', 'BRA 11 B', 390, 750, { nominalKv: 11, length: 540 });
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
        lvNeutral: neutralOf('resistor', 6.35),
        tap: holdsLv(101),
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
  xd1Percent: 26,
  xdPercent: 190,
  rotor: 'salient',
  runsAtMinimum: false,
  operation: {
    holds: 'power',
    activeMw: 4,
    reactiveMvar: 1.5,
    voltagePercent: 100,
    minMvar: null,
    maxMvar: null,
  },
  note: 'Gas-engine set; stands still with minimum sources.',
});
const gasCt = ct('BRA CT31', 30, 790, 400);
run(bra11a, [breaker('BRA Q31', 30, 770), gasCt], gas);

// An arc on the line side of its incomer is above 40 cal/cm² until BRA Q32 is set faster.
const bra04 = put('bus', 'BRA 0.4', -10, 960, {
  nominalKv: 0.4,
  length: 370,
  arc: { ...usualArcPlace, equipment: 'lowVoltageSwitchgear', distanceMm: 520 },
});
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
  tap: offLoad,
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
      lvNeutral: neutralOf('resistor', 4.75),
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
  [
    put('switch', 'BRA F52', 50, 980, {
      type: 'fuse',
      ratedA: 315,
      openingTimeS: null,
      functions: [{ ...own('fuse', 'BRA F52', 'gG'), linkA: 315 }],
    }),
  ],
  put('load', 'Filter hall', 50, 1040, { ratedMva: 0.18, powerFactor: 0.92 }),
);
run(
  bra04,
  [
    breaker('BRA F51', 180, 980, { ratedA: 32, functions: [moulded('BRA F51', { ratedA: 32, ir: 0.5, ii: 8 })] }),
    put('line', 'Dosing cable', 180, 1030, {
      type: 'cable',
      lengthKm: 0.038,
      r1OhmPerKm: 7.41,
      x1OhmPerKm: 0.11,
      r0OhmPerKm: 29.6,
      x0OhmPerKm: 0.4,
      ratedA: 26,
      endTemperatureC: 160,
      note: '4 x 2.5 mm² copper, 38 m.',
    }),
  ],
  put('asynchronousMotor', 'Brine dosing', 180, 1110, {
    ratedMw: 0.0075,
    ratedKv: 0.4,
    powerFactor: 0.84,
    efficiencyPercent: 88,
    startingRatio: 6.2,
    polePairs: 2,
  }),
);
run(
  bra04,
  [
    breaker('BRA F53', 280, 980, {
      ratedA: 630,
      functions: [moulded('BRA F53', { ratedA: 630, ir: 0.7, ii: 4 })],
    }),
  ],
  put('load', 'Workshop', 280, 1040, { ratedMva: 0.25, powerFactor: 0.9 }),
);

const bra042 = put('bus', 'BRA 0.4-2', 820, 960, {
  nominalKv: 0.4,
  length: 200,
  arc: { ...usualArcPlace, equipment: 'controlCentre' },
});
run(
  bra11b,
  [
    breaker('BRA Q37', 910, 770),
    ct('BRA CT37', 910, 790, 150),
    put('transformer', 'BRA TL2', 910, 840, {
      ratedMva: 1.6,
      hvKv: 11,
      lvKv: 0.42,
      ukPercent: 6.1,
      uRPercent: 1.05,
      vectorGroup: 'Dyn5',
      x0OverX1: 0.96,
      r0OverR1: 1,
      lvNeutral: solid,
      tap: offLoad,
    }),
    breaker('BRA F42', 910, 930, { openingTimeS: 0.05 }),
  ],
  bra042,
);
run(
  bra042,
  [
    put('switch', 'BRA F71', 960, 980, {
      type: 'fuse',
      ratedA: 400,
      openingTimeS: null,
      functions: [{ ...own('fuse', 'BRA F71', 'gG'), linkA: 400 }],
    }),
  ],
  put('load', 'Membrane hall', 960, 1040, { ratedMva: 0.24, powerFactor: 0.91 }),
);

// --- 132 kV ring: Tollgate, Quern Mill on a tee, Marrow Head ----------------------------------------------------------
const earthing33 = (name: string, x: number, y: number, bus: ElementId, q: string) =>
  run(
    bus,
    [breaker(q, x, y)],
    put('earthingTransformer', name, x, y + 60, {
      ratedKv: 33,
      r0Ohm: 0.9,
      x0Ohm: 18,
      neutral: neutralOf('resistor', 19.05),
    }),
  );
const grid33 = (name: string, x: number, y: number, ratedMva: number, ukPercent: number) =>
  put('transformer', name, x, y, {
    ratedMva,
    hvKv: 132,
    lvKv: 33,
    ukPercent,
    uRPercent: 0.45,
    vectorGroup: 'YNd1',
    x0OverX1: 0.95,
    r0OverR1: 1,
    hvNeutral: solid,
    lvNeutral: isolated,
    tap: holdsLv(101),
  });
const tol132 = put('bus', 'TOL 132', 1070, 200, { nominalKv: 132, length: 520 });
run(
  cau,
  [
    breaker('CAU Q03', 1140, 10),
    ct('CAU CT03', 1140, 35, 800),
    put('line', 'TOL-CAU', 1140, 90, { ...overhead132, lengthKm: 27.2 }),
    ct('TOL CT01', 1140, 145, 800),
    breaker('TOL Q01', 1140, 170),
  ],
  tol132,
);
const tol33 = put('bus', 'TOL 33', 1430, 400, { nominalKv: 33, length: 210 });
run(
  tol132,
  [
    breaker('TOL Q11', 1490, 230),
    ct('TOL CT11', 1490, 250, 200),
    grid33('TOL T1', 1490, 300, 30, 11.4),
    breaker('TOL Q21', 1490, 360),
  ],
  tol33,
);
run(
  tol33,
  [breaker('TOL Q31', 1460, 430)],
  put('load', 'Tollgate town', 1460, 490, { ratedMva: 18, powerFactor: 0.95 }),
);
earthing33('TOL NET', 1590, 430, tol33, 'TOL Q09');

const tee = put('bus', 'QUE tee', 1110, 400, {
  nominalKv: 132,
  length: 230,
  note: 'The tee: no switchgear, a joint in the line.',
});
run(
  tol132,
  [
    breaker('TOL Q02', 1180, 230),
    ct('TOL CT02', 1180, 255, 800),
    put('line', 'QUE-TOL', 1180, 320, { ...overhead132, lengthKm: 11.5 }),
  ],
  tee,
);
const mar132 = put('bus', 'MAR 132', 930, 800, { nominalKv: 132, length: 520 });
run(
  tee,
  [
    put('line', 'MAR-QUE', 1180, 590, { ...overhead132, lengthKm: 7.4 }),
    ct('MAR CT02', 1180, 735, 800),
    breaker('MAR Q02', 1180, 760),
  ],
  mar132,
);
const que11 = put('bus', 'QUE 11', 1215, 620, { nominalKv: 11, length: 260 });
run(
  tee,
  [
    put('line', 'QUE spur', 1320, 450, { ...overhead132, lengthKm: 2.8 }),
    breaker('QUE Q01', 1320, 500),
    put('transformer', 'QUE T1', 1320, 550, {
      ratedMva: 16,
      hvKv: 132,
      lvKv: 11,
      ukPercent: 10.8,
      uRPercent: 0.5,
      vectorGroup: 'YNd1',
      x0OverX1: 0.95,
      r0OverR1: 1,
      hvNeutral: solid,
      lvNeutral: isolated,
      tap: holdsLv(101),
      note: 'Teed off between Marrow Head and Tollgate: a line with three terminals.',
    }),
    breaker('QUE Q21', 1320, 600),
  ],
  que11,
);
run(que11, [breaker('QUE Q31', 1330, 640)], put('load', 'Quern mill', 1330, 690, { ratedMva: 9, powerFactor: 0.88 }));
run(
  que11,
  [breaker('QUE Q09', 1430, 640)],
  put('earthingTransformer', 'QUE NET', 1430, 690, {
    ratedKv: 11,
    r0Ohm: 0.3,
    x0Ohm: 4.5,
    neutral: neutralOf('resistor', 6.35),
  }),
);
run(
  fer132,
  [
    breaker('FER Q03', 1020, 230),
    ct('FER CT03', 1020, 255, 800),
    put('line', 'FER-MAR', 1020, 470, { ...overhead132, lengthKm: 31.6 }),
    ct('MAR CT01', 1020, 735, 800),
    breaker('MAR Q01', 1020, 760),
  ],
  mar132,
);
const mar33 = put('bus', 'MAR 33', 1200, 990, { nominalKv: 33, length: 210 });
run(
  mar132,
  [
    breaker('MAR Q11', 1260, 830),
    ct('MAR CT11', 1260, 850, 200),
    grid33('MAR T1', 1260, 900, 30, 11.2),
    breaker('MAR Q21', 1260, 960),
  ],
  mar33,
);
run(
  mar33,
  [breaker('MAR Q31', 1230, 1020)],
  put('load', 'Marrow Head', 1230, 1080, { ratedMva: 12, powerFactor: 0.94 }),
);
earthing33('MAR NET', 1350, 1020, mar33, 'MAR Q09');

// --- Pennywell, Skerry, Gale Point, 33 and 11 kV -----------------------------------------------------------------------
const pennywell = elements.length;
const pen33 = put('bus', 'PEN 33', -990, 560, { nominalKv: 33, length: 990 });
const ske33 = put('bus', 'SKE 33', -720, 760, { nominalKv: 33, length: 160 });
run(
  pen33,
  [
    breaker('PEN Q03', -640, 590),
    ct('PEN CT03', -640, 610, 200),
    put('line', 'PEN-SKE', -640, 670, { ...overhead33, lengthKm: 8.7 }),
    breaker('SKE Q01', -640, 730),
  ],
  ske33,
);
run(
  ske33,
  [breaker('SKE Q31', -680, 790)],
  put('load', 'Skerry', -680, 850, { ratedMva: 2.4, powerFactor: 0.93, note: 'End of the radial feeder.' }),
);
const gal33 = put('bus', 'GAL 33', -940, 760, { nominalKv: 33, length: 160 });
run(
  pen33,
  [
    breaker('PEN Q04', -860, 590),
    ct('PEN CT04', -860, 610, 500),
    put('line', 'PEN-GAL', -860, 670, { ...cable33, lengthKm: 9.1 }),
    breaker('GAL Q01', -860, 730),
  ],
  gal33,
);
run(
  gal33,
  [breaker('GAL Q11', -860, 790)],
  put('converterSource', 'GAL wind', -860, 850, {
    ratedMva: 24,
    ratedKv: 33,
    faultRatio: 1.15,
    operation: { holds: 'power', activeMw: 15, reactiveMvar: -3, voltagePercent: 100, minMvar: null, maxMvar: null },
    note: 'Wind farm with full converters: its fault current is limited.',
  }),
);
const pen11 = put('bus', 'PEN 11', -500, 760, { nominalKv: 11, length: 400 });
run(
  pen33,
  [
    breaker('PEN Q11', -300, 590),
    ct('PEN CT11', -300, 610, 150),
    put('transformer', 'PEN T1', -300, 660, {
      ratedMva: 5,
      hvKv: 33,
      lvKv: 11.5,
      ukPercent: 7.4,
      uRPercent: 0.7,
      vectorGroup: 'Dyn11',
      x0OverX1: 0.95,
      r0OverR1: 1,
      lvNeutral: solid,
      tap: holdsLv(102),
    }),
    breaker('PEN Q21', -300, 720),
  ],
  pen11,
);
run(
  pen11,
  [breaker('PEN Q31', -180, 790)],
  put('load', 'Pennywell village', -180, 850, { ratedMva: 1.3, powerFactor: 0.95 }),
);
const rural = {
  type: 'overhead' as const,
  r1OhmPerKm: 0.54,
  x1OhmPerKm: 0.38,
  r0OhmPerKm: 0.69,
  x0OhmPerKm: 1.6,
  ratedA: 170,
};
const pole = (name: string, x: number, y: number, kva: number) =>
  put('transformer', name, x, y, {
    ratedMva: kva / 1000,
    hvKv: 11,
    lvKv: 0.42,
    ukPercent: 4,
    uRPercent: 1.7,
    vectorGroup: 'Dyn11',
    x0OverX1: 1,
    r0OverR1: 1,
    lvNeutral: solid,
  });
const spur = (
  bus: ElementId,
  fuse: string,
  unit: string,
  load: string,
  x: number,
  y: number,
  kva: number,
  ratedA: number,
) =>
  run(
    bus,
    [
      put('switch', fuse, x, y + 30, {
        type: 'fuse',
        ratedA,
        openingTimeS: null,
        functions: [{ ...own('fuse', fuse, 'expulsionK'), linkA: ratedA }],
      }),
      pole(unit, x, y + 90, kva),
    ],
    put('load', load, x, y + 160, { ratedMva: (0.6 * kva) / 1000, powerFactor: 0.95 }),
  );
const rural1 = put('bus', 'Rural 1', -500, 950, { nominalKv: 11, length: 160 });
run(
  pen11,
  [
    put('switch', 'PEN R1', -460, 790, {
      type: 'recloser',
      ratedA: 200,
      openingTimeS: 0.05,
      functions: [
        // Two fast operations save the spur fuses, two slow ones leave it to them to clear.
        {
          ...own('overcurrent', 'PEN R1', '51'),
          id: elementId('pen-r1-fast'),
          characteristic: 'iecC',
          pickup: 0.8,
          timeMultiplier: 0.05,
          operations: 'fast',
        },
        { ...own('overcurrent', 'PEN R1', '51'), pickup: 0.8, timeMultiplier: 0.15, operations: 'slow' },
        own('reclosing', 'PEN R1', '79'),
      ],
    }),
    put('line', 'Rural line 1', -460, 860, { ...rural, lengthKm: 6.2 }),
  ],
  rural1,
);
const rural2 = put('bus', 'Rural 2', -320, 950, { nominalKv: 11, length: 160 });
// The second stretch runs on from the first.
run(rural1, [put('line', 'Rural line 2', -330, 880, { ...rural, lengthKm: 4.8, turn: 270 })], rural2);
spur(rural1, 'PEN F1', 'Pole 1', 'High farm', -460, 950, 100, 10);
spur(rural2, 'PEN F2', 'Pole 2', 'Quarry', -240, 950, 200, 25);

// Drawn in its own corner, then set below Brackwater.
for (const element of elements.slice(pennywell))
  if ('x' in element) Object.assign(element, { x: element.x + 880, y: element.y + 660 });
run(
  fer33a,
  [
    breaker('FER Q33', -90, 420),
    ct('FER CT33', -90, 450, 400),
    put('line', 'FER-PEN', -90, 800, { ...overhead33, lengthKm: 11.2 }),
    breaker('PEN Q01', -90, 1180),
  ],
  pen33,
);

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
    fn('BRA Q11 relay', '51', { pickup: 1.3, timeMultiplier: 0.16 }),
    fn('BRA Q11 relay', '50', { pickup: 16, delayS: 0.05 }),
    fn('BRA Q11 relay', '51N', { ...dt(0.1), pickup: 0.2 }),
  ],
);
// The second transformer and what hangs on section B.
relay(
  'BRA Q22 relay',
  idOf('BRA CT22'),
  [idOf('BRA Q22')],
  [
    fn('BRA Q22 relay', '51', { pickup: 1.1, timeMultiplier: 0.09 }),
    fn('BRA Q22 relay', '51N', { ...dt(0.5), pickup: 0.2 }),
  ],
);
relay(
  'BRA Q12 relay',
  idOf('BRA CT12'),
  [idOf('BRA Q12'), idOf('BRA Q22')],
  [
    fn('BRA Q12 relay', '51', { pickup: 1.3, timeMultiplier: 0.16 }),
    fn('BRA Q12 relay', '50', { pickup: 16, delayS: 0.05 }),
    fn('BRA Q12 relay', '51N', { ...dt(0.1), pickup: 0.2 }),
  ],
);
for (const [name, at, opens, pickup, timeMultiplier] of [
  ['BRA Q36 relay', 'BRA CT36', 'BRA Q36', 10, 0.1],
  ['BRA Q37 relay', 'BRA CT37', 'BRA Q37', 14, 0.26],
] as const)
  relay(
    name,
    idOf(at),
    [idOf(opens)],
    [
      fn(name, '51', { characteristic: 'iecB', pickup: 1, timeMultiplier }),
      fn(name, '50', { pickup, delayS: 0.05 }),
      fn(name, '51N', { ...dt(0.1), pickup: 0.2 }),
    ],
  );
const rCable = relay(
  'FER Q31 relay',
  idOf('FER CT31'),
  [idOf('FER Q31')],
  [
    fn('FER Q31 relay', '51', { pickup: 1, timeMultiplier: 0.24 }),
    fn('FER Q31 relay', '51N', { ...dt(0.4), pickup: 0.15 }),
  ],
);
const rCable2 = relay(
  'FER Q32 relay',
  idOf('FER CT32'),
  [idOf('FER Q32')],
  [
    fn('FER Q32 relay', '51', { pickup: 1, timeMultiplier: 0.24 }),
    fn('FER Q32 relay', '51N', { ...dt(0.4), pickup: 0.15 }),
  ],
);
// At Brackwater each cable has a relay that looks back into it; the second one's current transformer is connected the wrong way round, for the newcomer to find.
const [rBack1, rBack2] = ([1, 2] as const).map((n) => {
  const name = `BRA Q0${n} relay`;
  const current = idOf(`BRA CT0${n}`);
  return relay(
    name,
    current,
    [idOf(`BRA Q0${n}`)],
    [fn(name, '67', { pickup: 0.5, timeMultiplier: 0.11 }), fn(name, '67N', { ...dt(0.1), pickup: 0.1 })],
    70,
    'Looks from the board back into the cable: trips when the fault is fed from Brackwater.',
    [
      { ...currentInput(current, 0), reversed: n === 2 },
      { id: elementId('vt'), type: 'voltage', element: vt33, towards: 1, reversed: false, star: null },
    ],
  );
});
const rRadial = relay(
  'FER Q33 relay',
  idOf('FER CT33'),
  [idOf('FER Q33')],
  [
    fn('FER Q33 relay', '51', { pickup: 0.6, timeMultiplier: 0.36 }),
    fn('FER Q33 relay', '50', { pickup: 8, delayS: 0.05 }),
    fn('FER Q33 relay', '51N', { ...dt(0.5), pickup: 0.2 }),
  ],
);
const rPen = relay(
  'PEN Q11 relay',
  idOf('PEN CT11'),
  [idOf('PEN Q11'), idOf('PEN Q21')],
  [
    fn('PEN Q11 relay', '51', { pickup: 0.9, timeMultiplier: 0.25 }),
    fn('PEN Q11 relay', '51N', { ...dt(0.1), pickup: 0.2 }),
  ],
);
// The pumps: thermal image, start and locked rotor, short circuit, earth fault, unbalance.
const pumps = [3, 4, 5].map((n) => {
  const name = `BRA Q3${n} relay`;
  const motor = (code: FunctionCode, over: Partial<OvercurrentFunction>) => fn(name, code, over);
  return relay(
    name,
    idOf(`BRA CT3${n}`),
    [idOf(`BRA Q3${n}`)],
    [
      { ...own('thermal', name, '49'), input: firstInput, pickup: 0.66, tauS: 1500, tauCoolingS: 4500 },
      motor('48', { ...dt(8), pickup: 2.2 }),
      motor('50', { pickup: 4.3, delayS: 0.05 }),
      motor('51N', { ...dt(0.1), pickup: 0.1 }),
      motor('46', { ...dt(2), pickup: 0.15 }),
    ],
  );
});
relay(
  'BRA Q31 relay',
  gasCt,
  [idOf('BRA Q31')],
  [
    fn('BRA Q31 relay', '51', { pickup: 1.2, timeMultiplier: 0.05 }),
    fn('BRA Q31 relay', '50', { pickup: 6, delayS: 0.05 }),
    fn('BRA Q31 relay', '51N', { ...dt(0.1), pickup: 0.1 }),
  ],
);
const rFer = relay(
  'FER Q21 relay',
  idOf('FER CT21'),
  [idOf('FER Q21')],
  [fn('FER Q21 relay', '51', { pickup: 1, timeMultiplier: 0.3 })],
);

// Distance protection at all ends of the 132 kV lines that something feeds; its reaches are those of the rulebook (see below).
const ends132 = [
  ['CAU', 1, 1],
  ['CAU', 2, 1],
  ['CAU', 3, 1],
  ['FER', 1, 0],
  ['FER', 2, 0],
  ['FER', 3, 1],
  ['TOL', 1, 0],
  ['TOL', 2, 1],
  ['MAR', 1, 0],
  ['MAR', 2, 0],
] as const;
const voltageOf = Object.fromEntries(
  (
    [
      ['CAU', cau, 640, 20],
      ['FER', fer132, 640, 240],
      ['TOL', tol132, 1280, 240],
      ['MAR', mar132, 1360, 840],
    ] as const
  ).map(([station, bus, x, y]) => {
    const vt = put('voltageTransformer', `${station} VT132`, x, y, { primaryKv: 132 });
    join([bus, 0], [vt, 0]);
    return [station, vt];
  }),
);
for (const [station, n, towards] of ends132) {
  const name = `${station} Q0${n} relay`;
  const current = idOf(`${station} CT0${n}`);
  relay(
    name,
    current,
    [idOf(`${station} Q0${n}`)],
    [freshDistance(elementId(`${idOf(name)}-21`), firstInput)],
    70,
    '',
    [
      { ...currentInput(current, towards), reversed: false },
      { id: elementId('vt'), type: 'voltage', element: voltageOf[station], towards: 1, reversed: false, star: null },
    ],
  );
}

const pairsOf = (...list: readonly (readonly [ElementId, ElementId])[]) =>
  list.map(([downstream, upstream]) => ({ downstream, upstream, wantedMarginS: null }));
const linesOf = (element: ElementId, ...lines: readonly string[]) => lines.map((line) => ({ element, line }));
elements.push(
  newChart(elementId('chart-phase'), 'Brackwater low voltage to Fernhill', {
    rank: 0,
    referenceKv: 11,
    relays: [rLv, rTl1, rInc, rT1, rCable, rFer],
    pairs: pairsOf([rLv, rTl1], [rTl1, rInc], [rInc, rT1], [rT1, rCable], [rCable, rFer]),
    limits: linesOf(idOf('BRA T1'), 'withstand'),
  }),
  newChart(elementId('chart-earth'), 'Brackwater 11 kV, earth', {
    rank: 1,
    mode: 'earth',
    referenceKv: 11,
    relays: [rTl1, rInc],
    pairs: pairsOf([rTl1, rInc]),
  }),
  newChart(elementId('chart-spurs'), 'Pennywell recloser and spurs', {
    rank: 2,
    referenceKv: 11,
    relays: [idOf('PEN F1'), idOf('PEN F2'), idOf('PEN R1')],
    pairs: pairsOf([idOf('PEN F1'), idOf('PEN R1')], [idOf('PEN F2'), idOf('PEN R1')]),
    limits: linesOf(idOf('Pole 2'), 'withstand', 'inrush'),
  }),
  newChart(elementId('chart-board'), 'Brackwater low-voltage board', {
    rank: 3,
    referenceKv: 0.4,
    relays: [idOf('BRA F51'), idOf('BRA F52'), idOf('BRA F53'), rLv, rTl1],
    // Below the relay of the incomer stand links and releases, whose bands hold all that they do.
    pairs: pairsOf([idOf('BRA F51'), rLv], [idOf('BRA F52'), rLv], [idOf('BRA F53'), rLv], [rLv, rTl1]).map(
      (pair, k) => (k < 3 ? { ...pair, wantedMarginS: 0.05 } : pair),
    ),
    limits: [...linesOf(idOf('BRA TL1'), 'withstand'), ...linesOf(idOf('Dosing cable'), 'conductor')],
  }),
  newChart(elementId('chart-pumps'), 'High-pressure pumps', {
    rank: 4,
    referenceKv: 11,
    relays: [pumps[0], rInc],
    pairs: pairsOf([pumps[0], rInc]),
    limits: linesOf(idOf('BRA P1'), 'start'),
  }),
  newChart(elementId('chart-pair'), 'FER-BRA, both ends', {
    rank: 5,
    referenceKv: 33,
    relays: [rBack1, rBack2, rCable, rCable2],
    pairs: pairsOf([rBack1, rCable2], [rBack2, rCable]),
    limits: linesOf(idOf('FER-BRA 1'), 'conductor', 'load'),
  }),
  newChart(elementId('chart-rural'), 'Pennywell to Fernhill', {
    rank: 6,
    referenceKv: 11,
    relays: [idOf('PEN R1'), rPen, rRadial, rFer],
    pairs: pairsOf([idOf('PEN R1'), rPen], [rPen, rRadial], [rRadial, rFer]),
    limits: linesOf(idOf('PEN T1'), 'withstand', 'inrush'),
  }),
  {
    ...maximumSources,
    id: elementId('cable-out'),
    name: 'FER-BRA 1 out',
    note: 'One of the two 33 kV cables to Brackwater is taken out for work and earthed.',
    limits: 'emergency',
    open: [idOf('FER Q31'), idOf('BRA Q01')],
    earthed: [idOf('FER-BRA 1')],
  },
  {
    ...minimumSources,
    id: elementId('coupler-open'),
    name: 'Night, coupler open',
    note: 'Brackwater runs with its 11 kV sections apart and without the gas engine.',
    open: [coupler],
    stopped: [gas],
  },
);

// --- Direct current at Fernhill ---------------------------------------------------------------------------------------
elements.push({ kind: 'page', id: elementId('page-fernhill-dc'), name: 'Fernhill 110 V' } as ElementOf<'page'>);
const dcPage = { page: elementId('page-fernhill-dc') };
const dcArc = { ...usualArcPlace, gapMm: 13 };
const dc1 = put('bus', 'FER DC 1', 0, 160, {
  ...dcPage,
  system: 'dc',
  nominalKv: 0.11,
  ratedA: 250,
  length: 420,
  arc: dcArc,
});
const dc2 = put('bus', 'FER DC 2', 200, 480, {
  ...dcPage,
  system: 'dc',
  nominalKv: 0.11,
  ratedA: 100,
  length: 360,
  arc: dcArc,
});
const battery = put('battery', 'FER battery', 60, 40, {
  ...dcPage,
  turn: 180,
  cells: 54,
  capacityAh: 160,
  cellV: 2.05,
  cellMohm: 0.85,
  dischargedV: 1.85,
  connectorMohm: 0.04,
  note: '160 Ah, vented lead-acid, in the relay room.',
});
const link = (name: string, linkA: number, x: number, y: number) =>
  put('switch', name, x, y, {
    ...dcPage,
    type: 'fuse',
    ratedKv: 0.25,
    ratedA: linkA,
    breakingKa: 25,
    functions: [{ ...own('fuse', name, 'gG'), linkA }],
  });
const miniature = (name: string, ratedA: number, x: number, y: number) =>
  put('switch', name, x, y, {
    ...dcPage,
    ratedKv: 0.22,
    ratedA,
    breakingKa: 6,
    functions: [{ ...own('miniature', name, 'C'), system: 'dc', ratedA }],
  });
const dcCable = (name: string, x: number, y: number, lengthM: number, sectionMm2: number) =>
  put('directCable', name, x, y, { ...dcPage, lengthM, sectionMm2 });
const dcLoad = (name: string, x: number, y: number, powerW: number, over: Partial<ElementOf<'directLoad'>> = {}) =>
  put('directLoad', name, x, y, { ...dcPage, powerW, ...over });
run(battery, [link('FER F90', 100, 60, 120)], dc1);
const charger = put('rectifier', 'FER charger', 300, 40, {
  ...dcPage,
  ratedA: 40,
  limitPercent: 110,
  floatV: 121,
  note: 'Holds the battery at 2.24 V a cell; gives no more than 44 A.',
});
join([charger, 1], [link('FER F94', 63, 300, 120), 0]);
join([idOf('FER F94'), 1], [dc1, 0]);
run(
  dc1,
  [miniature('FER Q92', 16, 60, 200), dcCable('FER WD1', 60, 270, 18, 6)],
  dcLoad('Protection 33 kV', 60, 340, 600),
);
run(
  dc1,
  [miniature('FER Q93', 20, 180, 200), dcCable('FER WD2', 180, 270, 55, 4)],
  dcLoad('Trip coils 33 kV', 180, 340, 900, { behaves: 'constantImpedance', lowestPercent: 70 }),
);
run(dc1, [link('FER F95', 50, 300, 200), dcCable('FER WD3', 300, 330, 42, 16)], dc2);
run(
  dc2,
  [miniature('FER Q96', 10, 240, 520), dcCable('FER WD4', 240, 590, 12, 2.5)],
  dcLoad('Protection 132 kV', 240, 660, 450),
);
run(
  dc2,
  [miniature('FER Q97', 16, 370, 520), dcCable('FER WD5', 370, 590, 90, 4)],
  dcLoad('Trip coils 132 kV', 370, 660, 1100, { behaves: 'constantImpedance', lowestPercent: 70 }),
);
const springs = put('directMotor', 'Spring motors', 500, 660, {
  ...dcPage,
  ratedV: 110,
  ratedA: 12,
  armatureMohm: 900,
  armatureMh: 8,
});
run(dc2, [miniature('FER Q98', 16, 500, 520), dcCable('FER WD6', 500, 590, 60, 6)], springs);

// --- Towers of the 132 kV lines and earthing of the stations ----------------------------------------------------------
const tower132 = elementId('tower-132');
const phaseOn = (circuit: number, phase: number, xM: number, heightM: number) => ({
  ...{ circuit, phase, xM, heightM, rOhmPerKm: 0.118, gmrMm: 9.2, radiusMm: 11.5, bundle: 1, bundleSpacingMm: 0 },
  ...{ sectionMm2: 240, metal: 'aluminium' as const },
});
const shieldWire = (heightM: number) => ({
  ...{ circuit: 0, phase: 0, xM: 0, heightM, rOhmPerKm: 0.36, gmrMm: 7.2, radiusMm: 8, bundle: 1, bundleSpacingMm: 0 },
  sectionMm2: 80,
  metal: 'aluminium' as const,
});
const tower132single = elementId('tower-132-single');
elements.push(
  {
    kind: 'tower',
    id: tower132,
    name: '132 kV double circuit',
    earthResistivityOhmM: 120,
    conductors: [
      ...[1, 2, 3].map((phase) => phaseOn(1, phase, phase === 2 ? -5.6 : -4.2, 26 - 4 * phase)),
      ...[1, 2, 3].map((phase) => phaseOn(2, phase, phase === 2 ? 5.6 : 4.2, 26 - 4 * phase)),
      shieldWire(27.5),
    ],
  },
  {
    kind: 'tower',
    id: tower132single,
    name: '132 kV single circuit',
    earthResistivityOhmM: 120,
    conductors: [
      ...[1, 2, 3].map((phase) => phaseOn(1, phase, phase === 2 ? 4.1 : -3.8, 24 - 3 * phase)),
      shieldWire(26),
    ],
  },
);
const towers132 = (tower: typeof tower132) => ({ ...usualStretch, tower, spanM: 285, footingOhm: 14 });
/** By the name of a line: what returns current along it. */
const returnPaths: Readonly<Record<string, ReturnPath>> = {
  'CAU-FER 1': { ...usualPath, stretches: [towers132(tower132)] },
  'CAU-FER 2': { ...usualPath, circuit: 2, along: elementId('cau-fer-1') },
  'TOL-CAU': { ...usualPath, stretches: [towers132(tower132single)] },
  'QUE-TOL': { ...usualPath, stretches: [towers132(tower132single)] },
  'MAR-QUE': { ...usualPath, stretches: [towers132(tower132single)] },
  'QUE spur': { ...usualPath, stretches: [towers132(tower132single)] },
  // The last kilometres before Marrow Head go over rock.
  'FER-MAR': {
    ...usualPath,
    stretches: [
      { ...towers132(tower132single), spread: 1.4 },
      { ...towers132(tower132single), lengthKm: 3.4, soilOhmM: 900, footingOhm: 48, spread: 1.4, seed: 2 },
    ],
  },
  ...Object.fromEntries(
    [1, 2].map((n) => [
      `FER-BRA ${n}`,
      {
        ...usualPath,
        stretches: [{ ...usualStretch, kind: 'cable' as const, soilOhmM: 120, footingOhm: null, sheath: usualSheath }],
      },
    ]),
  ),
};
const typedEarthing = (rOhm: number): StationEarthing => ({
  ...{ rOhm, xOhm: 0, electrode: null, surfaceOhmM: 0, surfaceM: 0 },
});
const earthings: Readonly<Record<string, StationEarthing>> = {
  'CAU 132': typedEarthing(0.31),
  'FER 132': { ...typedEarthing(0.42), surfaceOhmM: 3000, surfaceM: 0.1 },
  'MAR 132': typedEarthing(0.88),
  'TOL 132': typedEarthing(0.65),
  'QUE 11': typedEarthing(1.2),
  'BRA 33': {
    ...typedEarthing(0),
    electrode: {
      kind: 'grid',
      formula: 'sverak',
      soil: { upperOhmM: 120, lowerOhmM: null, thicknessM: null },
      ...{ lengthM: 70, widthM: 45, depthM: 0.7, conductorM: 980, wireMm: 10.5, rods: 12, rodM: 3, rodMm: 20 },
    },
  },
};
for (const [k, element] of elements.entries()) {
  if (element.kind === 'line' && returnPaths[element.name])
    elements[k] = { ...element, returnPath: returnPaths[element.name] };
  if (element.kind === 'bus' && earthings[element.name])
    elements[k] = { ...element, stationEarthing: earthings[element.name] };
}
elements.push({
  kind: 'earthStudy',
  id: elementId('earth-fernhill'),
  name: 'Fernhill by hand',
  note: 'Currents rounded, footings all alike: what the hand calculation in the description of the method follows.',
  hub: { name: 'Fernhill', earthing: typedEarthing(0.42) },
  local: { currentA: 0, degrees: 0 },
  stations: [
    { id: elementId('far-1'), name: 'Causeway', earthing: typedEarthing(0.31) },
    { id: elementId('far-2'), name: 'Marrow Head', earthing: typedEarthing(0.88) },
  ],
  lines: [
    {
      id: elementId('to-causeway'),
      name: 'to Causeway',
      station: elementId('far-1'),
      lengthKm: 24.3,
      currentA: 3000,
      degrees: -78,
      path: { ...usualPath, stretches: [towers132(tower132)] },
    },
    {
      id: elementId('to-marrow-head'),
      name: 'to Marrow Head',
      station: elementId('far-2'),
      lengthKm: 31.6,
      currentA: 1300,
      degrees: -76,
      path: { ...usualPath, stretches: [towers132(tower132single)] },
    },
  ],
  xOverR: 6,
  durationS: 0.5,
});

/** Distance relays with the reaches that the rulebook asks for. */
function reached(list: readonly Element[]): Element[] {
  const rows = finished(reachPlan(new Studies(networkOf(list)), { merged: false, fromKv: 50 }));
  return list.map((element) => {
    const row = rows.find(({ relay: at }) => at?.fn && at.device.id === element.id);
    const set = row?.relay && withReaches(row.relay, row);
    return set && element.kind === 'relay'
      ? { ...element, functions: element.functions.map((each) => (each.id === set.id ? set : each)) }
      : element;
  });
}

export const demoProject = {
  name: 'Sorrel Island',
  notes:
    'Sorrel Island and all that stands here is invented. What each part is there to show: the double circuit CAU-FER for mutual zero-sequence ' +
    'coupling (zone 1 sees too far when the other circuit is out and earthed, zone 2 too short when it is in service); the 132 kV ring with a tee at Quern Mill for meshed fault currents and distance reaches; the parallel cables FER-BRA for ' +
    'direction, with directional relays at Brackwater; the works at Brackwater for machines, a chain of overcurrent devices from the low-voltage board to the Fernhill transformer and resistor-earthed 11 and 33 kV; ' +
    'Gale Point for a wind farm with full converters, whose fault current is limited; Pennywell for a recloser with fuses on a rural feeder; differential protection of the double circuit, of the line with the tap and of the Fernhill transformers, and three kept trials, one of which comes out wrong. ' +
    'Tap changers hold the voltages in the load flow. Ratings: a breaker at Brackwater breaks too little (F51), another and the 11 kV board are marginal, Quern Mill’s board is not known. Grading: two settings are wrong on purpose, see the guided tour in the guide. Direct current: the 110 V battery of the relay room at Fernhill, on a page of its own. Low voltage: the board of the filter gallery at Brackwater with a dozen circuits, on a page of its own; the cable of the flocculation pump is too long. Two conditions of its own: a cable to Brackwater out for work, and the works at night.',
  elements: withCircuits(withDifferential(reached(rated(elements)))),
};
