'use client';

import { Fragment, useEffect, useRef, useState, type ComponentProps } from 'react';
import { Button, Select, Switch } from '@mantine/core';
import { kinds, nameOf, type Element } from '@mesura/core/model/element';
import { fieldHelp } from '@mesura/core/model/fieldHelp';
import { Chip } from '../desk/Chip';
import { useDesk } from '../desk/deskState';
import { useProject } from '../project/ProjectContext';
import { Aside } from './Aside';
import { DerivedValues } from './DerivedValues';
import {
  commonValue,
  confirmed,
  formSections,
  isShown,
  validate,
  withValue,
  type FormField,
  isAboutField,
} from '@mesura/core/fields/schemaFields';
import { LongText } from './LongText';
import { LabelWith, QuantityField } from './QuantityField';
import { TextField } from './TextField';
import classes from './card.module.css';

/** Words for stored choices, of one field alone where they are written with its name; what is not here is shown as stored. */
const words: Record<string, string> = {
  'given.current': 'Ik″ (current)',
  'given.power': 'Sk″ (power)',
  isolated: 'isolated',
  solid: 'solidly earthed',
  impedance: 'R and X',
  resistor: 'resistor',
  reactor: 'reactor',
  coil: 'resonant coil',
  perLength: 'typed per kilometre',
  tower: 'from a tower',
  lagging: 'lagging (drawn)',
  leading: 'leading (given)',
  'system.ac': 'alternating',
  'system.dc': 'direct',
  'type.limited': 'charger, current limited',
  'type.bridge': 'uncontrolled bridge',
  'direct.worst': 'the worst',
  'direct.least': 'the least',
  'direct.maxpower': 'largest power',
  'direct.stokes': 'Stokes and Oppenlander',
  'direct.paukert': 'Paukert',
  'findings.quiet': 'quiet',
  'findings.finding': 'a finding',
  'edition.2018': 'IEEE 1584-2018',
  'edition.2002': 'IEEE 1584-2002',
  'minimumFactors.one': '1 (2016)',
  'minimumFactors.asMaximum': 'as maximum',
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
  byVoltage: 'by voltage',
  iec62271: 'IEC 62271-100',
  iec60947: 'IEC 60947-2',
  c37Symmetrical: 'IEEE C37.04, symmetrical current',
  c37Total: 'IEEE C37.04, total current',
  c3713: 'IEEE C37.13, unfused',
  c3713Fused: 'IEEE C37.13, fused',
  mouldedCase: 'moulded case, by test power factor',
  copper: 'copper',
  aluminium: 'aluminium',
  steel: 'steel',
  pvc: 'PVC',
  xlpe: 'XLPE',
  epr: 'EPR',
  paper: 'paper',
  quadratic: 'with the square of speed',
  linear: 'in proportion to speed',
  constant: 'constant',
  through: 'through the device',
  total: 'whole current at the place',
  protection: 'until the protection clears',
  chosen: 'as chosen',
  normal: 'normal',
  emergency: 'emergency',
  constantPower: 'constant power',
  constantCurrent: 'constant current',
  constantImpedance: 'constant impedance',
  none: 'none',
  hv: 'HV side',
  lv: 'LV side',
  iec: 'IEC 60617',
  ieee: 'IEEE 315',
  breaker: 'breaker',
};

interface FormProps {
  /** One element, or several of one kind to be changed together. */
  elements: readonly Element[];
}

