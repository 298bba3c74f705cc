import { searchStore } from './search';

const isField = (at: Element | null): boolean =>
  at instanceof HTMLInputElement
    ? !['radio', 'checkbox', 'button'].includes(at.type)
    : at instanceof HTMLTextAreaElement || at instanceof HTMLSelectElement;

/** True while a text field has the focus. */
export const isInField = (): boolean => isField(document.activeElement);

/** True while keys are text: for a field, or for the search that has just been opened and is about to take the focus. */
export const isTyping = (): boolean => isInField() || searchStore.getState().opened;

/** Puts the cursor into the first field of what the bench shows. */
export const toData = (): void =>
  document
    .querySelector<HTMLInputElement | HTMLTextAreaElement>('main textarea, main input:not([type=hidden])')
    ?.select();
