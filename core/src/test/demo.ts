/** The demo project, or another one in a file, as a network, for tests. */
import { readFileSync } from 'node:fs';
import { readProject } from '../formats/project/project';
import { alternating } from '../model/directPart';
import { networkOf, type Network } from '../model/network';

export const textOf = (path: string): string => readFileSync(new URL(`../../../${path}`, import.meta.url), 'utf8');

export const demoText = (): string => textOf('demo/sorrel-island.json');

/** What alternating current flows in. */
export const demoNetwork = (): Network => alternating(wholeDemo());
/** The same with its direct current. */
export const wholeDemo = (): Network => networkOfFile('demo/sorrel-island.json');

/** `path` from the root of the repository. */
export function networkOfFile(path: string): Network {
  const project = readProject(textOf(path));
  if (!project.ok) throw new Error(project.problems[0].message);
  return networkOf(project.project.elements);
}
