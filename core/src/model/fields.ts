/** Building blocks of the element schemas: identifiers and quantities that carry their unit, so that forms, documents and the JSON Schema read from one place. */
import { z } from 'zod';

/** What a form or a document needs to know of a field beyond its type. */
export interface FieldMeta {
  title: string;
  unit?: string;
  /** Symbol of the standard, written before the value in a working. */
  symbol?: string;
  help?: string;
  /** Shown only while a sibling field has one of these values. */
  shownWhen?: { field: string; is: readonly string[] };
  /** Not part of the data form (drawing data, lists edited elsewhere). */
  hidden?: boolean;
  /** The value is the identifier of another element. */
  reference?: ReferenceMeta;
}

/** What a reference leads to, and what becomes of it: read by deletion, copying, changes and validation alike (`references.ts`). */
export interface ReferenceMeta {
  /** Kinds that it may lead to; none named: any. */
  readonly to: readonly string[];
  /** When that element goes: the whole owner goes, the entry of the list that holds the reference, or the field is emptied. */
  readonly whenGone: 'owner' | 'entry' | 'field';
  /** A copy of the owner takes that element along. */
  readonly copied?: boolean;
}

declare module 'zod' {
  // eslint-disable-next-line @typescript-eslint/no-empty-object-type -- augmentation by the documented way
  interface GlobalMeta extends Partial<FieldMeta> {}
}

interface Bounds {
  min?: number;
  max?: number;
  above?: number;
}

/** Beyond these sizes a value is a slip, whatever the field: far above anything that is built, far below what would overflow a calculation. */
const plausible: Readonly<Record<string, number>> = {
  '': 1e4,
  '%': 1e4,
  '% Un': 1e3,
  A: 1e6,
  kA: 1e3,
  V: 1e6,
  kV: 2e3,
  VA: 1e5,
  MVA: 1e5,
  MW: 1e5,
  Mvar: 1e5,
  km: 1e4,
  s: 1e5,
  '°': 1e3,
  '°C': 1e3,
  'µS/km': 1e6,
  '× In': 1e3,
  '×': 1e3,
  '× base': 1e3,
  '× pickup': 1000,
  '× Ir': 1e3,
  m: 1e6,
  W: 1e7,
  kVA: 1e7,
  Ah: 1e5,
  'V/cell': 5,
  'mΩ/cell': 1e4,
  mΩ: 1e7,
  mH: 1e5,
  µH: 1e7,
  'µH/m': 100,
  mF: 1e6,
  '% of Ir': 1e3,
  Ω: 1e7,
  'Ω/km': 1e5,
  'Ω·m': 1e6,
  ms: 1e5,
  cycles: 1e3,
  'mm²': 1e5,
  mm: 1e5,
  'cal/cm²': 1e4,
  'kg·m²': 1e7,
  'A²s': 1e7,
  'K·m/W': 100,
  '× Tn': 100,
  '% of rating': 1e3,
};
/** What must be above nought is at least this. */
const smallest = 1e-9;

/** A number in the unit named, within what is plausible for it; `above` is an exclusive lower bound. */
export function quantity(title: string, unit: string, bounds: Bounds = {}, extra: Partial<FieldMeta> = {}) {
  const limit = plausible[unit];
  if (limit === undefined) throw new Error(`no plausible bound is known for the unit "${unit}" (${title})`);
  const { above, min = above === undefined ? -limit : undefined, max = limit } = bounds;
  let schema = z.number({ error: 'must be a number' });
  if (above !== undefined) {
    const message = `must be above ${above} ${unit}`.trim();
    schema = above === 0 ? schema.min(smallest, message) : schema.gt(above, message);
  }
  if (min !== undefined) schema = schema.min(min, `must be at least ${min} ${unit}`.trim());
  schema = schema.max(max, `must be at most ${max} ${unit}`.trim());
  return schema.meta({ title, unit, ...extra });
}

/** As {@link quantity}, but null says that the value is not known; what needs it reports it as missing. */
export function optionalQuantity(title: string, unit: string, bounds: Bounds = {}, extra: Partial<FieldMeta> = {}) {
  return quantity(title, unit, bounds)
    .nullable()
    .meta({ title, unit, ...extra });
}

/** A choice among named values. */
export function choice<const T extends readonly [string, ...string[]]>(
  title: string,
  values: T,
  extra: Partial<FieldMeta> = {},
) {
  return z.enum(values).meta({ title, ...extra });
}

const idText = z
  .string()
  .min(1)
  .max(64)
  .regex(/^[A-Za-z0-9_-]+$/, 'must consist of letters, digits, "-" and "_"');

