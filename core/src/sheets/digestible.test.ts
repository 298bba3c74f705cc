import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { networkOfFile } from '../test/demo';
import { elementId } from '../model/fields';
import { Studies } from '../studies/studies';
import { digestible, inForm1, type StoredContent } from './digestible';
import { sheetContent } from './sheet';

const issued = JSON.parse(
  readFileSync(new URL('../../reference/projects/sheet-form-1.json', import.meta.url), 'utf8'),
) as StoredContent;
const network = networkOfFile('core/reference/projects/version-1.json');
const now = sheetContent(new Studies(network), elementId('bra-q32-relay'))!;

describe('what the digest of a sheet covers', () => {
  it('is all of a sheet issued before forms were numbered, and a draft of today in that form says the same', () => {
    expect(digestible(issued)).toBe(issued);
    expect(JSON.stringify(inForm1(now))).toBe(JSON.stringify(issued));
  });
  it('is data, not prose: another title for a characteristic changes nothing, another setting does', () => {
    const [first, ...rest] = now.functions;
    const digest = (content: StoredContent) => JSON.stringify(digestible(content));
    const same = digest(now);
    expect(digest({ ...now, functions: [{ ...first, characteristic: 'Very inverse' }, ...rest] })).toBe(same);
    expect(digest({ ...now, margins: now.margins.map((each) => ({ ...each, reason: 'otherwise' })) })).toBe(same);
    expect(digest({ ...now, functions: [{ ...first, curve: 'iecC' }, ...rest] })).not.toBe(same);
    expect(digest({ ...now, functions: [{ ...first, pickupIn: 1.01 }, ...rest] })).not.toBe(same);
    expect(digest({ ...now, faults: now.faults.slice(1) })).not.toBe(same);
    expect(same).not.toContain('inverse');
  });
  it('has no form 1 for what a condition of the project decides', () => {
    const [first, ...rest] = now.faults;
    expect(inForm1({ ...now, faults: [{ ...first, conditionId: elementId('own') }, ...rest] })).toBeNull();
  });
});
