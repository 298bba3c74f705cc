import { createSpotlight } from '@mantine/spotlight';

/** The search for elements and commands: whether it stands open, and how to open it. */
export const [searchStore, search] = createSpotlight();
