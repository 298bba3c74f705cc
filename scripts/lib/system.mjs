/** What the machine must have: Debian packages and npm packages, installed when missing. */
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { accessSync, constants, existsSync, mkdirSync, readFileSync, statfsSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..', '..');
export const dataDir = resolve(root, process.env.MESURA_DATA_DIR ?? '.data');

/** An error to be shown as one plain sentence, without a stack. */
export class Plain extends Error {}

export const isRoot = process.getuid?.() === 0;

export function findProgram(name) {
  for (const dir of [...(process.env.PATH ?? '').split(':'), '/usr/sbin', '/usr/local/sbin', '/usr/bin']) {
    const file = join(dir, name);
    try {
      accessSync(file, constants.X_OK);
      return file;
    } catch {
      // not in this folder
    }
  }
  return null;
}

/** Installs Debian packages whose programs are missing. `wanted`: program name to package name. */
export function ensureDebianPackages(wanted) {
  const missing = Object.entries(wanted).filter(([program]) => !findProgram(program));
  if (missing.length === 0) return;
  const packages = [...new Set(missing.map(([, name]) => name))];
  const command = `apt-get install -y --no-install-recommends ${packages.join(' ')}`;
  const sudo = !isRoot && findProgram('sudo') && spawnSync('sudo', ['-n', 'true']).status === 0 ? ['sudo', '-n'] : [];
  if (!findProgram('apt-get') || (!isRoot && sudo.length === 0))
    throw new Plain(
      `${packages.join(' and ')} must be installed first, by somebody with the right to do so:\n  sudo ${command}`,
    );
  console.log(`Installing ${packages.join(', ')} …`);
  const env = ['env', 'DEBIAN_FRONTEND=noninteractive'];
  run([...sudo, ...env, 'apt-get', 'update', '-qq']);
  if (!run([...sudo, ...env, ...command.split(' ')]))
    throw new Plain(`Installing ${packages.join(', ')} failed. Try it by hand to see why:\n  sudo ${command}`);
}

function run([program, ...args]) {
  const result = spawnSync(program, args, { stdio: ['ignore', 'ignore', 'pipe'], encoding: 'utf8' });
  if (result.status !== 0 && result.stderr) console.error(result.stderr.trim().split('\n').slice(-5).join('\n'));
  return result.status === 0;
}

/** `npm ci` when the packages are not those of the lock file. */
export function ensureNodePackages() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 9))
    throw new Plain(`Mesura needs Node 20.9 or newer; this is ${process.version}.`);
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = join(root, 'node_modules', '.mesura-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing packages (npm ci) …');
  const result = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  if (result.status !== 0) throw new Plain('npm ci failed; its message stands above.');
  writeFileSync(stamp, lock);
}

/** Refuses to go on when the disk under `dir` has less than this free. */
export function requireDiskSpace(dir, megabytes) {
  mkdirSync(dir, { recursive: true });
  const { bavail, bsize } = statfsSync(dir);
  const free = Math.floor((bavail * bsize) / 1e6);
  if (free < megabytes)
    throw new Plain(
      `The disk under ${dir} is full: ${free} MB free, ${megabytes} MB needed. Make room, or choose another place with MESURA_DATA_DIR.`,
    );
}

/** Runs main, turning plain errors and a full disk into one sentence. */
export function guarded(main) {
  main().catch((error) => {
    if (error instanceof Plain) console.error(`\n${error.message}`);
    else if (error?.code === 'ENOSPC')
      console.error('\nThe disk is full. Make room and start again; nothing stored is lost.');
    else if (error?.code === 'EACCES')
      console.error(`\nNo permission for ${error.path}. Choose another place with MESURA_DATA_DIR.`);
    else console.error(error);
    process.exit(1);
  });
}
