/** Broken files of every format, a few of each kind: thousands are tried by `npm run fuzz`. */
import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { hostile, seeds, tried } from '../test/hostileFiles';
import { runs } from '../test/runs';
import { unbundled } from './bundle';
import { bytesOf, opened } from './open';

const text = (value: string) => new TextEncoder().encode(value);

describe('whatever a file is', () => {
  it('it is refused in words or taken in part, and never brings what does not fit', async () => {
    const all = await seeds();
    const ends = new Map<string, number>();
    for (const [j, seed] of all.entries())
      for (let k = 0; k < runs(24); k++) {
        const result = await tried('file', hostile(seed, 1000 * j + k), seed.format);
        expect(result.end, `${seed.format} ${1000 * j + k}: ${result.message}`).not.toBe('does not fit');
        if (result.end === 'refused') expect(result.message).not.toBe('');
        ends.set(result.end, (ends.get(result.end) ?? 0) + 1);
      }
    for (const end of ['refused', 'taken', 'unknown']) expect(ends.get(end), end).toBeGreaterThan(5);
  });
});

describe('a bundle', () => {
  it('gives its files, in folders or not', () => {
    const files = unbundled(zipSync({ 'a.xml': text('one'), 'x/b.xml': text('two'), 'x/': new Uint8Array() }));
    expect(files.map(({ name, bytes }) => [name, new TextDecoder().decode(bytes)])).toEqual([
      ['a.xml', 'one'],
      ['x/b.xml', 'two'],
    ]);
  });
  it('is measured as it comes out, whatever it says of itself', async () => {
    const bomb = zipSync({ 'a.xml': new Uint8Array(3 << 20) }, { level: 9 });
    expect(bomb.length).toBeLessThan(20_000);
    expect(() => unbundled(bomb, { files: 10, bytes: 1 << 20 })).toThrow('larger than 1 MB');
    // The sizes in its heads may lie.
    const liar = bomb.slice();
    for (let k = 0; k + 4 < liar.length; k++)
      if (liar[k] === 0x50 && liar[k + 1] === 0x4b) liar.fill(1, k + 22, k + 26);
    expect(() => unbundled(liar, { files: 10, bytes: 1 << 20 })).toThrow();
    const many = zipSync(Object.fromEntries(Array.from({ length: 30 }, (_, k) => [`${k}`, text('x')])));
    expect(() => unbundled(many, { files: 20, bytes: 1 << 20 })).toThrow('more than 20 files');
    for (const cut of [bomb.slice(0, bomb.length / 2), bomb.slice(0, 10)]) {
      const result = await opened('b.zip', cut);
      expect(result.ok ? '' : result.message).toMatch(/^b\.zip is no workbook or bundle.*cut off/);
    }
  });
});

describe('formulas', () => {
  it('never come out of what a user wrote: neither in CSV nor in a workbook', async () => {
    const rows = [['=1+1', '+cmd', '-2+3', '@SUM(A1)', '\t=1', 'plain']];
    const csv = new TextDecoder().decode(await bytesOf([{ name: 'S', rows }], 'csv'));
    for (const cell of csv.trim().split(',')) expect(cell).toMatch(/^"?'|^plain/);
    const book = unbundled(await bytesOf([{ name: 'S', rows }], 'xlsx'));
    const sheet = new TextDecoder().decode(book.find(({ name }) => name.endsWith('sheet1.xml'))!.bytes);
    expect(sheet).not.toContain('<f>');
  });
});
