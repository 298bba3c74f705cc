'use client';

import { ActionIcon, Button, FileButton } from '@mantine/core';
import { IconPlus, IconTrash } from '@tabler/icons-react';
import type { LabelLine } from '@mesura/core/model/arc';
import { settingsId, type ProjectSettings } from '@mesura/core/model/element';
import { settingsOf } from '@mesura/core/model/network';
import { TextField } from '../../card/TextField';
import { tell } from '../../desk/report';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

const mostLines = 3;

/** What labels say beside the figures: lines of one's own, and the mark of the company. */
export function LabelSettings() {
  const store = useProjectStore();
  const { arc, mark } = useProject((state) => settingsOf(state.network));
  const { labelLines } = arc;
  const put = (part: (settings: ProjectSettings) => Partial<ProjectSettings>, what: string): string | null => {
    const { network, commit } = store.getState();
    const settings = { ...settingsOf(network), id: settingsId };
    const op = network.elements.has(settingsId) ? ('update' as const) : ('add' as const);
    const result = commit([{ op, element: { ...settings, ...part(settings) } }], `Labels: ${what}`);
    return result.ok ? null : result.problems[0].message;
  };
  const putLines = (lines: readonly LabelLine[], what: string) =>
    put((settings) => ({ arc: { ...settings.arc, labelLines: [...lines] } }), what);
  const changed = (k: number, part: Partial<LabelLine>) =>
    labelLines.map((each, at) => (at === k ? { ...each, ...part } : each));
  const takeMark = async (file: File | null) => {
    if (!file) return;
    const text = await dataOf(file);
    const problem = put(() => ({ mark: text }), 'company mark');
    if (problem) tell('The picture is not taken', problem);
  };
  return (
    <section aria-label="Labels">
      <h3 className={bench.subtitle} style={{ marginTop: 10 }}>
        Labels
      </h3>
      <table className={`${bench.table} figures`} aria-label="Own lines of labels">
        <tbody>
          {labelLines.map(({ title, text }, k) => (
            <tr key={k}>
              <td style={{ width: 150 }}>
                <TextField
                  compact
                  label={`Name of line ${k + 1}`}
                  value={title}
                  onCommit={(next) => putLines(changed(k, { title: next }), 'name of a line')}
                />
              </td>
              <td>
                <TextField
                  compact
                  label={`Text of line ${k + 1}`}
                  value={text}
                  onCommit={(next) => putLines(changed(k, { text: next }), 'text of a line')}
                />
              </td>
              <td style={{ width: 34 }}>
                <ActionIcon
                  size="sm"
                  variant="subtle"
                  color="gray"
                  aria-label={`Remove line ${k + 1}`}
                  onClick={() =>
                    putLines(
                      labelLines.filter((_, at) => at !== k),
                      'line removed',
                    )
                  }
                >
                  <IconTrash size={14} />
                </ActionIcon>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className={bench.muted} style={{ margin: '4px 0' }}>
        In a text {'{place}'}, {'{note}'} and {'{source}'} stand for the place, the note of its busbar and what ends the
        arc.
      </p>
      <div className={bench.head}>
        <Button
          size="compact-xs"
          variant="light"
          leftSection={<IconPlus size={13} />}
          disabled={labelLines.length >= mostLines}
          onClick={() => putLines([...labelLines, { title: 'Equipment', text: '{place}' }], 'another line')}
        >
          Add line
        </Button>
        <FileButton accept="image/png,image/jpeg" onChange={(file) => void takeMark(file)}>
          {(props) => (
            <Button {...props} size="compact-xs" variant="light">
              {mark ? 'Another company mark' : 'Company mark'}
            </Button>
          )}
        </FileButton>
        {mark && (
          <>
            {/* eslint-disable-next-line @next/next/no-img-element -- a picture that the project itself holds */}
            <img src={mark} alt="Company mark" style={{ maxHeight: 26, maxWidth: 90 }} />
            <Button size="compact-xs" variant="subtle" onClick={() => put(() => ({ mark: null }), 'no company mark')}>
              Remove
            </Button>
          </>
        )}
      </div>
    </section>
  );
}

const dataOf = (file: File): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.onerror = () => reject(reader.error ?? new Error('the file cannot be read'));
    reader.readAsDataURL(file);
  });
