'use client';

import { useEffect, useState } from 'react';
import { Button, Group, Modal } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { exporters } from '@mesura/core/formats/registry';
import type { Report } from '@mesura/core/formats/format';
import { saveText } from '../../card/saveText';
import { useDesk } from '../../desk/deskState';
import { useExchange, type Incoming } from '../../desk/exchange';
import { report as reported } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import type { ImportAnswer } from '../../workers/coreService';
import { useCore, useCoreService } from '../../workers/useCore';
import classes from './exchange.module.css';

/** Files in and out: what a file would bring is shown before it is taken over, as one step to undo. */
export function Exchange() {
  const { incoming } = useExchange();
  useOutgoing();
  const close = () => useExchange.setState({ incoming: null });
  return (
    <Modal
      opened={incoming !== null}
      onClose={close}
      title={incoming ? `Import ${incoming.name}` : ''}
      size="lg"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {incoming && <Contents key={incoming.number} incoming={incoming} close={close} />}
    </Modal>
  );
}

function Contents({ incoming, close }: { incoming: Incoming; close: () => void }) {
  const store = useProjectStore();
  const page = useDesk((state) => state.page);
  const [prefix] = useState(() => newId());
  // Asked anew when somebody changes the project meanwhile: the report is always about what is there.
  const { value, failed, isCurrent } = useCore(
    `import ${incoming.number} ${page ?? ''}`,
    (service) => service.importReport(incoming, page, prefix) as Promise<ImportAnswer>,
  );
  if (failed) return <Refused message={`The file could not be read: ${failed}`} />;
  if (!value) return <p role="status">Reading …</p>;
  if (!value.ok) return <Refused message={value.message} />;
  const { report } = value;
  const take = () => {
    const { commit, select } = store.getState();
    if (!reported(commit(report.batch, report.label))) return;
    const added = report.batch.flatMap((change) => (change.op === 'add' ? [change.element.id] : []));
    if (added.length > 0 && added.length <= 2000) select(added);
    close();
  };
  return (
    <>
      <ReportView report={report} />
      <Group justify="flex-end" mt="md">
        <Button variant="default" onClick={close}>
          Cancel
        </Button>
        <Button disabled={report.batch.length === 0 || !isCurrent} onClick={take} data-autofocus>
          {report.batch.length === 1 ? 'Take over 1 change' : `Take over ${report.batch.length} changes`}
        </Button>
      </Group>
    </>
  );
}

const Refused = ({ message }: { message: string }) => (
  <p role="alert" className={classes.refused}>
    {message}
  </p>
);

function ReportView({ report: { format, found, problems, batch } }: { report: Report }) {
  return (
    <>
      <p className={classes.format}>A file of {format}.</p>
      {batch.length === 0 && <p>Nothing in it would change this project.</p>}
      {found.length > 0 && (
        <table className={classes.found} aria-label="What it brings">
          <tbody>
            {found.map(({ what, count }) => (
              <tr key={what}>
                <td>{what}</td>
                <td className="figure">{count}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {problems.length > 0 && (
        <>
          <h3 className={classes.head}>
            {problems.length === 1 ? '1 remark' : `${problems.length} remarks`}; what is told here is left out
          </h3>
          <ul className={classes.problems} aria-label="Left out">
            {problems.slice(0, 200).map(({ message }, k) => (
              <li key={k}>{message}</li>
            ))}
            {problems.length > 200 && <li>and {problems.length - 200} more</li>}
          </ul>
        </>
      )}
    </>
  );
}

/** Writes a file in the worker and hands it to the browser. */
function useOutgoing() {
  const { outgoing } = useExchange();
  const service = useCoreService();
  const name = useProject((state) => state.name);
  useEffect(() => {
    if (!outgoing || !service) return;
    useExchange.setState({ outgoing: null });
    const { title } = exporters.find(({ id }) => id === outgoing)!;
    void service.exported(outgoing, name).then(
      (file) =>
        file && saveText(`${name} ${title.toLowerCase()}.${file.extension}`, file.bytes, 'application/octet-stream'),
      (error: unknown) =>
        notifications.show({ color: 'red', title: `${title}: not written`, message: (error as Error).message }),
    );
  }, [outgoing, service, name]);
}
