'use client';

import { useState } from 'react';
import { ActionIcon, Button, Group, Modal, Select, TextInput } from '@mantine/core';
import { IconPlus, IconX } from '@tabler/icons-react';
import { settingsOf } from '@mesura/core/model/network';
import { sheetLanguages, type SheetLanguage } from '@mesura/core/model/sheetSettings';
import { report } from '../../desk/report';
import { useProject } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

const languageTitles: Readonly<Record<SheetLanguage, string>> = {
  en: 'English (1.25)',
  de: 'Deutsch (1,25)',
  fr: 'Français (1,25)',
  es: 'Español (1,25)',
};

/** How sheets of this project are written: the language of units, and what the company adds to the title block. */
export function TitleBlockDialog({ onClose }: { onClose: () => void }) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const settings = settingsOf(network);
  const [language, setLanguage] = useState(settings.sheets.language);
  const [lines, setLines] = useState(settings.sheets.titleLines);
  const set = (k: number, to: Partial<(typeof lines)[number]>) =>
    setLines(lines.map((line, j) => (j === k ? { ...line, ...to } : line)));
  const store = () => {
    const titleLines = lines.filter(({ title }) => title.trim() !== '');
    const result = commit(
      [{ op: 'update', element: { ...settings, sheets: { language, titleLines } } }],
      'Title block of the sheets',
    );
    report(result);
    if (result.ok) onClose();
  };
  return (
    <Modal opened onClose={onClose} title="Title block and units">
      <Select
        label="Language of units and heads"
        description="Of the tables of values, with its decimal mark: whoever enters them reads it"
        data={sheetLanguages.map((value) => ({ value, label: languageTitles[value] }))}
        value={language}
        onChange={(value) => setLanguage((value ?? 'en') as SheetLanguage)}
        allowDeselect={false}
      />
      <p className={bench.muted}>
        The owner and the company mark stand in the project settings. Up to four further fields of the title block:
      </p>
      {lines.map((line, k) => (
        <Group key={k} gap={6} mb={6} wrap="nowrap">
          <TextInput
            aria-label={`Field ${k + 1}`}
            placeholder="Job number"
            value={line.title}
            maxLength={30}
            onChange={(event) => set(k, { title: event.currentTarget.value })}
          />
          <TextInput
            aria-label={`Text ${k + 1}`}
            value={line.text}
            maxLength={60}
            style={{ flex: 1 }}
            onChange={(event) => set(k, { text: event.currentTarget.value })}
          />
          <ActionIcon
            variant="subtle"
            aria-label={`Remove field ${k + 1}`}
            onClick={() => setLines(lines.filter((_, j) => j !== k))}
          >
            <IconX size={15} />
          </ActionIcon>
        </Group>
      ))}
      <Group justify="space-between" mt="sm">
        <Button
          variant="default"
          size="compact-sm"
          leftSection={<IconPlus size={14} />}
          disabled={lines.length >= 4}
          onClick={() => setLines([...lines, { title: '', text: '' }])}
        >
          Field
        </Button>
        <Button onClick={store}>Store</Button>
      </Group>
    </Modal>
  );
}
