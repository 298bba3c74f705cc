/** True while keys belong to a text field. */
export function isTyping(): boolean {
  const at = document.activeElement;
  if (at instanceof HTMLInputElement) return !['radio', 'checkbox', 'button'].includes(at.type);
  return at instanceof HTMLTextAreaElement || at instanceof HTMLSelectElement;
}
