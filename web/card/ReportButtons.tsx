'use client';

import { useRef, useState } from 'react';
import { Button, Menu } from '@mantine/core';
import { IconFileDownload, IconX } from '@tabler/icons-react';
import { useDesk } from '../desk/deskState';
import { tell } from '../desk/report';
import { saveReport } from '../project/reports';

/** Saves a report of the study as PDF or workbook; a long one can be cancelled. */
export function ReportButtons({ request, label = 'Report' }: { request: object; label?: string }) {
  const projectId = useDesk((state) => state.projectId);
  const [busy, setBusy] = useState(false);
  const running = useRef<AbortController | null>(null);
  const save = async (format: 'pdf' | 'xlsx') => {
    running.current = new AbortController();
    setBusy(true);
    try {
      await saveReport(projectId, { ...request, format }, running.current.signal);
    } catch (error) {
      if ((error as Error).name !== 'AbortError') tell('The report could not be made', (error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  if (busy)
    return (
      <Button
        size="compact-xs"
        variant="light"
        leftSection={<IconX size={13} />}
        onClick={() => running.current?.abort()}
      >
        Cancel report
      </Button>
    );
  return (
    <Menu withinPortal position="bottom-end">
      <Menu.Target>
        <Button size="compact-xs" variant="default" leftSection={<IconFileDownload size={13} />}>
          {label}
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => void save('pdf')}>PDF</Menu.Item>
        <Menu.Item onClick={() => void save('xlsx')}>Workbook (XLSX)</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
