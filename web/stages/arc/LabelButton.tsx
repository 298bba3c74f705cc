'use client';

import { useState } from 'react';
import { Button, Checkbox, Popover, Select, Stack } from '@mantine/core';
import { IconTag } from '@tabler/icons-react';
import { labelLayouts, labelWords, type LabelLanguage, type LabelLayout } from '@mesura/core/arc/labels';
import type { ArcLine } from '@mesura/core/arc/table';
import { useDesk } from '../../desk/deskState';
import { tell } from '../../desk/report';
import { saveReport } from '../../project/reports';
import { useArcState } from './state';

/** Labels of the places in the list, on sheets to print. */
export function LabelButton({ rows }: { rows: readonly ArcLine[] }) {
  const projectId = useDesk((state) => state.projectId);
  const { maintenance } = useArcState();
  const [busy, setBusy] = useState(false);
  const [layout, setLayout] = useState<LabelLayout>('single');
  const [language, setLanguage] = useState<LabelLanguage>('en');
  const [code, setCode] = useState(false);
  const places = rows.filter(({ worst }) => worst !== null).map(({ key }) => key);
  const save = async () => {
    setBusy(true);
    try {
      await saveReport(projectId, { study: 'arcLabels', layout, language, code, maintenance, places, format: 'pdf' });
    } catch (error) {
      tell('The labels could not be made', (error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Popover withinPortal position="bottom-end" trapFocus>
      <Popover.Target>
        <Button
          size="compact-xs"
          variant="default"
          disabled={places.length === 0}
          leftSection={<IconTag size={13} />}
          title="Labels of the places in the list"
        >
          Labels ({places.length})
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <Stack gap={8}>
          <Select
            size="xs"
            label="Sheet"
            allowDeselect={false}
            comboboxProps={{ withinPortal: false }}
            value={layout}
            data={Object.entries(labelLayouts).map(([value, { title }]) => ({ value, label: title }))}
            onChange={(next) => setLayout(next as LabelLayout)}
          />
          <Select
            size="xs"
            label="Language"
            allowDeselect={false}
            comboboxProps={{ withinPortal: false }}
            value={language}
            data={Object.entries(labelWords).map(([value, words]) => ({ value, label: words.language }))}
            onChange={(next) => setLanguage(next as LabelLanguage)}
          />
          <Checkbox
            size="xs"
            label="with a QR code"
            checked={code}
            onChange={(event) => setCode(event.currentTarget.checked)}
          />
          <Button size="xs" loading={busy} onClick={() => void save()}>
            Save {places.length} as PDF
          </Button>
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
