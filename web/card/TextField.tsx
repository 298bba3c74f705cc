'use client';

import type { ReactNode } from 'react';
import { TextInput } from '@mantine/core';
import { storableText } from '@mesura/core/model/text';
import { LabelWith } from './QuantityField';
import { useDraft } from './useDraft';
import classes from './card.module.css';

interface Props {
  label: string;
  value: string;
  onCommit: (value: string) => string | null;
  compact?: boolean;
  /** The label stands above the field. */
  stacked?: boolean;
  placeholder?: string;
  aside?: ReactNode;
}

/** A field for text, stored on Enter or on leaving. */
export function TextField({ label, value, onCommit, compact = false, stacked = false, placeholder, aside }: Props) {
  const { draft, refusal, handlers } = useDraft((text) => (text === value ? null : onCommit(storableText(text))));
  return (
    <TextInput
      label={compact ? undefined : aside ? <LabelWith text={label} aside={aside} /> : label}
      placeholder={placeholder}
      aria-label={label}
      size="xs"
      value={draft ?? value}
      error={refusal}
      classNames={{ root: compact ? classes.compact : stacked ? undefined : classes.row, label: classes.label }}
      inputWrapperOrder={['label', 'input', 'description', 'error']}
      {...handlers}
    />
  );
}
