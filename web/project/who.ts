/** Who works at this browser: stands beside each change in the history. On one's own desk the name is what people say; with accounts it is that of the account. */
import { create } from 'zustand';
import type { Role } from '../server/people/permissions';

/** Who one is here, as the server tells it with the page. */
export interface Here {
  /** Nobody signs in: one local person, who may take any role. */
  readonly ownDesk: boolean;
  readonly name: string;
  readonly accountId: string | null;
  readonly administrator: boolean;
  /** On the project that is open. */
  readonly roles: readonly Role[];
}

const kept = 'mesura.who';
const nobodyYet: Here = { ownDesk: true, name: '', accountId: null, administrator: false, roles: ['engineer'] };

export const useHere = create<Here>()(() => nobodyYet);

export function who(): string {
  const { ownDesk, name } = useHere.getState();
  if (!ownDesk) return name;
  try {
    return localStorage.getItem(kept)?.trim() || 'engineer';
  } catch {
    return 'engineer';
  }
}

export const may = (...roles: readonly Role[]): boolean => {
  const { ownDesk, roles: own } = useHere.getState();
  return ownDesk || roles.some((role) => own.includes(role));
};

/** What is said to who may only look. */
export const lookingOnly =
  'You may look at this project, but not change it: your role here is not that of an engineer.';

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
