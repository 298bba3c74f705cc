/** What documents say of the code, held against it. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import {
  activeFrom,
  commands,
  head,
  magic,
  mapVersion,
  mostSlots,
  slotLength,
  stagedFrom,
  statuses,
} from '../core/src/sheets/registerMap';

const root = join(import.meta.dirname, '..');
const text = (file: string) => readFileSync(join(root, file), 'utf8');

describe('the checklist of security', () => {
  const rows = text('docs/security.md')
    .split('\n')
    .filter((line) => line.startsWith('|') && !/^\| (ASVS|-)/.test(line))
    .map((line) => line.split('|').map((cell) => cell.trim()));
  it('names files and tests that are there', () => {
    expect(rows.length).toBeGreaterThan(35);
    for (const [, number, asked, met, tests] of rows) {
      expect(number, asked).toMatch(/^[\d., –]+$/);
      const files = (cell: string) =>
        [...cell.matchAll(/`([^`]+)`/g)].map(([, file]) => file).filter((file) => file.includes('.'));
      expect(files(met).length, asked).toBeGreaterThan(0);
      for (const file of [...files(met), ...files(tests)])
        expect(existsSync(join(root, file)), `${number}: ${file}`).toBe(true);
      if (tests !== '–') for (const file of files(tests)) expect(file, number).toMatch(/\.(test|spec)\.ts$|campaign/);
    }
    expect(rows.filter(([, , , , tests]) => tests === '–').length).toBeLessThanOrEqual(2);
  });
});

describe('the register map of the simulated relay', () => {
  const doc = text('docs/simulated-relay.md');
  it('is the one that the code has', () => {
    for (const [name, at] of Object.entries(head)) {
      if (name === 'nameLength') continue;
      expect(doc, name).toMatch(new RegExp(`\\| ${at} +\\| ${name} `));
    }
    expect(doc).toContain(String(magic));
    expect(doc).toContain(`of this map: ${mapVersion}`);
    expect(doc).toMatch(new RegExp(`\\| ${activeFrom} +\\|`));
    expect(doc).toMatch(new RegExp(`\\| ${stagedFrom} +\\|.*room for ${mostSlots}`));
    expect(slotLength).toBe(8);
    expect(commands).toEqual({ clear: 1, take: 2, deviate: 3, obey: 4 });
    expect(statuses).toEqual({ idle: 0, staged: 1, taken: 2, refused: 3 });
  });
});
