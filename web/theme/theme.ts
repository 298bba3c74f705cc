/** Mantine's theme and the CSS variables, both made from the tokens. */
import { createTheme, type CSSVariablesResolver, type MantineColorsTuple } from '@mantine/core';
import { dark, light, type Palette } from './tokens';

/** Ten shades around the accent, light to dark; 6 is the accent itself. */
const verdigris: MantineColorsTuple = [
  '#e6f4f1',
  '#cfe8e2',
  '#a5d5cb',
  '#76c0b1',
  '#4fac9a',
  '#2c937f',
  '#0E7C6B',
  '#0b6a5b',
  '#08584c',
  '#04463c',
];
const brick: MantineColorsTuple = [
  '#fbe9e5',
  '#f4cfc6',
  '#e9a695',
  '#de7a62',
  '#cf5a3f',
  '#c1482b',
  '#B3391F',
  '#9a2f18',
  '#802612',
  '#661d0d',
];

/** Mantine's dark greys as ink-blue: text first, page last. */
const night: MantineColorsTuple = [
  dark.ink,
  '#C5CFD5',
  dark.muted,
  '#7B8A95',
  dark.rule,
  '#233644',
  '#1E313E',
  dark.panel,
  dark.paper,
  '#0C161E',
];

export const theme = createTheme({
  fontFamily: "'IBM Plex Sans', 'Segoe UI', sans-serif",
  fontFamilyMonospace: "'IBM Plex Mono', monospace",
  primaryColor: 'verdigris',
  primaryShade: { light: 6, dark: 5 },
  colors: { verdigris, red: brick, dark: night },
  black: light.ink,
  defaultRadius: 'sm',
  fontSizes: { xs: '11px', sm: '13px', md: '14px', lg: '16px', xl: '19px' },
  headings: { fontWeight: '600' },
  respectReducedMotion: true,
  focusRing: 'auto',
});

const variables = (palette: Palette): Record<string, string> =>
  Object.fromEntries(
    Object.entries(palette).map(([name, value]) => [
      `--m-${name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`,
      value,
    ]),
  );

const mantine = (palette: Palette): Record<string, string> => ({
  '--mantine-color-body': palette.panel,
  '--mantine-color-text': palette.ink,
  '--mantine-color-dimmed': palette.muted,
  '--mantine-color-default-border': palette.rule,
});

export const resolver: CSSVariablesResolver = () => ({
  variables: {},
  light: { ...variables(light), ...mantine(light) },
  dark: {
    ...variables(dark),
    ...mantine(dark),
    '--mantine-color-default': dark.panel,
    '--mantine-color-default-hover': dark.accentSoft,
  },
});
