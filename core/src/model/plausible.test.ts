/** Every number of the model has bounds, and a plausible one: nothing that overflows a calculation can be stored. */
import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { changeSchema } from './changes';
import { newElement } from './defaults';
import { elementSchema, defaultSettings } from './element';
import { elementId } from './fields';
import { networkOf, validateNetwork } from './network';
import { isStorable, storableText } from './text';

interface Json {
  type?: string;
  minimum?: number;
  maximum?: number;
  exclusiveMinimum?: number;
}

function numbersWithout(schema: Json, path: string, found: string[]): void {
  if (typeof schema !== 'object' || schema === null) return;
  if ((schema.type === 'number' || schema.type === 'integer') && !('const' in schema)) {
    const low = schema.minimum ?? schema.exclusiveMinimum ?? -Infinity;
    const high = schema.maximum ?? Infinity;
    if (!(low >= -1e7 && high <= 1e7)) found.push(`${path}: ${low} to ${high}`);
  }
  for (const [key, inner] of Object.entries(schema)) numbersWithout(inner as Json, `${path}.${key}`, found);
}

describe('bounds of plausibility', () => {
  it('every number of every kind of element has both bounds', () => {
    const found: string[] = [];
    numbersWithout(z.toJSONSchema(elementSchema, { io: 'input', unrepresentable: 'any' }) as Json, '', found);
    expect(found).toEqual([]);
  });
  it('what must be above nought cannot be next to nothing', () => {
    const small = { ...newElement('transformer', elementId('T'), 'T'), ratedMva: 1e-300 };
    expect(changeSchema.safeParse({ op: 'update', element: small }).success).toBe(false);
    expect(changeSchema.safeParse({ op: 'update', element: { ...small, ratedMva: 1e308 } }).success).toBe(false);
    expect(changeSchema.safeParse({ op: 'update', element: { ...small, ratedMva: 45 } }).success).toBe(true);
  });
  it('a project has one set of settings', () => {
    const second = { ...defaultSettings, id: elementId('other') };
    expect(validateNetwork(networkOf([defaultSettings, second]))).toMatchObject([{ code: 'settings.doubled' }]);
  });
  it('texts hold no NUL and no half of a pair', () => {
    expect(['plain', 'Ω ≤ 😀', ''].every(isStorable)).toBe(true);
    expect(['\0', '\ud83d', 'a\udc00b'].some(isStorable)).toBe(false);
    expect(storableText('a\0b\ud83dc😀')).toBe('abc😀');
  });
});