/** Identifier of any element; stable for the life of the project. */
export const elementIdSchema = idText.brand<'ElementId'>();
export type ElementId = z.infer<typeof elementIdSchema>;

/** Identifier as an element id, for literals in code and tests. */
export const elementId = (text: string): ElementId => elementIdSchema.parse(text);

/** A reference to another element. */
export const reference = (to: readonly string[], whenGone: ReferenceMeta['whenGone'], copied = false) =>
  elementIdSchema.meta({ reference: { to, whenGone, copied } });

const nameSchema = z
  .string()
  .trim()
  .min(1, 'must not be empty')
  .max(80, 'must have at most 80 characters')
  .meta({ title: 'Name' });

/** Fields of everything that stands on the drawing. Positions are in drawing units, origin top left. */
export const placed = {
  id: elementIdSchema.meta({ title: 'Identifier', hidden: true }),
  name: nameSchema,
  note: z.string().max(2000).default('').meta({ title: 'Note' }),
  x: z.number().min(-1e5).max(1e5).meta({ title: 'x', hidden: true }),
  y: z.number().min(-1e5).max(1e5).meta({ title: 'y', hidden: true }),
  turn: z
    .union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)])
    .default(0)
    .meta({ title: 'Turn', hidden: true }),
  /** Mirrored on its own axis, before it is turned; matters to symbols whose two sides differ. */
  mirrored: z.boolean().optional(),
  /** Page of the drawing it stands on; none: the first. */
  page: reference(['page'], 'field').optional(),
  /** Type of the library that its values come from; values of its own stand above those of the type. */
  entry: z.string().min(1).max(64).optional(),
  /** Automatic layout leaves it where it stands. */
  pinned: z.boolean().optional(),
  /** Paths of the fields whose value the program assumed and nobody has confirmed. */
  assumed: z.array(z.string().max(60)).max(60).optional(),
  /** What it is called in the files that it came from: a later import of the same source finds it again. */
  foreign: z
    .array(z.object({ source: z.string().min(1).max(120), id: z.string().min(1).max(200) }))
    .max(8)
    .optional(),
};

/** A rating that may be unknown; fields of this form came later. */
export const rating = (title: string, unit: string, max: number, extra: Partial<FieldMeta> = {}) =>
  withDefault(optionalQuantity(title, unit, { above: 0, max }, extra), null);

/** A rated short-time withstand current and how long it may last; null and the usual duration where they are not known. */
export const shortTimeRating = (usualS: number, extra: Partial<FieldMeta> = {}) => ({
  shortTimeKa: rating('Rated short-time withstand current', 'kA', 300, { symbol: 'Ik', ...extra }),
  shortTimeS: withDefault(
    quantity('Rated duration of short circuit', 's', { above: 0, max: 10 }, { symbol: 'tk', ...extra }),
    usualS,
  ),
});

/** A field that older files do not have: this value then. The field keeps its title and unit. */
export function withDefault<T extends z.ZodType>(schema: T, value: z.output<T>) {
  return schema.default(value as never).meta(schema.meta()!);
}

const throughImpedance = { field: 'earthing', is: ['resistor', 'reactor', 'coil', 'impedance'] };

/**
 * How a neutral point is earthed; the impedance is the one between neutral and earth (not tripled). A coil is a reactor tuned to the
 * line capacitances: a network earthed through coils only counts as resonant-earthed.
 */
export const neutralSchema = z.object({
  earthing: choice('Neutral', ['isolated', 'solid', 'resistor', 'reactor', 'coil', 'impedance']),
  rOhm: quantity('R neutral', 'Ω', { min: 0 }, { shownWhen: throughImpedance }),
  xOhm: quantity(
    'X neutral',
    'Ω',
    {},
    { shownWhen: { field: 'earthing', is: ['reactor', 'coil', 'impedance'] }, help: 'Of the coil itself, not tripled' },
  ),
  ratedA: rating('Rated short-time current', 'A', 1e5, { shownWhen: throughImpedance }),
  ratedS: withDefault(quantity('Rated duration', 's', { above: 0, max: 7200 }, { shownWhen: throughImpedance }), 10),
});
export type Neutral = z.infer<typeof neutralSchema>;
/** A neutral point earthed so, its impedance without a known rating. */
export const neutralOf = (earthing: Neutral['earthing'], rOhm = 0, xOhm = 0): Neutral => ({
  earthing,
  rOhm,
  xOhm,
  ratedA: null,
  ratedS: 10,
});
export const isolatedNeutral: Neutral = neutralOf('isolated');
