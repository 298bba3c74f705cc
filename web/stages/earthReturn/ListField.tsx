'use client';

import { TextInput } from '@mantine/core';
import { useDraft } from '../../card/useDraft';
import card from '../../card/card.module.css';

/** A list of numbers in one field. */
export function ListField({
  label,
  value,
  placeholder,
  onCommit,
  width = 220,
}: {
  label: string;
  value: string;
  placeholder: string;
  onCommit: (text: string) => string | null;
  width?: number;
}) {
  const { draft, refusal, handlers } = useDraft((text) => (text === value ? null : onCommit(text)));
  return (
    <TextInput
      size="xs"
      classNames={{ label: card.label }}
      w={width}
      label={label}
      placeholder={placeholder}
      value={draft ?? value}
      error={refusal}
      {...handlers}
    />
  );
}
