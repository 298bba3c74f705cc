'use client';

import { useMemo } from 'react';
import { useComputedColorScheme } from '@mantine/core';
import CodeMirror, { EditorView } from '@uiw/react-codemirror';
import { autocompletion } from '@codemirror/autocomplete';
import { javascript } from '@codemirror/lang-javascript';
import { useProjectStore } from '../../project/ProjectContext';
import { completionsFor } from './completions';

interface ScriptEditorProps {
  readonly text: string;
  readonly readOnly: boolean;
  readonly failedLine: number | null;
  readonly onChange: (text: string) => void;
  readonly onRun: () => void;
  readonly onLeave: () => void;
}

const look = EditorView.theme({
  '&': { fontSize: '12.5px', border: '1px solid var(--m-rule)' },
  '.cm-content, .cm-gutters': { fontFamily: '"IBM Plex Mono", monospace' },
  '.cm-gutters': { backgroundColor: 'transparent', borderRight: '1px solid var(--m-rule)' },
});

/** TypeScript with what scripts can say, studies, their options and the names of elements to choose from. Tab leaves it; Escape first where a list is open. */
export function ScriptEditor({ text, readOnly, failedLine, onChange, onRun, onLeave }: ScriptEditorProps) {
  const scheme = useComputedColorScheme('light');
  const store = useProjectStore();
  const extensions = useMemo(
    () => [
      javascript({ typescript: true }),
      look,
      autocompletion({ override: [completionsFor(() => store.getState().network)] }),
      EditorView.contentAttributes.of({ 'aria-label': 'Text of the script' }),
      EditorView.lineWrapping,
    ],
    [store],
  );
  return (
    <div
      onKeyDownCapture={(event) => {
        if (!(event.ctrlKey || event.metaKey) || event.key !== 'Enter') return;
        event.preventDefault();
        event.stopPropagation();
        onRun();
      }}
    >
      <CodeMirror
        value={text}
        theme={scheme}
        minHeight="160px"
        maxHeight="46vh"
        readOnly={readOnly}
        extensions={extensions}
        indentWithTab={false}
        basicSetup={{ autocompletion: false, foldGutter: false, highlightActiveLine: failedLine === null }}
        onChange={onChange}
        onBlur={onLeave}
      />
    </div>
  );
}
