'use client';

import { useEffect, useRef } from 'react';
import { Textarea, type TextareaProps } from '@mantine/core';
import { storableText } from '@mesura/core/model/text';

interface Props extends Omit<TextareaProps, 'value' | 'defaultValue' | 'onChange' | 'onBlur'> {
  value: string;
  /** False when the text is not taken: the field then shows the stored one again. */
  store: (value: string) => unknown;
}

/** A field for text of several lines: stored on leaving it, and when the page is left while it is written. */
export function LongText({ value, store, ...rest }: Props) {
  const field = useRef<HTMLTextAreaElement>(null);
  const keep = useRef(() => {});
  useEffect(() => {
    keep.current = () => {
      // A text cut at its greatest length may end in half a character.
      const text = field.current && storableText(field.current.value);
      if (text !== null && text !== value && store(text) === false) field.current!.value = value;
    };
  });
  useEffect(() => {
    const leave = () => keep.current();
    window.addEventListener('pagehide', leave);
    return () => window.removeEventListener('pagehide', leave);
  }, []);
  return (
    <Textarea
      ref={field}
      size="xs"
      autosize
      maxLength={2000}
      defaultValue={value}
      onBlur={() => keep.current()}
      {...rest}
    />
  );
}
