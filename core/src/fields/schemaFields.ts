/** Fields of an element's schema for a form: titles, units and choices stand in the core's Zod schemas, and only there. */
import type { z } from 'zod';
import { elementSchema, elementSchemas, type Element, type ElementKind } from '../model/element';
import { groupOf, groupOrder } from '../model/fieldHelp';
import type { FieldMeta } from '../model/fields';

export interface FormField {
  path: string[];
  meta: FieldMeta;
  type: 'quantity' | 'optionalQuantity' | 'choice' | 'boolean' | 'text' | 'number choice';
  options: (string | number)[];
}

export interface FormSection {
  title: string | null;
  fields: FormField[];
}

type AnySchema = z.ZodType & {
  def: {
    type: string;
    innerType?: AnySchema;
    shape?: Record<string, AnySchema>;
    entries?: Record<string, string>;
    options?: AnySchema[];
    values?: unknown[];
  };
};

const byKind = new Map<ElementKind, FormSection[]>();

export function formSections(kind: ElementKind): FormSection[] {
  let sections = byKind.get(kind);
  if (!sections) byKind.set(kind, (sections = sectionsOf(schemaOf(kind))));
  return sections;
}

const schemaOf = (kind: ElementKind): AnySchema => elementSchemas[kind] as unknown as AnySchema;

function sectionsOf(schema: AnySchema): FormSection[] {
  const main: FormSection = { title: null, fields: [] };
  const grouped = new Map<string, FormSection>(groupOrder.map((title) => [title, { title, fields: [] }]));
  const sections: FormSection[] = [];
  for (const [name, field] of Object.entries(schema.def.shape!)) {
    const meta = field.meta() as FieldMeta | undefined;
    if (!meta?.title || meta.hidden || name === 'kind' || name === 'note') continue;
    const inner = unwrap(field);
    if (inner.def.type === 'object') {
      const fields = Object.entries(inner.def.shape!).flatMap(([key, sub]) => toField([name, key], sub));
      const group = grouped.get(meta.title);
      if (group) group.fields.push(...fields);
      else sections.push({ title: meta.title, fields });
    } else (grouped.get(groupOf(name) ?? '') ?? main).fields.push(...toField([name], field));
  }
  const used = [...grouped.values()].filter(({ fields }) => fields.length > 0);
  // A handful of fields needs no headings.
  if (main.fields.length + used.reduce((sum, { fields }) => sum + fields.length, 0) <= 6)
    return [{ title: null, fields: [...main.fields, ...used.flatMap(({ fields }) => fields)] }, ...sections];
  return [main, ...used, ...sections];
}

function unwrap(schema: AnySchema): AnySchema {
  return schema.def.innerType ? unwrap(schema.def.innerType) : schema;
}

const isNullable = (schema: AnySchema): boolean =>
  schema.def.type === 'nullable' || (schema.def.innerType !== undefined && isNullable(schema.def.innerType));

function toField(path: string[], schema: AnySchema): FormField[] {
  const meta = schema.meta() as FieldMeta | undefined;
  if (!meta?.title) return [];
  const inner = unwrap(schema);
  const field = (type: FormField['type'], options: FormField['options'] = []): FormField[] => [
    { path, meta, type, options },
  ];
  switch (inner.def.type) {
    case 'number':
      return field(isNullable(schema) ? 'optionalQuantity' : 'quantity');
    case 'enum':
      return field('choice', Object.values(inner.def.entries!));
    case 'union':
      return field(
        'number choice',
        inner.def.options!.map((option) => option.def.values![0] as number),
      );
    case 'boolean':
      return field('boolean');
    case 'string':
      return field('text');
    default:
      return [];
  }
}

export const valueAt = (element: Element, path: readonly string[]): unknown =>
  path.reduce<unknown>((value, key) => (value as Record<string, unknown>)[key], element);

/** The element with one value replaced; the original is not touched. */
export function withValue<E extends Element>(element: E, path: readonly string[], value: unknown): E {
  const [key, ...rest] = path;
  const record = element as unknown as Record<string, unknown>;
  return { ...element, [key]: rest.length > 0 ? withValue(record[key] as Element, rest, value) : value };
}

/** Message of the schema for the field at `path`, or null when the whole element is valid. */
export function validate(element: Element, path: readonly string[]): string | null {
  const parsed = elementSchema.safeParse(element);
  if (parsed.success) return null;
  const own = parsed.error.issues.find((issue) => issue.path.join('.') === path.join('.'));
  const issue = own ?? parsed.error.issues[0];
  return own || !isAboutField(issue.message) ? issue.message : `${issue.path.join('.')}: ${issue.message}`;
}

/** "must be above 0 kV" wants the field before it; other messages say themselves what they are about. */
export const isAboutField = (message: string): boolean => /^(must|holds)\b/.test(message);

export const isShown = (element: Element, field: FormField): boolean => {
  const rule = field.meta.shownWhen;
  if (!rule) return true;
  return rule.is.includes(String(valueAt(element, [...field.path.slice(0, -1), rule.field])));
};

/** The element without the mark that these fields were assumed. */
export function confirmed<E extends Element>(element: E, paths: readonly string[]): E {
  if (!('assumed' in element) || !element.assumed) return element;
  const left = element.assumed.filter((path) => !paths.includes(path));
  const { assumed: _assumed, ...rest } = element;
  return (left.length > 0 ? { ...rest, assumed: left } : rest) as E;
}

/** What all elements have at a place, or undefined when they differ. */
export function commonValue(elements: readonly Element[], path: readonly string[]): unknown {
  const first = valueAt(elements[0], path);
  return elements.every((element) => valueAt(element, path) === first) ? first : undefined;
}

/** What a field is called on the form; its path where the form does not show it. */
export const fieldTitle = (kind: ElementKind, path: string): string =>
  formSections(kind)
    .flatMap(({ fields }) => fields)
    .find((field) => field.path.join('.') === path)?.meta.title ?? path;
