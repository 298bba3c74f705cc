interface Pressed {
  readonly key: string;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
  readonly shiftKey: boolean;
}

/** Whether a key stroke is the one written as "mod+shift+z". Signs such as "?" or "." count by what they write, whatever Shift is needed for them. */
export function matches(event: Pressed, keys: string): boolean {
  const parts = keys.split('+');
  const key = parts.pop()!;
  const wants = (name: string) => parts.includes(name);
  if ((event.ctrlKey || event.metaKey) !== wants('mod') || event.altKey !== wants('alt')) return false;
  const isSign = key.length === 1 && key.toLowerCase() === key.toUpperCase();
  if (!isSign && event.shiftKey !== wants('shift')) return false;
  return event.key.toLowerCase() === key.toLowerCase();
}
