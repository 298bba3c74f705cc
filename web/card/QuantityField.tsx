'use client';

import { TextInput } from '@mantine/core';
import { parseQuantity, plainNumber } from './quantity';
import { useDraft } from './useDraft';
import classes from './card.module.css';

interface Props {
  label: string;
  unit: string;
  value: number | null;
  /** An empty field means "not known". */
  optional?: boolean;
  help?: string;
  /** Takes the value; a text answer is a refusal and is shown at the field. */
  onCommit: (value: number | null) => string | null;
  compact?: boolean;
}

/** A field for a quantity: takes what people type, checks as they type, stores on Enter or on leaving; Escape brings the stored value back. */
export function QuantityField({ label, unit, value, optional = false, help, onCommit, compact = false }: Props) {
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
      label={compact ? undefined : label}
      aria-label={unit ? `${label} in ${unit}` : label}
      description={compact ? undefined : help}
      value={draft ?? stored}
      placeholder={optional ? 'not known' : undefined}
      error={message}
      size="xs"
      classNames={{ input: classes.quantity, root: compact ? classes.compact : classes.row, label: classes.label }}
      inputWrapperOrder={['label', 'input', 'description', 'error']}
      rightSection={<span className={classes.unit}>{unit}</span>}
      rightSectionWidth={unit.length * 7 + 10}
      rightSectionPointerEvents="none"
      {...handlers}
    />
  );
}
