'use client';

import { useCallback, useEffect, useMemo, useState } from 'react';
import { Button, Modal, Textarea } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconDownload, IconRubberStamp } from '@tabler/icons-react';
import { alternating } from '@mesura/core/model/directPart';
import type { ElementId } from '@mesura/core/model/fields';
import { deviceKindTitles, devicesOf } from '@mesura/core/protection/device';
import type { ListedSheet, SheetHead } from '../../server/sheets';
import { Chip } from '../../desk/Chip';
import { showSheet, useSheetsState } from './state';
import { useCore } from '../../workers/useCore';
import { api } from '../../project/api';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { who } from '../../project/who';
import { digestsOf } from './digest';
import { SheetView } from './SheetView';
import bench from '../../card/bench.module.css';

export function SheetsBench() {
  const network = useProject((state) => state.network);
  const projectId = useProject((state) => state.id);
  const devices = useMemo(() => devicesOf(alternating(network)), [network]);
  const chosen = useSheetsState((state) => state.relay);
  const [issued, setIssued] = useState<ListedSheet[]>([]);
  const device = devices.find((each) => each.id === chosen) ?? devices[0];

  const refresh = useCallback(async () => {
    try {
      setIssued((await api<{ sheets: ListedSheet[] }>(`/projects/${projectId}/sheets`)).sheets);
    } catch (error) {
      notifications.show({
        color: 'red',
        title: 'The issued sheets cannot be shown',
        message: (error as Error).message,
      });
    }
  }, [projectId]);
  useEffect(() => {
    // eslint-disable-next-line react-hooks/set-state-in-effect -- the list is fetched, and set when the answer is there
    void refresh();
  }, [refresh]);

  if (!device)
    return (
      <section aria-label="Setting sheets">
        <h2 className={bench.title}>Setting sheets</h2>
        <p className={bench.muted}>
          There is no relay yet. Place one in the Network stage beside a current transformer.
        </p>
      </section>
    );
  return (
    <section aria-label="Setting sheets">
      <h2 className={bench.title}>Setting sheets</h2>
      <table className={`${bench.table} figures`} aria-label="Devices" style={{ margin: '8px 0 14px' }}>
        <thead>
          <tr>
            <th>Device</th>
            <th>Type</th>
            <th>Issued</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          {devices.map((each) => (
            <DeviceRow
              key={each.id}
              id={each.id}
              name={each.name}
              type={each.element.kind === 'relay' ? each.element.device : deviceKindTitles[each.kind]}
              last={issued.find((sheet) => sheet.relayId === each.id)}
              active={each.id === device.id}
              onChoose={() => showSheet(each.id)}
            />
          ))}
        </tbody>
      </table>
      <Sheet
        relayId={device.id}
        name={device.name}
        issued={issued.filter((sheet) => sheet.relayId === device.id)}
        refresh={refresh}
      />
    </section>
  );
}

interface RowProps {
  id: ElementId;
  name: string;
  type: string;
  last: SheetHead | undefined;
  active: boolean;
  onChoose: () => void;
}

function DeviceRow({ id, name, type, last, active, onChoose }: RowProps) {
  const digests = useCore(`digest ${id}`, async (service) => digestsOf(await service.sheet(id)));
  const state = !last ? (
    <Chip state="warn">draft</Chip>
  ) : !digests.value ? (
    '…'
  ) : digests.value.includes(last.digest) ? (
    <Chip state="pass">issued, up to date</Chip>
  ) : (
    <Chip state="fail">changed since issue</Chip>
  );
  return (
    <tr
      data-clickable
      data-active={active || undefined}
      tabIndex={0}
      onClick={onChoose}
      onKeyDown={(event) => event.key === 'Enter' && onChoose()}
    >
      <td>{name}</td>
      <td>{type}</td>
      <td>{last ? `rev ${last.number}, ${last.issuedAt.slice(0, 10)}` : '–'}</td>
      <td>{state}</td>
    </tr>
  );
}

function Sheet({
  relayId,
  name,
  issued,
  refresh,
}: {
  relayId: ElementId;
  name: string;
  issued: readonly ListedSheet[];
  refresh: () => Promise<void>;
}) {
  const store = useProjectStore();
  const projectId = useProject((state) => state.id);
  const saved = useProject((state) => state.saving.status === 'saved');
  const sheet = useCore(`sheet ${relayId}`, (service) => service.sheet(relayId));
  const [asking, setAsking] = useState(false);
  const [busy, setBusy] = useState(false);
  const [reason, setReason] = useState('');
  // One for each issue: asked for again after a lost answer, it is made once.
  const [key, setKey] = useState(() => crypto.randomUUID());
  const issue = async () => {
    setBusy(true);
    try {
      const head = await api<SheetHead>(`/projects/${projectId}/sheets`, {
        method: 'POST',
        json: { relay: relayId, revision: store.getState().revision, reason, key, issuedBy: who() },
      });
      notifications.show({
        color: 'verdigris',
        title: `${name}: revision ${head.number} is issued`,
        message: 'It is frozen; later changes of the network do not touch it.',
      });
      setAsking(false);
      setReason('');
      setKey(crypto.randomUUID());
      await refresh();
    } catch (error) {
      notifications.show({ color: 'red', title: 'Not issued', message: (error as Error).message });
    }
    setBusy(false);
  };
  return (
    <article className={bench.card} aria-label={`Sheet of ${name}`}>
      <div className={bench.cardBody}>
        <div className={bench.head}>
          <h3 className={bench.title}>{name}</h3>
          <span className={bench.spacer} />
          <Button
            size="compact-sm"
            variant="default"
            component="a"
            href={`/api/projects/${projectId}/sheets/draft-${relayId}/pdf`}
            leftSection={<IconDownload size={14} />}
          >
            Draft PDF
          </Button>
          <Button
            size="compact-sm"
            leftSection={<IconRubberStamp size={14} />}
            disabled={!saved}
            onClick={() => setAsking(true)}
          >
            Issue
          </Button>
        </div>
        {issued.length > 0 && (
          <ul className={bench.help} style={{ marginBottom: 8 }} aria-label="Issued revisions">
            {issued.map((head) => (
              <li key={head.id}>
                <a href={`/api/projects/${projectId}/sheets/${head.id}/pdf`}>Revision {head.number}</a> ·{' '}
                {head.issuedAt.slice(0, 16).replace('T', ' ')} by {head.issuedBy} · project revision{' '}
                {head.projectRevision} ·{' '}
                <span className="figure" title={`Digest ${head.digest}, seal ${head.seal || 'none'}`}>
                  {head.digest.slice(0, 12)}
                </span>
                {head.reason && ` · ${head.reason}`} {!head.sound && <Chip state="fail">seal does not fit</Chip>}
              </li>
            ))}
          </ul>
        )}
        {sheet.value && (
          <div className={sheet.isCurrent ? undefined : bench.stale}>
            <SheetView content={sheet.value} />
          </div>
        )}
      </div>
      <Modal
        opened={asking}
        onClose={() => setAsking(false)}
        title={`Issue revision ${(issued[0]?.number ?? 0) + 1} of ${name}`}
      >
        <Textarea
          label="Reason of this revision"
          value={reason}
          maxLength={400}
          autosize
          minRows={2}
          onChange={(event) => setReason(event.currentTarget.value)}
          data-autofocus
        />
        <p className={bench.muted}>
          An issued sheet is frozen with its figures and its PDF. It cannot be changed; a later revision replaces it.
        </p>
        <Button loading={busy} onClick={() => void issue()}>
          Issue now
        </Button>
      </Modal>
    </article>
  );
}
