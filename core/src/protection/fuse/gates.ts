/**
 * Gates of fuse links by class and rated current, all as remembered of the standards; `recalled` says so wherever they are used.
 * gG: IEC 60269-1, Table 3 (currents) and Table 7 (pre-arcing I²t at 0.01 s), IEC 60269-2 (I²t of selective links); aM: IEC 60269-1, Table 4; K and T: IEEE C37.42 (melting currents).
 */

/**
 * Of a gG link, in amperes: does not melt within 10 s; melts within 5 s; does not melt within 0.1 s; melts within 0.1 s;
 * then least and most kA²s to melt at 0.01 s; least A²s to melt and most to let through by which links are
 * selective (IEC 60269-2). */
type GgRow = readonly [
  ratedA: number,
  min10S: number,
  max5S: number,
  min01S: number,
  max01S: number,
  minKa2s: number,
  maxKa2s: number,
  meltingA2s: number,
  throughA2s: number,
];

export const ggGates: readonly GgRow[] = [
  [16, 33, 65, 85, 150, 0.3, 1, 291, 1210],
  [20, 42, 85, 110, 200, 0.5, 1.8, 640, 2500],
  [25, 52, 110, 150, 260, 1, 3, 1210, 4000],
  [32, 75, 150, 200, 350, 1.8, 5, 2500, 5750],
  [40, 95, 190, 260, 450, 3, 9, 4000, 9000],
  [50, 125, 250, 350, 610, 5, 16, 5750, 13700],
  [63, 160, 320, 450, 820, 9, 27, 9000, 21200],
  [80, 215, 425, 610, 1100, 16, 46, 13700, 36000],
  [100, 290, 580, 820, 1450, 27, 86, 21200, 64000],
  [125, 355, 715, 1100, 1910, 46, 140, 36000, 104000],
  [160, 460, 950, 1450, 2590, 86, 250, 64000, 185000],
  [200, 610, 1250, 1910, 3420, 140, 400, 104000, 302000],
  [250, 750, 1650, 2590, 4500, 250, 760, 185000, 557000],
  [315, 1050, 2200, 3420, 6000, 400, 1300, 302000, 900000],
  [400, 1420, 2840, 4500, 8060, 760, 2250, 557000, 1600000],
  [500, 1780, 3800, 6000, 10600, 1300, 3800, 900000, 2700000],
  [630, 2200, 5100, 8060, 14140, 2250, 7500, 1600000, 5470000],
  [800, 3060, 7000, 10600, 19000, 3800, 13600, 2700000, 10000000],
  [1000, 4000, 9500, 14140, 24000, 7840, 25000, 5470000, 17400000],
  [1250, 5000, 13000, 19000, 35000, 13700, 47000, 10000000, 33100000],
];

/** Conventional time of gG links in seconds, by rated current: IEC 60269-1, Table 2. */
export const conventionalTimeS = (ratedA: number): number =>
  ratedA <= 63 ? 3600 : ratedA <= 160 ? 7200 : ratedA <= 400 ? 10800 : 14400;

/** Multiples of the rated current at which a gG link carries, and melts, within the conventional time. */
export const ggConventional = { carries: 1.25, melts: 1.6 } as const;

/** Multiples of the rated current of aM links and seconds: does not melt before, has melted by. */
export const amGates = {
  carries: [
    [4, 60],
    [8, 0.5],
    [10, 0.2],
  ],
  melts: [
    [6.3, 60],
    [12.5, 0.5],
    [19, 0.1],
  ],
} as const;

/** Of an expulsion link, in amperes: least and most to melt in 300 s (up to 100 A; beyond, 600 s), in 10 s, in 0.1 s. */
type ExpulsionRow = readonly [
  ratedA: number,
  longMin: number,
  longMax: number,
  min10S: number,
  max10S: number,
  min01S: number,
  max01S: number,
];

export const kLinks: readonly ExpulsionRow[] = [
  [6, 12, 14.4, 13.5, 20.5, 72, 86],
  [8, 15, 18, 18, 27, 97, 116],
  [10, 19.5, 23.4, 22.5, 34, 128, 154],
  [12, 25, 30, 29.5, 44, 166, 199],
  [15, 31, 37.2, 37, 55, 215, 258],
  [20, 39, 47, 48, 71, 273, 328],
  [25, 50, 60, 60, 90, 350, 420],
  [30, 63, 76, 77.5, 115, 447, 546],
  [40, 80, 96, 98, 146, 565, 680],
  [50, 101, 121, 126, 188, 719, 862],
  [65, 128, 153, 159, 237, 918, 1100],
  [80, 160, 192, 205, 307, 1180, 1420],
  [100, 200, 240, 258, 388, 1520, 1820],
  [140, 310, 372, 430, 650, 2470, 2970],
  [200, 480, 576, 760, 1150, 3880, 4650],
];

export const tLinks: readonly ExpulsionRow[] = [
  [6, 12, 14.4, 15.3, 23, 120, 144],
  [8, 15, 18, 20.5, 31, 166, 199],
  [10, 19.5, 23.4, 26.5, 40, 224, 269],
  [12, 25, 30, 34.5, 52, 296, 355],
  [15, 31, 37.2, 44.5, 67, 388, 466],
  [20, 39, 47, 57, 85, 496, 595],
  [25, 50, 60, 73.5, 109, 635, 762],
  [30, 63, 76, 93, 138, 812, 975],
  [40, 80, 96, 120, 178, 1040, 1240],
  [50, 101, 121, 152, 226, 1310, 1570],
  [65, 128, 153, 195, 291, 1650, 1975],
  [80, 160, 192, 248, 370, 2080, 2500],
  [100, 200, 240, 319, 475, 2620, 3150],
  [140, 310, 372, 520, 775, 4000, 4800],
  [200, 480, 576, 850, 1275, 6250, 7470],
];

/** Speed ratio of an expulsion link: least melting current at 0.1 s over that at 300 s (beyond 100 A: 600 s); IEEE C37.42. */
export const speedRatio = (longMinA: number, min01SA: number): number => min01SA / longMinA;

/** Rated currents of back-up links as they are made, amperes (R10 series and what is common beside). */
export const backupRatedA: readonly number[] = [6.3, 10, 16, 20, 25, 31.5, 40, 50, 63, 80, 100, 125, 160, 200, 250];
