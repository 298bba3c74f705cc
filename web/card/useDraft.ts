'use client';

import { useState, type ChangeEvent, type KeyboardEvent } from 'react';

/**
 * What is being typed into a field before it is stored: kept until it is accepted, thrown away by Escape, stored by Enter or by
 * leaving. `store` answers null, or why it refuses; what was typed then stays.
 */
export function useDraft(store: (text: string) => string | null) {
  const [draft, setDraft] = useState<string | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const clear = () => {
    setDraft(null);
    setRefusal(null);
  };
  const commit = () => {
    if (draft === null) return;
    const refused = store(draft);
    if (refused) setRefusal(refused);
    else clear();
  };
  return {
    draft,
    refusal,
    handlers: {
      onChange: (event: ChangeEvent<HTMLInputElement>) => {
        setDraft(event.currentTarget.value);
        setRefusal(null);
      },
      onBlur: commit,
      onKeyDown: (event: KeyboardEvent) => {
        if (event.key === 'Enter') commit();
        if (event.key !== 'Escape' || draft === null) return;
        // What was typed goes; the next Escape leaves the field.
        clear();
        event.stopPropagation();
      },
    },
  };
}
