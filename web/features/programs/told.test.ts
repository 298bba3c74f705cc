import { describe, expect, it } from 'vitest';
import { openApi } from '../../server/programs/openapi';
import { operationsIn, type Description } from './told';

const groups = operationsIn(openApi() as unknown as Description);
const all = groups.flatMap(({ operations }) => operations);

describe('the description for programs as people read it', () => {
  it('holds every operation once, in groups', () => {
    expect(groups.map(({ group }) => group)).toEqual(['Description', 'Projects', 'Studies', 'Formulas']);
    expect(new Set(all.map(({ id }) => id)).size).toBe(all.length);
    expect(all.length).toBeGreaterThan(35);
    for (const { summary, answers } of all) {
      expect(summary).not.toBe('');
      expect(answers.length).toBeGreaterThan(0);
    }
  });
  it('tells fields with their place, form and meaning', () => {
    const faults = all.find(({ id }) => id === 'studyFaults')!;
    const field = (name: string) => faults.fields.find((each) => each.name === name)!;
    expect(faults.scope).toBe('study');
    expect(field('id')).toMatchObject({ place: 'address', isRequired: true });
    expect(field('prefer').place).toBe('head');
    expect(field('options.kind')).toMatchObject({ place: 'body', type: '3ph | 2ph | 2phE | 1ph | all' });
    expect(field('options.at').type).toBe('list of text');
    expect(field('options.earthR')).toMatchObject({ type: 'number', means: expect.stringContaining('ohms') as string });
    const page = all.find(({ id }) => id === 'getProjectsIdElements')!;
    expect(page.fields.find(({ name }) => name === 'limit')).toMatchObject({ place: 'query' });
    expect(all.find(({ id }) => id === 'postProjects')!.takesFile).toBe(true);
    expect(all.find(({ id }) => id === 'getOpenapiJson')!.scope).toBeNull();
  });
});
