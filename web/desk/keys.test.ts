import { describe, expect, it } from 'vitest';
import { keyName } from './actions';
import { matches } from './keys';

const stroke = (key: string, held = '') => ({
  key,
  ctrlKey: held.includes('c'),
  metaKey: held.includes('m'),
  altKey: held.includes('a'),
  shiftKey: held.includes('s'),
});

describe('keys', () => {
  it.each([
    ['z', 'c', 'mod+z', true],
    ['z', 'm', 'mod+z', true],
    ['Z', 'cs', 'mod+shift+z', true],
    ['Z', 'cs', 'mod+z', false],
    ['h', '', 'shift+h', false],
    ['H', 's', 'shift+h', true],
    ['?', 's', '?', true],
    ['?', '', '?', true],
    ['.', 's', '.', true],
    ['b', 'c', 'b', false],
    ['ArrowLeft', 'a', 'alt+ArrowLeft', true],
    ['ArrowLeft', '', 'alt+ArrowLeft', false],
  ])('%s with %s held is %s: %s', (key, held, written, is) => expect(matches(stroke(key, held), written)).toBe(is));
  it('are named as printed on the keyboard', () => {
    expect(['mod+shift+z', 'alt+ArrowUp', 'q', '?'].map(keyName)).toEqual(['Ctrl Shift Z', 'Alt ↑', 'Q', '?']);
  });
});
