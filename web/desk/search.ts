import { createSpotlight } from '@mantine/spotlight';

/** The search for elements and commands: whether it stands open, and how to open it. */
export const [searchStore, search] = createSpotlight();

/** Opens the search; a field that is being typed into is left first, and stores, so that the next letter is the search's. */
export function openSearch(): void {
  (document.activeElement as HTMLElement | null)?.blur();
  search.open();
}
