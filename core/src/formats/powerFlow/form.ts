/**
 * The IEEE common data format for solved power-flow cases: cards of 128 columns. "Common Format for Exchange of Solved Load Flow Data", IEEE Transactions on Power Apparatus and
 * Systems, PAS-92, no. 6, 1973; columns as remembered.
 */

/** First and last column, counted from 1, as the paper does. */
type Columns = readonly [number, number];

export const titleCard = {
  date: [2, 9],
  originator: [11, 30],
  baseMva: [32, 37],
  year: [39, 42],
  season: [44, 44],
  caseName: [46, 73],
} as const satisfies Record<string, Columns>;

export const busCard = {
  number: [1, 4],
  name: [6, 17],
  area: [19, 20],
  zone: [21, 23],
  type: [25, 26],
  voltage: [28, 33],
  angle: [34, 40],
  loadMw: [41, 49],
  loadMvar: [50, 59],
  generationMw: [60, 67],
  generationMvar: [68, 75],
  baseKv: [77, 83],
  desiredVoltage: [85, 90],
  maxMvar: [91, 98],
  minMvar: [99, 106],
  shuntG: [107, 114],
  shuntB: [115, 122],
  remoteBus: [124, 127],
} as const satisfies Record<string, Columns>;

export const branchCard = {
  tapBus: [1, 4],
  zBus: [6, 9],
  area: [11, 12],
  zone: [13, 15],
  circuit: [17, 17],
  type: [19, 19],
  r: [20, 29],
  x: [30, 40],
  b: [41, 50],
  rating1: [51, 55],
  rating2: [57, 61],
  rating3: [63, 67],
  controlBus: [69, 72],
  side: [74, 74],
  ratio: [77, 82],
  shiftDegrees: [84, 90],
  minTap: [91, 97],
  maxTap: [98, 104],
  step: [106, 111],
  low: [113, 119],
  high: [120, 127],
} as const satisfies Record<string, Columns>;

export type Card = Readonly<Record<string, Columns>>;
export const textIn = (line: string, [first, last]: Columns): string => line.slice(first - 1, last).trim();

/** A field right-aligned in its columns; of a number as many digits as fit. Null: it does not fit at all. */
export function fieldText(value: string | number, [first, last]: Columns): string | null {
  const width = last - first + 1;
  if (typeof value === 'string') return value.slice(0, width).padEnd(width);
  if (Number.isInteger(value)) return String(value).length <= width ? String(value).padStart(width) : null;
  // One column stays free, so that fields never run together.
  for (let digits = 12; digits >= 0; digits--) {
    const text = value.toFixed(digits);
    if (text.length < width || (text.length === width && width <= 6)) return text.padStart(width);
  }
  return null;
}

/** Types of bus: what is held there. */
export const busTypes = { load: 0, heldMvar: 1, heldVoltage: 2, slack: 3 } as const;

/** Types of branch: a line, then transformers by what their taps do. */
export const branchTypes = { line: 0, fixedTap: 1, voltageTap: 2, mvarTap: 3, phaseShift: 4 } as const;

export const listEnd = '-999';
