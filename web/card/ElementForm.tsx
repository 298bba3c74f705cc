'use client';

import { Fragment, useEffect, useRef } from 'react';
import { Select, Switch, Textarea } from '@mantine/core';
import type { Element } from '@mesura/core/model/element';
import { useDesk } from '../desk/deskState';
import { useProject } from '../project/ProjectContext';
import { formSections, isShown, validate, valueAt, withValue, type FormField } from './schemaFields';
import { QuantityField } from './QuantityField';
import { TextField } from './TextField';
import classes from './card.module.css';

/** Words for stored choices; what is not here is shown as stored. */
const words: Record<string, string> = {
  current: 'Ik″ (current)',
  power: 'Sk″ (power)',
  isolated: 'isolated',
  solid: 'solidly earthed',
  impedance: 'R and X',
  resistor: 'resistor',
  reactor: 'reactor',
  coil: 'resonant coil',
  perLength: 'typed per kilometre',
  tower: 'from a tower',
  unspecified: 'not stated',
  threeLimb: 'three limbs',
  fiveLimb: 'five limbs',
  bank: 'single-phase units',
  nothing: 'nothing',
  voltage: 'a voltage',
  turbo: 'cylindrical (turbo)',
  salient: 'salient poles',
  series1: 'series 1',
  series2: 'series 2',
  terminalFed: 'static, from the terminals',
  constantPower: 'constant power',
  constantImpedance: 'constant impedance',
  none: 'none',
  hv: 'HV side',
  lv: 'LV side',
  iec: 'IEC 60617',
};

/** The data of an element as a form made from its schema; each field stores by itself, as one change. */
export function ElementForm({ element }: { element: Element }) {
  const commit = useProject((state) => state.commit);
  const store = (field: Pick<FormField, 'path' | 'meta'>, value: unknown): string | null => {
    const changed = withValue(element, field.path, value);
    const invalid = validate(changed, field.path);
    if (invalid) return `${field.meta.title} ${invalid}`;
    const name = 'name' in element ? element.name : 'Project settings';
    const result = commit([{ op: 'update', element: changed }], `${name}: ${field.meta.title}`);
    return result.ok ? null : result.problems[0].message;
  };
  const form = useRef<HTMLDivElement>(null);
  const focusField = useDesk((state) => state.focusField);
  useEffect(() => {
    if (focusField === null) return;
    const field = form.current?.querySelector<HTMLElement>(`[data-field="${CSS.escape(focusField)}"] input`);
    field?.focus();
    field?.scrollIntoView({ block: 'center' });
    useDesk.getState().set({ focusField: null });
  }, [focusField, element.id]);
  return (
    <div className={classes.form} ref={form}>
      {formSections(element.kind).map((section) => (
        <Fragment key={section.title ?? 'main'}>
          {section.title && <div className={classes.section}>{section.title}</div>}
          {section.fields
            .filter((field) => isShown(element, field))
            .map((field) => (
              <Field
                key={field.path.join('.')}
                element={element}
                field={field}
                section={section.title}
                store={(value) => store(field, value)}
              />
            ))}
        </Fragment>
      ))}
      {'note' in element && (
        <NoteField
          key={element.id}
          value={element.note}
          store={(value) => store({ path: ['note'], meta: { title: 'Note' } }, value)}
        />
      )}
    </div>
  );
}

interface FieldProps {
  element: Element;
  field: FormField;
  section: string | null;
  store: (value: unknown) => string | null;
}

function Field({ element, field, section, store }: FieldProps) {
  const value = valueAt(element, field.path);
  const { title, unit = '', help } = field.meta;
  const label = section && section !== title ? `${section}: ${title}` : title;
  const id = `${element.id}.${field.path.join('.')}`;
  switch (field.type) {
    case 'quantity':
    case 'optionalQuantity':
      return (
        <LabelledQuantity
          key={id}
          field={field.path.join('.')}
          label={label}
          title={title}
          unit={unit}
          help={help}
          value={value as number | null}
          optional={field.type === 'optionalQuantity'}
          onCommit={store}
        />
      );
    case 'choice':
    case 'number choice':
      return (
        <Select
          label={title}
          aria-label={label}
          size="xs"
          allowDeselect={false}
          data={field.options.map((option) => ({
            value: String(option),
            label: unit ? `${option} ${unit}` : (words[option] ?? String(option)),
          }))}
          value={String(value)}
          onChange={(chosen) => store(field.type === 'choice' ? chosen : Number(chosen))}
          classNames={{ root: classes.row, label: classes.label }}
        />
      );
    case 'boolean':
      return (
        <Switch
          label={title}
          aria-label={label}
          size="xs"
          labelPosition="left"
          checked={value as boolean}
          onChange={(event) => store(event.currentTarget.checked)}
          styles={{
            body: { justifyContent: 'space-between', minHeight: 30, alignItems: 'center' },
            label: { fontSize: 13 },
          }}
        />
      );
    default:
      return <TextField key={id} label={title} value={value as string} onCommit={store} />;
  }
}

function LabelledQuantity({
  field,
  label,
  title,
  ...rest
}: {
  field: string;
  label: string;
  title: string;
  unit: string;
  help?: string;
  value: number | null;
  optional: boolean;
  onCommit: (value: number | null) => string | null;
}) {
  return (
    <div role="group" aria-label={label} data-field={field}>
      <QuantityField label={title} {...rest} />
    </div>
  );
}

function NoteField({ value, store }: { value: string; store: (value: string) => string | null }) {
  return (
    <Textarea
      label="Note"
      size="xs"
      autosize
      minRows={1}
      maxRows={5}
      defaultValue={value}
      maxLength={2000}
      style={{ gridColumn: '1 / -1', marginTop: 8 }}
      onBlur={(event) => event.currentTarget.value !== value && store(event.currentTarget.value)}
    />
  );
}