/** The data of elements as a form made from their schema; each field stores by itself, as one change. */
export function ElementForm({ elements }: FormProps) {
  const commit = useProject((state) => state.commit);
  const network = useProject((state) => state.network);
  const [draft, setDraft] = useState<{ path: string[]; value: number | null } | null>(null);
  const [element] = elements;
  const several = elements.length > 1;
  const change = (changed: readonly Element[], what: string): string | null => {
    const name = several ? `${elements.length} × ${kinds[element.kind].title}` : nameOf(element);
    const result = commit(
      changed.map((each) => ({ op: 'update', element: each })),
      `${name}: ${what}`,
    );
    return result.ok ? null : result.problems[0].message;
  };
  const store = (field: Pick<FormField, 'path' | 'meta'>, value: unknown): string | null => {
    const changed = elements.map((each) => confirmed(withValue(each, field.path, value), [field.path.join('.')]));
    for (const each of changed) {
      const invalid = validate(each, field.path);
      if (invalid)
        return `${several ? `${nameOf(each)}: ` : ''}${isAboutField(invalid) ? `${field.meta.title} ${invalid}` : invalid}`;
    }
    return change(changed, field.meta.title);
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
  const assumed = new Set(elements.flatMap((each) => ('assumed' in each ? (each.assumed ?? []) : [])));
  const sections = formSections(element.kind);
  // After what they follow from, and before what they do not depend on.
  const derivedAt = sections.findIndex(({ title }) => title !== null && !['Ratings', 'Impedance'].includes(title));
  const typed = draft && !several ? withValue(element, draft.path, draft.value) : element;
  const derived = !several && <DerivedValues element={typed} network={network} drafting={draft !== null} />;
  return (
    <>
      {assumed.size > 0 && (
        <div className={classes.assumedNote}>
          <Chip state="warn">assumed</Chip>
          <span>
            {assumed.size} value{assumed.size === 1 ? ' is' : 's are'} typical, nobody has confirmed{' '}
            {assumed.size === 1 ? 'it' : 'them'}.
          </span>
          <Button
            size="compact-xs"
            variant="light"
            onClick={() =>
              change(
                elements.map((each) => confirmed(each, [...assumed])),
                'values confirmed',
              )
            }
          >
            Confirm all
          </Button>
        </div>
      )}
      <div className={classes.form} ref={form}>
        {sections.map((section, k) => {
          const fields = section.fields.filter(
            (field) => elements.every((each) => isShown(each, field)) && !(several && field.path[0] === 'name'),
          );
          return (
            <Fragment key={section.title ?? 'main'}>
              {k === derivedAt && derived}
              {section.title && fields.length > 0 && <div className={classes.section}>{section.title}</div>}
              {fields.map((field) => (
                <Field
                  key={field.path.join('.')}
                  elements={elements}
                  field={field}
                  section={section.title}
                  store={(value) => store(field, value)}
                  assumed={assumed.has(field.path.join('.'))}
                  onConfirm={() =>
                    change(
                      elements.map((each) => confirmed(each, [field.path.join('.')])),
                      `${field.meta.title} confirmed`,
                    )
                  }
                  onDraft={(value) => setDraft(value === undefined ? null : { path: field.path, value })}
                />
              ))}
            </Fragment>
          );
        })}
        {derivedAt < 0 && derived}
        {!several && 'note' in element && (
          <LongText
            key={`${element.id} ${element.note}`}
            label="Note"
            minRows={1}
            maxRows={5}
            style={{ gridColumn: '1 / -1', marginTop: 8 }}
            value={element.note}
            store={(value) => store({ path: ['note'], meta: { title: 'Note' } }, value)}
          />
        )}
      </div>
    </>
  );
}

interface FieldProps {
  elements: readonly Element[];
  field: FormField;
  section: string | null;
  store: (value: unknown) => string | null;
  assumed: boolean;
  onConfirm: () => void;
  onDraft: (value: number | null | undefined) => void;
}

function Field({ elements, field, section, store, assumed, onConfirm, onDraft }: FieldProps) {
  const [element] = elements;
  const value = commonValue(elements, field.path);
  const various = value === undefined;
  const { title, unit = '', help } = field.meta;
  const path = field.path.join('.');
  const nested = field.path.length > 1;
  const label = nested && section && section !== title ? `${section}: ${title}` : title;
  const id = `${element.id}.${path}`;
  const aside = <Aside what={title} help={fieldHelp(element.kind, path)} assumed={assumed} onConfirm={onConfirm} />;
  switch (field.type) {
    case 'quantity':
    case 'optionalQuantity':
      return (
        <LabelledQuantity
          key={id}
          field={path}
          label={label}
          title={title}
          unit={unit}
          help={help}
          value={various ? null : (value as number | null)}
          optional={field.type === 'optionalQuantity' || various}
          placeholder={various ? 'various' : undefined}
          aside={aside}
          onDraft={onDraft}
          onCommit={(typed) => (typed === null && field.type === 'quantity' ? 'A value is needed here.' : store(typed))}
        />
      );
    case 'choice':
    case 'number choice':
      return (
        <Select
          label={<LabelWith text={title} aside={aside} />}
          aria-label={label}
          size="xs"
          allowDeselect={false}
          placeholder={various ? 'various' : undefined}
          data={field.options.map((option) => ({
            value: String(option),
            label: unit
              ? `${option} ${unit}`
              : (words[`${field.path.at(-1)}.${option}`] ?? words[option] ?? String(option)),
          }))}
          value={various ? null : String(value)}
          onChange={(chosen) => store(field.type === 'choice' ? chosen : Number(chosen))}
          classNames={{ root: classes.row, label: classes.label }}
        />
      );
    case 'boolean':
      return (
        <Switch
          label={
            <>
              {title} {aside}
            </>
          }
          aria-label={label}
          size="xs"
          labelPosition="left"
          checked={value === true}
          onChange={(event) => store(event.currentTarget.checked)}
          styles={{
            body: { justifyContent: 'space-between', minHeight: 30, alignItems: 'center' },
            label: { fontSize: 13 },
          }}
        />
      );
    default:
      return (
        <TextField
          key={id}
          label={title}
          value={various ? '' : (value as string)}
          placeholder={various ? 'various' : undefined}
          aside={aside}
          onCommit={store}
        />
      );
  }
}

function LabelledQuantity({
  field,
  label,
  title,
  ...rest
}: { field: string; label: string; title: string } & Omit<ComponentProps<typeof QuantityField>, 'label'>) {
  return (
    <div role="group" aria-label={label} data-field={field}>
      <QuantityField label={title} {...rest} />
    </div>
  );
}
