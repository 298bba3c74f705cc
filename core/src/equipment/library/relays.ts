/**
 * Generic overcurrent relays by their generation: what functions one usually has, and the ranges and steps of its panel. Typical of practice; what counts is the
 * manual of the relay that is there.
 */
import type { SettingRange } from '../../model/deviceFunction';
import { genericRelays } from '../../protection/overcurrent/library';
import type { FunctionCode } from '../../protection/overcurrent/schema';
import { shipped, type LibraryEntry } from '../entry';
import { relayTypeData, type DistanceOffer, type Panel, type Ranges } from '../relayType';

const range = (min: number, max: number, step: number): SettingRange => ({ min, max, step });
const like = (title: string): Ranges => genericRelays.find((each) => each.title === title)!.ranges;

const numerical = like('Numerical feeder relay');
const disc = like('Electromechanical disc relay');
const everyCode: readonly FunctionCode[] = ['51', '50', '51N', '50N', '46'];
const highSet = (ranges: Ranges): Ranges => ({ ...ranges, delayS: range(0, 0.1, 0.05) });

const types: readonly (readonly [
  id: string,
  title: string,
  panel: Panel,
  functions: readonly (readonly [FunctionCode, Ranges])[],
])[] = [
  ['numerical', 'Numerical feeder relay', 'rated', everyCode.map((code) => [code, numerical])],
  [
    'disc',
    'Electromechanical disc relay',
    'rated',
    [
      ['51', disc],
      ['51N', { ...disc, pickup: range(0.1, 0.8, 0.1) }],
    ],
  ],
  [
    'disc-instantaneous',
    'Electromechanical disc relay with instantaneous element',
    'rated',
    [
      ['51', disc],
      ['50', highSet({ ...disc, pickup: range(2, 16, 1) })],
      ['51N', { ...disc, pickup: range(0.1, 0.8, 0.1) }],
      ['50N', highSet({ ...disc, pickup: range(1, 8, 0.5) })],
    ],
  ],
  [
    'static',
    'Static relay with switches',
    'rated',
    (['51', '51N'] as const)
      .map(
        (code) =>
          [
            code,
            {
              pickup: code === '51' ? range(0.5, 2.5, 0.05) : range(0.05, 0.8, 0.05),
              timeMultiplier: range(0.05, 1, 0.05),
              delayS: range(0.05, 10, 0.05),
            },
          ] as const,
      )
      .concat(
        (['50', '50N'] as const).map((code) => [
          code as never,
          {
            pickup: code === '50' ? range(1, 20, 0.5) : range(0.5, 10, 0.5),
            timeMultiplier: range(0.05, 1, 0.05),
            delayS: range(0, 1, 0.05),
          },
        ]),
      ),
  ],
  [
    'numerical-secondary',
    'Numerical relay, settings in secondary amperes',
    'secondary',
    everyCode.map((code) => [
      code,
      {
        pickup: code.startsWith('50') ? range(0.25, 100, 0.05) : range(0.1, 16, 0.01),
        timeMultiplier: range(0.05, 15, 0.01),
        delayS: range(0, 100, 0.01),
      },
    ]),
  ],
  [
    'self-powered',
    'Self-powered relay of ring-main switchgear',
    'rated',
    [
      ['51', { pickup: range(0.8, 2, 0.05), timeMultiplier: range(0.05, 1.2, 0.05), delayS: range(0.04, 5, 0.02) }],
      ['50', { pickup: range(1, 20, 0.5), timeMultiplier: range(0.05, 1.2, 0.05), delayS: range(0.04, 1, 0.02) }],
      ['51N', { pickup: range(0.1, 0.8, 0.05), timeMultiplier: range(0.05, 1.2, 0.05), delayS: range(0.04, 5, 0.02) }],
    ],
  ],
];

/** Generic distance relays: what one of each generation commonly offers. */
const distanceTypes: readonly (readonly [
  id: string,
  title: string,
  distance: DistanceOffer,
  codes: readonly FunctionCode[],
])[] = [
  [
    'distance-numerical',
    'Numerical distance relay',
    {
      characteristics: ['mho', 'offsetMho', 'quadrilateral'],
      zones: 5,
      overreach: true,
      starting: ['overcurrent', 'underimpedance'],
      compensation: ['factor', 'apart'],
      parallel: true,
      loadCut: true,
      voltageFailure: true,
      onClosing: true,
      ranges: { ohm: range(0.05, 500, 0.01), delayS: range(0, 10, 0.01) },
    },
    ['51', '50', '51N', '50N', '67', '67N', '46'],
  ],
  [
    'distance-static',
    'Static distance relay, three circles',
    {
      characteristics: ['mho'],
      zones: 3,
      overreach: false,
      starting: ['overcurrent'],
      compensation: ['factor'],
      parallel: false,
      loadCut: false,
      voltageFailure: false,
      onClosing: true,
      ranges: { ohm: range(0.2, 60, 0.1), delayS: range(0, 5, 0.05) },
    },
    [],
  ],
];

export const relays: readonly LibraryEntry[] = [
  ...types.map(([id, title, panel, functions]) =>
    shipped(
      `relay-${id}`,
      'relay',
      title,
      relayTypeData({ panel, functions: new Map(functions), distance: null }),
      'typical',
      false,
    ),
  ),
  ...distanceTypes.map(([id, title, distance, codes]) =>
    shipped(
      `relay-${id}`,
      'relay',
      title,
      relayTypeData({ panel: 'rated', functions: new Map(codes.map((code) => [code, numerical])), distance }),
      'typical',
      false,
    ),
  ),
];
