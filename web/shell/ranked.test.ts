import { describe, expect, it } from 'vitest';
import { firstOf, ranked } from './ranked';

const groups = [
  {
    group: 'Do',
    actions: [
      { id: 'place', label: 'Place full-converter source' },
      { id: 'fit', label: 'Zoom to fit' },
    ],
  },
  {
    group: 'Find',
    actions: [
      { id: 'b', label: 'Source B', description: 'Bus' },
      { id: 'a', label: 'Source' },
    ],
  },
];
const order = (query: string) =>
  ranked(query, groups).flatMap((group) => ('actions' in group ? group.actions.map(({ id }) => id) : []));

describe('the command search', () => {
  it('puts the whole name first, then beginnings, then parts', () => {
    expect(order('source')).toEqual(['a', 'b', 'place']);
    expect(order(' SOURCE b')).toEqual(['b']);
    expect(order('place')).toEqual(['place']);
    expect(order('bus')).toEqual(['b']);
    expect(order('nothing of that')).toEqual([]);
    expect(order('')).toEqual(['place', 'fit', 'b', 'a']);
  });
  it('takes the best on Enter, and nothing while nothing is typed', () => {
    expect(firstOf('SOURCE', groups)?.id).toBe('a');
    expect(firstOf('fit', groups)?.id).toBe('fit');
    expect(firstOf(' ', groups)).toBeNull();
    expect(firstOf('nothing of that', groups)).toBeNull();
  });
});
