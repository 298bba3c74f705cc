'use client';

import { useState } from 'react';
import { TextInput } from '@mantine/core';
import classes from './card.module.css';

interface Props {
  label: string;
  value: string;
  onCommit: (value: string) => string | null;
  compact?: boolean;
}

/** A field for text, stored on Enter or on leaving. */
export function TextField({ label, value, onCommit, compact = false }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const commit = () => {
    if (draft === null) return;
    const refused = draft === value ? null : onCommit(draft);
    if (refused) return setRefusal(refused);
    setDraft(null);
    setRefusal(null);
  };
  return (
    <TextInput
      label={compact ? undefined : label}
      aria-label={label}
      size="xs"
      value={draft ?? value}
      error={refusal}
      classNames={{ root: compact ? classes.compact : classes.row, label: classes.label }}
      inputWrapperOrder={['label', 'input', 'description', 'error']}
      onChange={(event) => {
        setDraft(event.currentTarget.value);
        setRefusal(null);
      }}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === 'Enter') commit();
        if (event.key === 'Escape') {
          setDraft(null);
          setRefusal(null);
          event.stopPropagation();
        }
      }}
    />
  );
}
