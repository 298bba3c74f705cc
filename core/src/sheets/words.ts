/** What stands above and behind figures on a sheet, in the language of whoever enters them. */
import type { SheetLanguage } from '../model/sheetSettings';

export interface SheetWords {
  readonly function: string;
  readonly setting: string;
  readonly value: string;
  readonly primary: string;
  readonly secondary: string;
  readonly range: string;
  readonly step: string;
  /** Of a delay. */
  readonly second: string;
  readonly ohm: string;
  readonly timesRated: string;
  readonly timesBase: string;
  readonly decimal: '.' | ',';
}

export const sheetWords: Readonly<Record<SheetLanguage, SheetWords>> = {
  en: {
    function: 'Function',
    setting: 'Setting',
    value: 'Value',
    primary: 'primary',
    secondary: 'secondary',
    range: 'from … to',
    step: 'step',
    second: 's',
    ohm: 'Ω',
    timesRated: '× In',
    timesBase: '× base',
    decimal: '.',
  },
  de: {
    function: 'Funktion',
    setting: 'Einstellung',
    value: 'Wert',
    primary: 'primär',
    secondary: 'sekundär',
    range: 'von … bis',
    step: 'Stufe',
    second: 's',
    ohm: 'Ω',
    timesRated: '× In',
    timesBase: '× Bezug',
    decimal: ',',
  },
  fr: {
    function: 'Fonction',
    setting: 'Réglage',
    value: 'Valeur',
    primary: 'primaire',
    secondary: 'secondaire',
    range: 'de … à',
    step: 'pas',
    second: 's',
    ohm: 'Ω',
    timesRated: '× In',
    timesBase: '× base',
    decimal: ',',
  },
  es: {
    function: 'Función',
    setting: 'Ajuste',
    value: 'Valor',
    primary: 'primario',
    secondary: 'secundario',
    range: 'de … a',
    step: 'paso',
    second: 's',
    ohm: 'Ω',
    timesRated: '× In',
    timesBase: '× base',
    decimal: ',',
  },
};

/** A figure with its unit as a technician reads it. */
export function inWords(words: SheetWords, value: number | string, unit: string, figures = 5): string {
  if (typeof value === 'string') return value;
  const named =
    unit === '× In'
      ? words.timesRated
      : unit === '× base'
        ? words.timesBase
        : unit === 's'
          ? words.second
          : unit === 'Ω'
            ? words.ohm
            : unit;
  return `${String(Number(value.toPrecision(figures))).replace('.', words.decimal)}${named && ` ${named}`}`;
}
