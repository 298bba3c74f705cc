/** What a label at a board says, as plain data: texts by language, sizes and sheets. */
import { settingsOf, type Network } from '../model/network';
import { clothingFor, shockBoundaries } from './clothing';
import { clearedBy, type ArcLine } from './table';

/** Sizes in mm; several on a sheet of A4, or one on a sheet of its own size. */
export interface LabelSheet {
  readonly title: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly columns: number;
  readonly rows: number;
  /** From the edge of the sheet to the first label, and between two. */
  readonly left: number;
  readonly top: number;
  readonly between: number;
}

export const labelLayouts = {
  single: {
    title: 'one a sheet, 150 × 100 mm',
    widthMm: 150,
    heightMm: 100,
    columns: 1,
    rows: 1,
    left: 0,
    top: 0,
    between: 0,
  },
  a4x4: {
    title: 'A4, 2 × 2 of 99 × 139 mm',
    widthMm: 99.1,
    heightMm: 139,
    columns: 2,
    rows: 2,
    left: 4.65,
    top: 8,
    between: 2.5,
  },
  a4x8: {
    title: 'A4, 2 × 4 of 99 × 68 mm',
    widthMm: 99.1,
    heightMm: 67.7,
    columns: 2,
    rows: 4,
    left: 4.65,
    top: 13,
    between: 2.5,
  },
} as const satisfies Record<string, LabelSheet>;
export type LabelLayout = keyof typeof labelLayouts;
export const labelLayoutNames = Object.keys(labelLayouts) as [LabelLayout, ...LabelLayout[]];

/** Words of a label; another language is another column. */
interface LabelWords {
  readonly language: string;
  readonly danger: string;
  readonly warning: string;
  readonly hazard: string;
  readonly energy: string;
  readonly at: string;
  readonly boundary: string;
  readonly clothing: string;
  readonly noWork: string;
  readonly shock: string;
  readonly limited: string;
  readonly restricted: string;
  readonly avoid: string;
  readonly remembered: string;
  readonly direct: string;
  readonly maintenance: string;
}

export const labelWords = {
  en: {
    language: 'English',
    danger: 'DANGER',
    warning: 'WARNING',
    hazard: 'Arc flash and shock hazard',
    energy: 'Incident energy',
    at: 'at',
    boundary: 'Arc-flash boundary',
    clothing: 'Wear',
    noWork: 'no work on it while energised',
    shock: 'Voltage',
    limited: 'Limited approach',
    restricted: 'Restricted approach',
    avoid: 'avoid contact',
    remembered: 'coefficients not confirmed against the standard',
    direct: 'd.c.',
    maintenance: 'only with the maintenance setting on',
  },
  de: {
    language: 'Deutsch',
    danger: 'GEFAHR',
    warning: 'WARNUNG',
    hazard: 'Störlichtbogen und elektrischer Schlag',
    energy: 'Einfallende Energie',
    at: 'bei',
    boundary: 'Grenze der Störlichtbogenzone',
    clothing: 'Schutzkleidung',
    noWork: 'keine Arbeiten unter Spannung',
    shock: 'Spannung',
    limited: 'Annäherungszone',
    restricted: 'Gefahrenzone',
    avoid: 'nicht berühren',
    remembered: 'Koeffizienten nicht an der Norm bestätigt',
    direct: 'DC',
    maintenance: 'nur mit eingeschalteter Wartungseinstellung',
  },
  fr: {
    language: 'Français',
    danger: 'DANGER',
    warning: 'AVERTISSEMENT',
    hazard: 'Arc électrique et choc électrique',
    energy: 'Énergie incidente',
    at: 'à',
    boundary: 'Limite de protection contre l’arc',
    clothing: 'Vêtements',
    noWork: 'aucun travail sous tension',
    shock: 'Tension',
    limited: 'Approche limitée',
    restricted: 'Approche restreinte',
    avoid: 'éviter tout contact',
    remembered: 'coefficients non confirmés par la norme',
    direct: 'CC',
    maintenance: 'seulement avec le réglage de maintenance',
  },
} as const satisfies Record<string, LabelWords>;
export type LabelLanguage = keyof typeof labelWords;
export const labelLanguages = Object.keys(labelWords) as [LabelLanguage, ...LabelLanguage[]];

export interface ArcLabel {
  readonly place: string;
  readonly isDanger: boolean;
  readonly signal: string;
  /** Under which circumstances alone it holds. */
  readonly only: string | null;
  readonly hazard: string;
  /** Name and value. */
  readonly facts: readonly (readonly [string, string])[];
  /** In small: method, what ends the arc, mark. */
  readonly notes: readonly string[];
  /** For a code that a phone reads. */
  readonly code: string;
}

const figure = (value: number, digits = 3) => String(Number(value.toPrecision(digits)));

/** What a line of one's own says at a place. */
const filled = (network: Network, line: ArcLine, text: string): string => {
  const bus = network.elements.get(line.bus);
  const values: Readonly<Record<string, string>> = {
    place: line.name,
    note: bus && 'note' in bus ? bus.note : '',
    source: clearedBy(line),
  };
  return text.replace(/\{(place|note|source)\}/g, (_, name: string) => values[name]);
};

/** Null where nothing feeds an arc; `maintenance`: with the maintenance settings on. */
export function arcLabel(
  network: Network,
  line: ArcLine,
  language: LabelLanguage,
  maintenance = false,
): ArcLabel | null {
  const { worst, voltageKv, distanceMm, name: place, system, longestS } = line;
  if (!worst) return null;
  const words = labelWords[language];
  const { clothing, limitCal, labelLines } = settingsOf(network).arc;
  const step = clothingFor(clothing, worst.energy);
  const isDanger = step === null || worst.cal > limitCal;
  const shock = shockBoundaries(voltageKv, system);
  const metres = (m: number) => `${figure(m)} m`;
  const { clearedBy: by } = worst;
  const energy = `${figure(worst.cal)} cal/cm² ${words.at} ${figure(distanceMm)} mm`;
  const boundary = metres(Math.ceil(worst.boundaryMm / 10) / 100);
  return {
    place,
    isDanger,
    signal: isDanger ? words.danger : words.warning,
    only: maintenance ? words.maintenance : null,
    hazard: words.hazard,
    facts: [
      [words.energy, energy],
      [words.boundary, boundary],
      [words.clothing, step && !isDanger ? step.wear : words.noWork],
      [
        words.shock,
        `${voltageKv < 1 ? `${figure(1000 * voltageKv)} V` : `${figure(voltageKv)} kV`}${system === 'dc' ? ` ${words.direct}` : ''}`,
      ],
      ...(shock
        ? ([
            [words.limited, metres(shock.limitedM)],
            [words.restricted, shock.restrictedM === null ? words.avoid : metres(shock.restrictedM)],
          ] as const)
        : []),
      ...labelLines.map(({ title, text }): readonly [string, string] => [title, filled(network, line, text)]),
    ],
    notes: [
      `${worst.method}${worst.confirmed ? '' : `, ${words.remembered}`}`,
      ...(by ? [`${by.name}, ${by.code}: ${figure(worst.burnsS)} s`] : [`${figure(longestS)} s`]),
    ],
    code: `${place}; ${energy}; ${boundary}`,
  };
}
