/** Processes that an earlier run may have left behind, and ending them in order. */
import { readdirSync, readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';

export function isAlive(pid) {
  try {
    process.kill(pid, 0);
    // A zombie still answers; it holds nothing.
    return !/^State:\s+Z/m.test(readFileSync(`/proc/${pid}/status`, 'utf8'));
  } catch (error) {
    return error.code === 'EPERM';
  }
}

/** True when the process is alive and its command line contains `part`: process numbers are used again. */
export function isOurs(pid, part) {
  if (!Number.isInteger(pid) || pid < 2 || !isAlive(pid)) return false;
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ').includes(part);
  } catch {
    return false;
  }
}

/** SIGTERM, and SIGKILL after a while. */
export async function end(pid, patienceMs = 20000) {
  try {
    process.kill(pid, 'SIGTERM');
  } catch {
    return;
  }
  for (let waited = 0; waited < patienceMs; waited += 50) {
    if (!isAlive(pid)) return;
    await sleep(50);
  }
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // gone meanwhile
  }
}

/** Live processes whose command line contains `part` and whose environment has these values. */
export function processesWith(part, values) {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name) && Number(name) !== process.pid)
    .map(Number)
    .filter((pid) => {
      if (!isOurs(pid, part)) return false;
      try {
        const own = readFileSync(`/proc/${pid}/environ`, 'utf8').split('\0');
        return Object.entries(values).every(([name, value]) => own.includes(`${name}=${value}`));
      } catch {
        return false;
      }
    });
}
