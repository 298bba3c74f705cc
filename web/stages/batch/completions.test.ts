import { CompletionContext } from '@codemirror/autocomplete';
import { EditorState } from '@codemirror/state';
import { describe, expect, it } from 'vitest';
import { demoNetwork } from '@mesura/core/test/demo';
import { completionsFor } from './completions';

const network = demoNetwork();
const complete = completionsFor(() => network);
/** What is offered at the end of a text. */
const offered = (text: string, explicit = true): string[] =>
  (complete(new CompletionContext(EditorState.create({ doc: text }), text.length, explicit))?.options ?? []).map(
    ({ label }) => label,
  );

describe('what can come next in a script', () => {
  it('are the words of scripts', () => {
    expect(offered('pr')).toEqual(expect.arrayContaining(['project', 'print', 'progress', 'table', 'plot', 'files']));
    expect(offered('project.')).toEqual(expect.arrayContaining(['elements', 'study', 'table', 'set', 'update']));
    expect(offered('project.')).not.toContain('print');
    expect(offered('files.')).toEqual(['text', 'csv', 'workbook']);
  });
  it('are studies, their options, kinds and names between quotes', () => {
    expect(offered("project.study('")).toEqual(expect.arrayContaining(['faults', 'flow', 'sheet']));
    expect(offered("project.study('")).not.toContain('script');
    expect(offered("project.elements('")).toEqual(expect.arrayContaining(['bus', 'transformer']));
    const options = offered("project.table('faults', { a");
    expect(options).toEqual(expect.arrayContaining(['at', 'kind', 'earthR', 'set', 'columns']));
    expect(options).not.toContain('strategy');
    expect(offered("project.table('faults', { at: ['BR")).toEqual(expect.arrayContaining(['BRA 11 A', 'BRA T1']));
  });
  it('are nothing where nobody asked and nothing was begun', () => {
    expect(offered('', false)).toEqual([]);
    expect(offered("const a = '", false)).toEqual([]);
  });
});
