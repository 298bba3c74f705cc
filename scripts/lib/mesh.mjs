/** A project file of a made-up network (scripts/mesh.ts). */
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { root } from './system.mjs';

/** Writes it into a folder and returns where it is. */
export function meshFile(buses, folder) {
  const file = join(folder, `mesh-${buses}.json`);
  execFileSync(
    process.execPath,
    [join(root, 'node_modules/tsx/dist/cli.mjs'), 'scripts/mesh.ts', String(buses), file],
    { cwd: root },
  );
  return file;
}
