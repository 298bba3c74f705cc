/** Every colour of the application, light and dark; nothing else names one. */

export interface Palette {
  paper: string;
  panel: string;
  ink: string;
  muted: string;
  rule: string;
  accent: string;
  accentSoft: string;
  warn: string;
  warnSoft: string;
  fail: string;
  failSoft: string;
  failStrong: string;
  onFail: string;
  pass: string;
  passSoft: string;
  bar: string;
  barText: string;
  barMuted: string;
  grid: string;
  gridStrong: string;
}

export const light: Palette = {
  paper: '#F8F6F1',
  panel: '#FFFFFF',
  ink: '#1D2B36',
  muted: '#5F6B74',
  rule: '#DDD8CC',
  accent: '#0E7C6B',
  accentSoft: '#E0EFEA',
  warn: '#8F5D12',
  warnSoft: '#FBF0DA',
  fail: '#B3391F',
  failSoft: '#FBE5DF',
  failStrong: '#B3391F',
  onFail: '#FFFFFF',
  pass: '#41692C',
  passSoft: '#E7F0DE',
  bar: '#1D2B36',
  barText: '#F8F6F1',
  barMuted: '#A9B6BF',
  grid: '#EFEBE1',
  gridStrong: '#D8D2C3',
};

export const dark: Palette = {
  paper: '#12202B',
  panel: '#182935',
  ink: '#E8EDEF',
  muted: '#9DAAB3',
  rule: '#2E4250',
  accent: '#4CC2AC',
  accentSoft: '#173E3C',
  warn: '#E0A84F',
  warnSoft: '#3D3320',
  fail: '#EE8467',
  failSoft: '#46271F',
  failStrong: '#B3391F',
  onFail: '#FFFFFF',
  pass: '#9CC97F',
  passSoft: '#26391F',
  bar: '#0C161E',
  barText: '#E8EDEF',
  barMuted: '#8A99A4',
  grid: '#1F323F',
  gridStrong: '#33495A',
};

/**
 * Devices on a chart: hues that stay apart for the colour-blind, each with a dash of its own so that grey prints tell them apart.
 * `dark` are the same hues lifted.
 */
export const deviceStyles: readonly { light: string; dark: string; dash: string }[] = [
  { light: '#0E7C6B', dark: '#4CC2AC', dash: '' },
  { light: '#2A5CAA', dark: '#86AEF0', dash: '9 4' },
  { light: '#8A3F8F', dark: '#D193D6', dash: '2 3' },
  { light: '#A8480F', dark: '#F0A36C', dash: '12 4 2 4' },
  { light: '#6B5B12', dark: '#D3C068', dash: '5 3' },
  { light: '#B02A5B', dark: '#F08BB0', dash: '12 3 2 3 2 3' },
  { light: '#3B4A54', dark: '#B9C6CE', dash: '1 3' },
  { light: '#4B6B1E', dark: '#A9CF77', dash: '7 2 1 2' },
];

/** Voltage levels, low to high: one sequential scale, light brown to deep blue, readable in grey by its growing darkness. */
const levelScale = {
  light: ['#A9762F', '#7A6A3A', '#3D6B58', '#2A5A8C', '#2C3F86', '#2A2666'],
  dark: ['#E3B777', '#C9BE8C', '#8FCBB2', '#84B6EA', '#9AA8F0', '#B7A6F5'],
};
const levelSteps = [1, 7, 20, 60, 200];

export const levelColor = (nominalKv: number | null, scheme: 'light' | 'dark'): string =>
  nominalKv === null
    ? (scheme === 'light' ? light : dark).muted
    : levelScale[scheme][levelSteps.filter((step) => nominalKv > step).length];
