/** Runs a TypeScript file with tsx as a library of this checkout, so that it works from any folder and passes exit codes on. */
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const tsx = join(root, 'node_modules/tsx/dist/cli.mjs');
if (!existsSync(tsx)) {
  console.error('The packages are not installed yet: run "npm ci" (or "npm start", which does it).');
  process.exit(1);
}
const [script, ...args] = process.argv.slice(2);
// npm runs scripts in the root of the checkout; file arguments are meant from where the user stands.
const result = spawnSync(process.execPath, [tsx, join(root, script), ...args], {
  stdio: 'inherit',
  cwd: process.env.INIT_CWD ?? process.cwd(),
});
process.exit(result.status ?? 1);
