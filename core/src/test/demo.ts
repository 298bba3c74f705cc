/** The demo project as a network, for tests. */
import { readFileSync } from 'node:fs';
import { readProject } from '../formats/project';
import { networkOf, type Network } from '../model/network';

export const demoText = (): string =>
  readFileSync(new URL('../../../demo/sorrel-island.json', import.meta.url), 'utf8');

export function demoNetwork(): Network {
  const project = readProject(demoText());
  if (!project.ok) throw new Error(project.problems[0].message);
  return networkOf(project.project.elements);
}
