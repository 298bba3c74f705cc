/**
 * `npm run fuzz [-- FORMAT …] [--count N] [--from K]`: thousands of broken files for each format that is read. Each must be refused in words or taken in part, never throw, never offer
 * what does not fit, and never take long. Ends with 1 and the number of the file where one does not.
 */
import { hostile, seeds, tried } from '../core/src/test/hostileFiles';

const args = process.argv.slice(2);
const valueOf = (name: string, usual: number): number =>
  args.includes(name) ? Number(args[args.indexOf(name) + 1]) : usual;
const count = valueOf('--count', 10_000);
const from = valueOf('--from', 0);
const slowMs = 5000;

async function main(): Promise<void> {
  const asked = args.filter((arg, k) => !arg.startsWith('--') && !args[k - 1]?.startsWith('--'));
  const all = await seeds();
  const formats = [...new Set(all.map(({ format }) => format))].filter(
    (format) => asked.length === 0 || asked.includes(format),
  );
  let failures = 0;
  for (const format of formats) {
    const own = all.filter((seed) => seed.format === format);
    const ends = new Map<string, number>();
    let [slowest, wrong] = [0, 0];
    for (let k = from; k < from + count; k++) {
      const started = performance.now();
      let end: string;
      try {
        const result = await tried('file', hostile(own[k % own.length], k), format);
        end = result.end;
        if (end === 'does not fit' || (end === 'refused' && result.message === '')) {
          wrong++;
          console.log(`${format} ${k}: ${end}: ${result.message}`);
        }
      } catch (error) {
        end = 'threw';
        wrong++;
        console.log(`${format} ${k}: ${(error as Error).stack?.split('\n').slice(0, 4).join(' | ')}`);
      }
      const ms = performance.now() - started;
      slowest = Math.max(slowest, ms);
      if (ms > slowMs) {
        wrong++;
        console.log(`${format} ${k}: took ${Math.round(ms)} ms`);
      }
      ends.set(end, (ends.get(end) ?? 0) + 1);
    }
    failures += wrong;
    console.log(
      JSON.stringify({ format, files: count, ...Object.fromEntries(ends), slowestMs: Math.round(slowest), wrong }),
    );
  }
  process.exitCode = failures > 0 ? 1 : 0;
}

void main();
