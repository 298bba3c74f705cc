/** `npm run backup FILE` and `npm run restore FILE`, behind scripts/backup.mjs: MESURA_DATABASE_URL names the database. */
import { createReadStream, createWriteStream, renameSync, rmSync } from 'node:fs';
import { createInterface } from 'node:readline';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import {
  archiveConnection,
  archiveLines,
  restoreArchive,
  verifyArchive,
  type ArchiveCount,
} from '../web/server/archive';
import { closePool } from '../web/server/database';
import { brokenSeals } from '../web/server/sheets/seal';
import { migrate } from '../web/server/migrate';
import { join } from 'node:path';

const [what, file] = process.argv.slice(2);
const uri = process.env.MESURA_DATABASE_URL!;

const linesOf = (path: string) =>
  createInterface({ input: createReadStream(path).pipe(createGunzip()), crlfDelay: Infinity });

const told = ({ projects, elements, changes, sheets, digest }: ArchiveCount) =>
  `${projects} projects, ${elements} elements, ${changes} steps, ${sheets} issued sheets; digest ${digest}`;

async function backup(): Promise<void> {
  const connection = await archiveConnection(uri);
  const count: ArchiveCount = { projects: 0, elements: 0, changes: 0, sheets: 0, digest: '' };
  const beside = `${file}.part`;
  try {
    await pipeline(
      Readable.from(archiveLines(connection, null, count)),
      createGzip(),
      createWriteStream(beside, { mode: 0o600 }),
    );
    // Read again from the disk: a backup that cannot be read is none.
    const seen = await verifyArchive(linesOf(beside));
    if (seen.digest !== count.digest) throw new Error('what was written is not what was read');
    renameSync(beside, file);
    console.log(`${file}: ${told(count)}`);
  } finally {
    rmSync(beside, { force: true });
    await connection.end();
  }
}

async function restore(): Promise<void> {
  const count = await verifyArchive(linesOf(file));
  console.log(`${file}: ${told(count)}`);
  await migrate(join(import.meta.dirname, '../web/server/migrations'), process.env.MESURA_OWNER_URL ?? uri);
  const connection = await archiveConnection(uri);
  try {
    for (const { name, id } of await restoreArchive(connection, linesOf(file))) {
      if (id === null) {
        console.log(`  ${name}: is there already, left as it is`);
        continue;
      }
      const broken = await brokenSeals(id);
      const seals = broken.length === 0 ? '' : `; ${broken.length} sheets whose seal does not fit: look at them`;
      console.log(`  ${name}: restored${seals}`);
    }
  } finally {
    await connection.end();
    await closePool();
  }
}

try {
  await (what === 'backup' ? backup() : restore());
} catch (error) {
  console.error((error as Error).message);
  process.exitCode = 1;
}
