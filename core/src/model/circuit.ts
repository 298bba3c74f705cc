/** What of low-voltage circuits and their boards is stored: with busbars how the installation is earthed, with cables how they lie, with consumers how they are connected. */
import { z } from 'zod';
import { choice, optionalQuantity, quantity, withDefault } from './fields';

/** IEC 60364-1, 312.2. */
export const earthingSystems = ['TN-S', 'TN-C-S', 'TT', 'IT'] as const;
export type EarthingSystem = (typeof earthingSystems)[number];

/** Reference methods of installation, IEC 60364-5-52, table B.52.1. */
export const layingMethods = ['A1', 'A2', 'B1', 'B2', 'C', 'D1', 'D2', 'E'] as const;
export type LayingMethod = (typeof layingMethods)[number];

/** How circuits lie beside each other, IEC 60364-5-52, table B.52.17. */
export const bunchings = ['bunched', 'layer', 'ceiling', 'tray', 'ladder'] as const;
export type Bunching = (typeof bunchings)[number];

/** Clearances of cables in the ground, IEC 60364-5-52, tables B.52.18 and B.52.19. */
export const groundClearances = ['touching', 'diameter', '0.125 m', '0.25 m', '0.5 m', '1 m'] as const;
export type GroundClearance = (typeof groundClearances)[number];

const inGround = { shownWhen: { field: 'method', is: ['D1', 'D2'] } };
const inAir = { shownWhen: { field: 'method', is: ['A1', 'A2', 'B1', 'B2', 'C', 'E'] } };
const inside = { shownWhen: { field: 'insideMethod', is: ['B1', 'B2', 'C', 'E'] } };
const together = (title: string, extra = {}) =>
  z
    .int()
    .min(1)
    .max(200)
    .meta({ title, ...extra });
const temperature = (title: string, extra = {}) =>
  quantity(title, '°C', { min: -20, max: 90 }, { symbol: 'θa', ...extra });

/** How a cable lies, for what it may carry (IEC 60364-5-52). */
export const layingSchema = z.object({
  method: choice('Laid by method', layingMethods),
  ambientC: temperature('Surroundings', { help: 'Tables are made for 30 °C in air and 20 °C in the ground' }),
  together: together('Circuits side by side', { help: 'This one counted' }),
  bunching: choice('Beside each other', bunchings, inAir),
  clearance: choice('Clearance', groundClearances, inGround),
  soil: quantity('Soil', 'K·m/W', { min: 0.5, max: 3 }, { help: 'Thermal resistivity', ...inGround }),
  /** The first metres, in the enclosure of the board or machine; the less of both counts. */
  insideMethod: choice('In the enclosure', ['none', 'B1', 'B2', 'C', 'E']),
  insideC: temperature('Air in the enclosure', inside),
  insideTogether: together('Circuits side by side there', inside),
  peMm2: withDefault(
    optionalQuantity(
      'Protective conductor',
      'mm²',
      { above: 0, max: 1000 },
      { symbol: 'SPE', help: 'Empty: as IEC 60364-5-54, table 54.2 asks' },
    ),
    null,
  ),
});
export type Laying = z.infer<typeof layingSchema>;
export const usualLaying: Laying = {
  method: 'C',
  ambientC: 30,
  together: 1,
  bunching: 'layer',
  clearance: 'touching',
  soil: 2.5,
  insideMethod: 'none',
  insideC: 40,
  insideTogether: 1,
  peMm2: null,
};

const earthed = { shownWhen: { field: 'system', is: ['TT', 'IT'] } };
const percent = (title: string, extra = {}) => quantity(title, '%', { above: 0, max: 100 }, extra);

/** What holds for all circuits of a board. */
export const installationSchema = z.object({
  system: choice('Earthing', earthingSystems),
  rules: choice('Judged by', ['building', 'machine'], {
    help: 'IEC 60364 for installations, IEC 60204-1 for the electrical equipment of machines',
  }),
  raOhm: quantity('Electrode of the exposed parts', 'Ω', { above: 0, max: 1000 }, { symbol: 'RA', ...earthed }),
  rbOhm: quantity(
    'Electrode of the source',
    'Ω',
    { min: 0, max: 1000 },
    { symbol: 'RB', help: 'As far as the star point is drawn without it', ...earthed },
  ),
  dropPercent: percent('Voltage drop at most', { help: 'From the origin of the installation to the load' }),
  startDropPercent: percent('… while a motor starts', { help: 'With what the network drops before the board' }),
  coincidencePercent: percent('Coincidence', {
    help: 'Share of the sum of their design currents that flows at once',
  }),
});
export type Installation = z.infer<typeof installationSchema>;
export const usualInstallation: Installation = {
  system: 'TN-S',
  rules: 'building',
  raOhm: 10,
  rbOhm: 2,
  dropPercent: 5,
  startDropPercent: 15,
  coincidencePercent: 100,
};

/** Conductors that a consumer is connected to. */
export const phaseChoices = ['three', 'L1', 'L2', 'L3'] as const;
export type PhaseChoice = (typeof phaseChoices)[number];
/** What the size of a load was given by. */
export const loadGivens = ['kVA', 'kW', 'A'] as const;
export type LoadGiven = (typeof loadGivens)[number];

/** How a consumer hangs on its circuit. */
export const consumerSchema = z.object({
  phases: choice('Phases', phaseChoices),
  given: choice('Given as', loadGivens),
  use: choice('Use', ['fixed', 'sockets'], {
    help: 'Fixed, or by sockets: decides how soon a fault is cut off (IEC 60364-4-41, 411.3.2.2)',
  }),
  demandPercent: percent('Demand', { help: 'Share of its size that flows in service' }),
  startS: quantity('Start takes', 's', { min: 0, max: 60 }, { help: 'Of a motor' }),
});
export type Consumer = z.infer<typeof consumerSchema>;
export const usualConsumer: Consumer = { phases: 'three', given: 'kVA', use: 'fixed', demandPercent: 100, startS: 2 };
