'use client';

import { Checkbox, Select } from '@mantine/core';
import { QuantityField } from './QuantityField';
import { TextField } from './TextField';
import card from './card.module.css';

/** What is read of a schema's field. */
interface FieldSchema {
  meta(): { title?: string; unit?: string; help?: string } | undefined;
  safeParse(value: unknown): { success: boolean; error?: { issues: readonly { message: string }[] } };
  readonly def: {
    readonly type: string;
    readonly innerType?: FieldSchema;
    readonly entries?: Readonly<Record<string, string>>;
  };
}

/** A unit as it is shown, and how values come and go. */
export interface ShownUnit {
  readonly unit: string;
  readonly factor: number;
}

function plain(schema: FieldSchema): {
  inner: FieldSchema;
  title: string;
  unit: string;
  help?: string;
  optional: boolean;
} {
  let inner = schema;
  let optional = false;
  let meta = schema.meta();
  while (inner.def.innerType) {
    optional ||= inner.def.type === 'nullable';
    inner = inner.def.innerType;
    meta = meta?.title ? meta : inner.meta();
  }
  return { inner, title: meta?.title ?? '', unit: meta?.unit ?? '', help: meta?.help, optional };
}

interface Props<T extends object> {
  schema: { readonly shape: Readonly<Record<string, unknown>> };
  value: T;
  fields: readonly (keyof T & string)[];
  /** Stores changed fields; a text is a refusal. */
  store: (part: Partial<T>, what: string) => string | null;
  words?: Readonly<Record<string, string>>;
  /** Of fields that may be left empty: what then counts. */
  placeholders?: Partial<Readonly<Record<keyof T & string, string>>>;
  shownUnit?: (unit: string) => ShownUnit;
  /** Stands before the labels for screen readers. */
  of?: string;
  width?: number;
}

const asIs = (unit: string): ShownUnit => ({ unit, factor: 1 });

/** Fields of a part of an element, made from its schema: side by side, labels above. */
export function ObjectFields<T extends object>({
  schema,
  value,
  fields,
  store,
  words = {},
  placeholders = {},
  shownUnit = asIs,
  of,
  width = 116,
}: Props<T>) {
  return fields.map((key) => {
    const field = schema.shape[key] as FieldSchema;
    const { inner, title, unit, help, optional } = plain(field);
    const label = of ? `${title}, ${of}` : title;
    const put = (next: unknown): string | null => {
      const parsed = field.safeParse(next);
      return parsed.success
        ? store({ [key]: next } as Partial<T>, title.toLowerCase())
        : (parsed.error?.issues[0]?.message ?? 'does not fit');
    };
    const own = value[key];
    if (inner.def.type === 'boolean')
      return (
        <Checkbox
          key={key}
          size="xs"
          label={title}
          aria-label={label}
          checked={own === true}
          onChange={(event) => put(event.currentTarget.checked)}
        />
      );
    if (inner.def.type === 'enum')
      return (
        <Select
          key={key}
          size="xs"
          classNames={{ label: card.label }}
          w={Math.max(width, 150)}
          label={title}
          aria-label={label}
          allowDeselect={false}
          value={own as string}
          data={Object.values(inner.def.entries ?? {}).map((each) => ({
            value: each,
            label: words[`${key}.${each}`] ?? words[each] ?? each,
          }))}
          onChange={(next) => next !== null && put(next)}
        />
      );
    if (inner.def.type === 'string')
      return (
        <div key={key} style={{ width: width + 30 }}>
          <TextField stacked label={title} value={own as string} onCommit={put} />
        </div>
      );
    const shown = shownUnit(unit);
    return (
      <div key={key} style={{ width }} title={help}>
        <QuantityField
          stacked
          label={title}
          ariaLabel={label}
          unit={shown.unit}
          optional={optional}
          value={own === null ? null : (own as number) * shown.factor}
          placeholder={placeholders[key]}
          onCommit={(next) => put(next === null ? null : Number((next / shown.factor).toPrecision(12)))}
        />
      </div>
    );
  });
}
