/** A project file of a made-up network (scripts/bigNetwork.ts). */
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { root } from './system.mjs';

const program = `
import { writeFileSync } from 'node:fs';
import { writeProject } from './core/src/formats/project';
import { bigNetwork } from './scripts/bigNetwork';
const buses = Number(process.env.BUSES);
writeFileSync(process.env.OUT!, writeProject({ name: \`Mesh of \${buses} buses\`, notes: '', elements: bigNetwork(buses) }));
`;

/** Writes it into a folder and returns where it is. */
export function meshFile(buses, folder) {
  const file = join(folder, `mesh-${buses}.json`);
  execFileSync(process.execPath, [join(root, 'node_modules/tsx/dist/cli.mjs'), '-e', program], {
    cwd: root,
    env: { ...process.env, OUT: file, BUSES: String(buses) },
  });
  return file;
}
