/**
 * Optional: the kernel beside a general C library for sparse LU of circuit matrices, on the same matrix, in turn on this machine. Wants a C compiler and
 * Debian's libsuitesparse-dev; no part of the product. `node scripts/bench/compare.mjs [buses …]`
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';
import { root } from '../lib/system.mjs';

const sizes = process.argv.slice(2).length > 0 ? process.argv.slice(2) : ['10000', '100000'];
const scratch = mkdtempSync(join(tmpdir(), 'mesura-compare-'));
const run = (command, args) => {
  const { status, stdout, stderr } = spawnSync(command, args, { encoding: 'utf8' });
  if (status !== 0) throw new Error(`${command} failed: ${stderr}`);
  return stdout;
};
try {
  const own = join(scratch, 'own.mjs');
  const entry = join(root, 'scripts/bench/exported.ts');
  await build({ entryPoints: [entry], outfile: own, bundle: true, platform: 'node', format: 'esm', logLevel: 'error' });
  const source = join(scratch, 'lu.c');
  writeFileSync(source, program());
  const c = join(scratch, 'lu');
  run('cc', ['-O2', '-I/usr/include/suitesparse', source, '-o', c, '-lklu', '-lm']);
  for (const n of sizes) {
    const file = join(scratch, `${n}.bin`);
    const ours = JSON.parse(run(process.execPath, [own, n, file]));
    const theirs = JSON.parse(run(c, [file]));
    const ratio = Object.fromEntries(
      Object.keys(theirs).map((key) => [key, Number((ours[key] / theirs[key]).toFixed(2))]),
    );
    console.log(JSON.stringify({ buses: Number(n), milliseconds: { kernel: ours, c: theirs }, ratio }));
  }
} finally {
  rmSync(scratch, { recursive: true, force: true });
}

/** Reads n, entries, columns, rows and values as binary; says medians in milliseconds. */
function program() {
  return `
#include <stdio.h>
#include <stdlib.h>
#include <time.h>
#include <klu.h>
static double now(void) { struct timespec t; clock_gettime(CLOCK_MONOTONIC, &t); return t.tv_sec * 1e3 + t.tv_nsec / 1e6; }
static int compare(const void *p, const void *q) { double d = *(double *)p - *(double *)q; return d < 0 ? -1 : d > 0; }
#define MEDIAN(name, work) do { double t[41]; for (int k = 0; k < 41; k++) { double s = now(); work; t[k] = now() - s; } \\
  qsort(t, 41, sizeof(double), compare); name = t[20]; } while (0)
int main(int argc, char **argv) {
  FILE *f = fopen(argv[1], "rb"); int head[2];
  if (argc < 2 || !f || fread(head, 4, 2, f) != 2) return 1;
  int n = head[0], nz = head[1];
  int *start = malloc(4 * (n + 1)), *row = malloc(4 * nz); double *value = malloc(16 * nz), *b = malloc(16 * n);
  if (fread(start, 4, n + 1, f) != (size_t)n + 1 || fread(row, 4, nz, f) != (size_t)nz || fread(value, 8, 2 * nz, f) != (size_t)2 * nz) return 1;
  klu_common common; klu_defaults(&common);
  klu_symbolic *symbolic; klu_numeric *numeric; double order, factor, refactor, solve;
  MEDIAN(order, symbolic = klu_analyze(n, start, row, &common));
  MEDIAN(factor, numeric = klu_z_factor(start, row, value, symbolic, &common));
  if (!numeric) return 2;
  MEDIAN(refactor, klu_z_refactor(start, row, value, symbolic, numeric, &common));
  MEDIAN(solve, { for (int i = 0; i < 2 * n; i++) b[i] = 1; klu_z_solve(symbolic, numeric, n, 1, b, &common); });
  printf("{\\"orderAndFactor\\":%.4f,\\"refactor\\":%.4f,\\"solve\\":%.4f,\\"entriesOfL\\":%d}\\n", order + factor, refactor, solve, numeric->lnz);
  return 0;
}
`;
}
