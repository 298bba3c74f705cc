'use client';

import type { ReactNode } from 'react';
import { TextInput } from '@mantine/core';
import { parseQuantity, plainNumber } from '@mesura/core/fields/quantity';
import { useDraft } from './useDraft';
import classes from './card.module.css';

interface Props {
  label: string;
  /** Where several fields on a page have the same label. */
  ariaLabel?: string;
  unit: string;
  value: number | null;
  /** An empty field means "not known". */
  optional?: boolean;
  help?: string;
  /** Takes the value; a text answer is a refusal and is shown at the field. */
  onCommit: (value: number | null) => string | null;
  compact?: boolean;
  /** The label stands above the field, not beside it. */
  stacked?: boolean;
  /** Told what is being typed while it can be read; undefined when nothing is. */
  onDraft?: (value: number | null | undefined) => void;
  placeholder?: string;
  /** Stands after the label: help, the mark of an assumed value. */
  aside?: ReactNode;
}

/** A field for a quantity: takes what people type, checks as they type, stores on Enter or on leaving; Escape brings the stored value back. */
export function QuantityField({
  label,
  ariaLabel = label,
  unit,
  value,
  optional = false,
  help,
  onCommit,
  compact = false,
  stacked = false,
  onDraft,
  placeholder,
  aside,
}: Props) {
  const stored = value === null ? '' : plainNumber(value);
  const check = (text: string): { value: number | null; message: string | null } => {
    if (text.trim() === '')
      return optional ? { value: null, message: null } : { value: null, message: 'A value is needed here.' };
    const parsed = parseQuantity(text, unit);
    return parsed.ok ? { value: parsed.value, message: null } : { value: null, message: parsed.message };
  };
  const { draft, refusal, handlers } = useDraft((text) => {
    const checked = check(text);
    if (checked.message) return checked.message;
    return checked.value === value ? null : onCommit(checked.value);
  });
  const message = draft === null ? null : (refusal ?? check(draft).message);
  return (
    <TextInput
      label={compact ? undefined : aside ? <LabelWith text={label} aside={aside} /> : label}
      aria-label={unit ? `${ariaLabel} in ${unit}` : ariaLabel}
      description={compact ? undefined : help}
      value={draft ?? stored}
      placeholder={placeholder ?? (optional ? 'not known' : undefined)}
      error={message}
      size="xs"
      classNames={{
        input: classes.quantity,
        root: compact ? classes.compact : stacked ? undefined : classes.row,
        label: classes.label,
      }}
      inputWrapperOrder={['label', 'input', 'description', 'error']}
      rightSection={<span className={classes.unit}>{unit}</span>}
      rightSectionWidth={unit.length * 7 + 10}
      rightSectionPointerEvents="none"
      {...handlers}
      onChange={(event) => {
        handlers.onChange(event);
        const typed = check(event.currentTarget.value);
        onDraft?.(typed.message ? undefined : typed.value);
      }}
      onKeyDown={(event) => {
        handlers.onKeyDown(event);
        if (event.key === 'Enter' || event.key === 'Escape') onDraft?.(undefined);
      }}
      onBlur={() => {
        handlers.onBlur();
        onDraft?.(undefined);
      }}
    />
  );
}

export const LabelWith = ({ text, aside }: { text: string; aside: ReactNode }) => (
  <>
    {text} {aside}
  </>
);

/** Why a value does not lie within bounds; null when it does. */
export function outOfBounds(
  value: number | null,
  { min, max }: { min?: number; max?: number },
  unit = '',
): string | null {
  const named = (bound: number) => `${bound}${unit ? ` ${unit}` : ''}`;
  if (value === null) return null;
  if (min !== undefined && value < min) return `must be at least ${named(min)}`;
  if (max !== undefined && value > max) return `must be at most ${named(max)}`;
  return null;
}
