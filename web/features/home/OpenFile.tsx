'use client';

import { useEffect, useRef, useState } from 'react';
import { Button, Group, Modal, TextInput } from '@mantine/core';
import { proxy, wrap, type Remote } from 'comlink';
import { api } from '../../project/api';
import type { FileAnswer, FileService } from '../../workers/file.worker';
import { Reading, Refused, ReportView } from '../exchange/ReportView';

/** A file from elsewhere on its way to a project of its own: read in a thread beside the page, shown, and stored when that is wanted. */
export function OpenFile({
  file,
  onClose,
  onOpened,
}: {
  file: File;
  onClose: () => void;
  onOpened: (id: string) => void;
}) {
  const service = useRef<Remote<FileService> | null>(null);
  const [answer, setAnswer] = useState<FileAnswer | null>(null);
  const [progress, setProgress] = useState<number | null>(null);
  useEffect(() => {
    const worker = new Worker(new URL('../../workers/file.worker.ts', import.meta.url), { type: 'module' });
    const remote = wrap<FileService>(worker);
    service.current = remote;
    void file
      .arrayBuffer()
      .then((bytes) => remote.read(file.name, new Uint8Array(bytes), proxy(setProgress)) as Promise<FileAnswer>)
      .then(setAnswer, (error: unknown) => setAnswer({ ok: false, message: (error as Error).message }));
    return () => worker.terminate();
  }, [file]);
  return (
    <Modal opened onClose={onClose} title={`Open ${file.name}`} size="xl" closeButtonProps={{ 'aria-label': 'Close' }}>
      {!answer && <Reading progress={progress} onCancel={onClose} />}
      {answer && !answer.ok && <Refused message={answer.message} />}
      {answer?.ok && (
        <AsProject
          answer={answer}
          store={async (name) => {
            const text = await service.current!.project(name);
            const { id } = await api<{ id: string }>('/projects/import', { method: 'POST', body: text });
            onOpened(id);
          }}
          onClose={onClose}
        />
      )}
    </Modal>
  );
}

function AsProject({
  answer: { report, name: suggested },
  store,
  onClose,
}: {
  answer: Extract<FileAnswer, { ok: true }>;
  store: (name: string) => Promise<void>;
  onClose: () => void;
}) {
  const [name, setName] = useState(suggested.slice(0, 120));
  const [busy, setBusy] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const submit = () => {
    setBusy(true);
    setFailure(null);
    store(name.trim()).catch((error: unknown) => {
      setBusy(false);
      setFailure((error as Error).message);
    });
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <ReportView report={report} />
      <TextInput
        mt="md"
        label="Name of the project"
        value={name}
        maxLength={120}
        onChange={(event) => setName(event.currentTarget.value)}
        data-autofocus
      />
      {failure && <Refused message={failure} />}
      <Group justify="flex-end" mt="md">
        <Button variant="default" onClick={onClose}>
          Cancel
        </Button>
        <Button type="submit" disabled={name.trim() === ''} loading={busy}>
          Open as a project
        </Button>
      </Group>
    </form>
  );
}
