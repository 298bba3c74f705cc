/** Elements as earlier versions wrote them. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readProject, writeProject } from '../formats/project/project';
import { elementSchema, type Element } from './element';
import { elementId } from './fields';
import { find, networkOf, ofKind } from './network';
import { breakersOf, firstCtOf } from './protection';
import { applyStored, storedChangeSchema } from './storedChanges';
import { upgradedElement } from './upgrade';

const text = readFileSync(new URL('../../reference/projects/version-1.json', import.meta.url), 'utf8');
interface Earlier {
  id: string;
  kind: string;
  ct: string;
  trips: string[];
  towards: 0 | 1;
  functions: { id: string; code: string; pickup: number }[];
}
const raw = (JSON.parse(text) as { version: number; elements: Earlier[] }).elements;

describe('a project of format version 1', () => {
  const read = readProject(text);
  if (!read.ok) throw new Error(read.problems[0].message);
  const network = networkOf(read.project.elements);
  it('opens, every relay with its input, its trip circuit and its functions', () => {
    const earlier = raw.filter(({ kind }) => kind === 'relay');
    expect(earlier).toHaveLength(6);
    for (const before of earlier) {
      const now = find(network, 'relay', before.id as never)!;
      expect(firstCtOf(now)).toBe(before.ct);
      expect(now.inputs[0].towards).toBe(before.towards);
      expect(breakersOf(now)).toEqual(before.trips);
      expect(now.functions).toMatchObject(
        before.functions.map((fn) => ({ ...fn, family: 'overcurrent', input: now.inputs[0].id })),
      );
    }
  });
  it('is written in today’s version, and reads the same again', () => {
    const written = writeProject(read.project);
    expect((JSON.parse(written) as { version: number }).version).toBe(2);
    const again = readProject(written);
    expect(again.ok && again.project.elements).toEqual(read.project.elements);
  });
});

describe('steps of the history from before', () => {
  const read = elementSchema.parse(raw.find(({ id }) => id === 'bra-q32-relay'));
  const relay = read as Extract<Element, { kind: 'relay' }>;
  const elements = new Map([[relay.id, read]]);
  const after = (set: object) => {
    const change = storedChangeSchema.parse({ op: 'set', id: relay.id, set });
    return applyStored(elements, [change]).get(relay.id) as typeof relay;
  };
  it('that changed a current transformer, a side, a breaker, a function lie on top of today’s form', () => {
    expect(after({ ct: 'bra-ct41' }).inputs).toEqual([{ ...relay.inputs[0], element: 'bra-ct41' }]);
    expect(after({ towards: 0 }).inputs).toEqual([{ ...relay.inputs[0], towards: 0 }]);
    expect(after({ trips: ['x'] }).circuits).toEqual([{ ...relay.circuits[0], breakers: ['x'] }]);
    const {
      family: _,
      input: __,
      circuits: ___,
      ...fn
    } = relay.functions[0] as (typeof relay.functions)[number] & {
      pickup: number;
    };
    const set = after({ functions: [{ ...fn, pickup: 3 }] });
    expect(set.functions).toEqual([{ ...relay.functions[0], pickup: 3 }]);
    expect(elementSchema.safeParse(set).success).toBe(true);
  });
  it('that changed anything else leave the form alone', () => {
    expect(after({ name: 'R' })).toEqual({ ...relay, name: 'R' });
    for (const element of [...elements.values(), ...ofKind(networkOf([]), 'bus')])
      expect(upgradedElement(element)).toBe(element);
    for (const nonsense of [null, 3, 'relay', [], { kind: 'relay' }])
      expect(upgradedElement(nonsense)).toEqual(nonsense);
    expect(elementSchema.safeParse({ kind: 'relay', ct: 5, trips: 'x', functions: 7 }).success).toBe(false);
    expect(elementId('x')).toBe('x');
  });
});
