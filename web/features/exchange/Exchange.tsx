'use client';

import { useEffect, useState } from 'react';
import { Button, Group, Modal, SegmentedControl } from '@mantine/core';
import { modals } from '@mantine/modals';
import { notifications } from '@mantine/notifications';
import { knownExporters } from '@mesura/core/formats/known';
import { remarkText } from '@mesura/core/formats/remarks';
import type { ColumnMap } from '@mesura/core/formats/columns/columns';
import type { Report } from '@mesura/core/formats/format';
import type { Change } from '@mesura/core/model/changes';
import { saveText } from '../../card/saveText';
import { useDesk } from '../../desk/deskState';
import { useExchange, type Incoming } from '../../desk/exchange';
import { report as reported } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import type { ExportAnswer, ImportAnswer } from '../../workers/coreService';
import { useCore, useCoreService } from '../../workers/useCore';
import { saveReport } from '../../project/reports';
import { saveDrawing } from './saveDrawing';
import { ColumnsView } from './ColumnsView';
import { EntriesView } from './EntriesView';
import { Reading, Refused, ReportView } from './ReportView';
import classes from './exchange.module.css';
import type { Share } from '../../workers/answers';
import { useShare } from '../../workers/Done';

/** Files in and out: what a file would bring is shown before it is taken over, as one step to undo. */
export function Exchange() {
  const { incoming } = useExchange();
  useOutgoing();
  useDrawing();
  const close = () => useExchange.setState({ incoming: null });
  return (
    <Modal
      opened={incoming !== null}
      onClose={close}
      title={incoming ? `Import ${incoming.name}` : ''}
      size="xl"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {incoming && <Contents key={incoming.number} incoming={incoming} close={close} />}
    </Modal>
  );
}

type Mode = 'merge' | 'beside';

function Contents({ incoming, close }: { incoming: Incoming; close: () => void }) {
  const page = useDesk((state) => state.page);
  const [prefix] = useState(() => newId());
  const [mode, setMode] = useState<Mode>('merge');
  /** What stands in which column, where a person has to say it. */
  const [columns, setColumns] = useState<ColumnMap | null>(null);
  // Asked anew when somebody changes the project meanwhile: the report is always about what is there.
  const { value, failed, isCurrent, progress } = useCore(
    `import ${incoming.number} ${page ?? ''} ${mode} ${JSON.stringify(columns)}`,
    (service, ticket, onProgress) =>
      service.importReport(
        { ...incoming, mode, ...(columns && { columns }) },
        page,
        prefix,
        ticket,
        onProgress,
      ) as Promise<ImportAnswer>,
  );
  if (failed) return <Refused message={`The file could not be read: ${failed}`} />;
  if (!value) return <ReadingFile of={progress} onCancel={close} />;
  if (!value.ok && value.lists) return <ColumnsView lists={value.lists} take={setColumns} close={close} />;
  if (!value.ok) return <Refused message={value.message} />;
  return (
    <>
      {value.canMerge && (
        <SegmentedControl
          aria-label="How it meets the project"
          size="xs"
          mb="sm"
          value={mode}
          onChange={(next) => setMode(next as Mode)}
          data={[
            { value: 'merge', label: 'Merge with what is here' },
            { value: 'beside', label: 'Put beside it, as new' },
          ]}
        />
      )}
      <Chosen key={`${mode} ${value.report.batch.length}`} report={value.report} isCurrent={isCurrent} close={close} />
    </>
  );
}

function ReadingFile({ of, onCancel }: { of: Share | null; onCancel: () => void }) {
  return <Reading progress={useShare(of)} onCancel={onCancel} />;
}

/** The report, what of it is chosen, and the step that takes it over. */
function Chosen({
  report,
  isCurrent,
  close,
}: {
  report: Omit<Report, 'taking'>;
  isCurrent: boolean;
  close: () => void;
}) {
  const store = useProjectStore();
  const service = useCoreService();
  const { entries } = report;
  const usual = () => new Set(entries?.flatMap(({ key, usual: isUsual }) => (isUsual ? [key] : [])));
  const [chosen, setChosen] = useState<ReadonlySet<string>>(usual);
  const count = entries ? chosen.size : report.batch.length;
  const take = async () => {
    const batch = entries ? await service?.importTaking([...chosen]) : report.batch;
    if (!batch) return;
    const { commit, select } = store.getState();
    if (!reported(commit(batch as readonly Change[], report.label))) return;
    const added = batch.flatMap((change) => (change.op === 'add' ? [change.element.id] : []));
    if (added.length > 0 && added.length <= 2000) select(added);
    close();
  };
  return (
    <>
      {count === 0 && report.batch.length === 0 && <p>Nothing in it would change this project.</p>}
      <ReportView report={report} />
      {entries && entries.length > 0 && <EntriesView entries={entries} chosen={chosen} onChange={setChosen} />}
      <Group justify="flex-end" mt="md">
        <Button variant="default" onClick={close}>
          Cancel
        </Button>
        <Button
          disabled={(count === 0 && report.batch.length === 0) || !isCurrent}
          onClick={() => void take()}
          data-autofocus
        >
          {count === 0 && report.batch.length > 0
            ? 'Keep its identifiers'
            : count === 1
              ? 'Take over 1 change'
              : `Take over ${count} changes`}
        </Button>
      </Group>
    </>
  );
}

/** Writes a file in the worker and hands it to the browser; what the format has no room for is told. */
function useOutgoing() {
  const { outgoing } = useExchange();
  const service = useCoreService();
  const name = useProject((state) => state.name);
  useEffect(() => {
    if (!outgoing || !service) return;
    useExchange.setState({ outgoing: null });
    const { title } = knownExporters.find(({ id }) => id === outgoing)!;
    const refuse = (message: string) =>
      notifications.show({ color: 'red', title: `${title}: not written`, message, autoClose: false });
    void (service.exported(outgoing, name) as Promise<ExportAnswer>).then(
      (file) => {
        if (!file.ok) return refuse(file.message);
        saveText(`${name} ${title.toLowerCase()}.${file.extension}`, file.bytes, 'application/octet-stream');
        if (file.left.length > 0)
          modals.open({
            title: `${title}: written`,
            size: 'lg',
            closeButtonProps: { 'aria-label': 'Close' },
            children: (
              <>
                <p className={classes.format}>The format has no room for:</p>
                <ul className={classes.leftOut} aria-label="Not in the file">
                  {file.left.map((remark) => (
                    <li key={remark.message}>{remarkText(remark)}</li>
                  ))}
                </ul>
              </>
            ),
          });
      },
      (error: unknown) => refuse((error as Error).message),
    );
  }, [outgoing, service, name]);
}

/** The page looked at as a file: what stands on the desk, or as PDF what is stored. */
function useDrawing() {
  const { drawing } = useExchange();
  const store = useProjectStore();
  const page = useDesk((state) => state.page);
  useEffect(() => {
    if (!drawing) return;
    useExchange.setState({ drawing: null });
    const { id, name, network } = store.getState();
    const failed = (message: string) =>
      notifications.show({ color: 'red', title: `Drawing as ${drawing.toUpperCase()}: not written`, message });
    if (drawing === 'pdf') {
      void saveReport(id, { study: 'drawing', format: 'pdf', page }).catch((error: unknown) =>
        failed((error as Error).message),
      );
      return;
    }
    saveDrawing(drawing, network, page, name).then(
      (refused) => refused && failed(refused),
      (error: unknown) => failed((error as Error).message),
    );
  }, [drawing, store, page]);
}
