/** Who works at this browser: stands beside each change in the history. There is no log-in; the name is what people say. */
const kept = 'mesura.who';

export function who(): string {
  try {
    return localStorage.getItem(kept)?.trim() || 'engineer';
  } catch {
    return 'engineer';
  }
}

export function workAs(name: string): void {
  try {
    localStorage.setItem(kept, name.trim().slice(0, 80));
  } catch {
    // Without storage everybody is "engineer".
  }
}

export const initials = (name: string): string =>
  name
    .split(/\s+/)
    .filter(Boolean)
    .map((word) => word[0])
    .join('')
    .slice(0, 2)
    .toUpperCase() || 'EN';
