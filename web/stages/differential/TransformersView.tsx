'use client';

import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn } from '@mesura/core/model/network';
import type { Adequacy } from '@mesura/core/differential/adequacy';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import bench from '../../card/bench.module.css';

/** Current transformers of fast protection: what is asked of them, and what they give. */
export function TransformersView() {
  const network = useProject((state) => state.network);
  const select = useProject((state) => state.select);
  const { value, isCurrent } = useCore<readonly Adequacy[]>('ctAdequacy', (service) => service.ctAdequacy());
  const name = (id: ElementId) => nameIn(network, id);
  const columns: SortColumn<Adequacy>[] = [
    { id: 'ct', head: 'Current transformer', text: true, value: ({ ct }) => name(ct) },
    { id: 'relay', head: 'Relay', text: true, value: ({ device, code }) => `${name(device)}, ${code}` },
    { id: 'fault', head: 'largest kA', digits: 3, value: ({ faultA }) => faultA / 1000 },
    { id: 'kssc', head: '× Ipr', digits: 3, value: ({ kssc }) => kssc },
    { id: 'tp', head: 'Tp ms', digits: 3, value: ({ tpS }) => 1000 * tpS },
    { id: 'true', head: 'true for ms', digits: 3, value: ({ accuracyS }) => 1000 * accuracyS },
    { id: 'ktd', head: 'Ktd', digits: 3, value: ({ ktd }) => ktd },
    {
      id: 'required',
      head: 'asked V',
      digits: 3,
      value: ({ requiredV }) => (Number.isNaN(requiredV) ? null : requiredV),
    },
    { id: 'built', head: 'built V', digits: 3, value: ({ builtV }) => builtV },
    {
      id: 'verdict',
      head: '',
      text: true,
      value: ({ holds }) => (holds === null ? 'unknown' : holds ? 'OK' : 'too small'),
      cell: ({ holds }) =>
        holds === null ? (
          <Chip state="warn">data missing</Chip>
        ) : (
          <Chip state={holds ? 'pass' : 'warn'}>{holds ? 'OK' : 'too small'}</Chip>
        ),
    },
  ];
  if (!value) return <p className={bench.muted}>Looking at current transformers …</p>;
  if (value.length === 0) return <p className={bench.muted}>No relay has differential or distance protection.</p>;
  return (
    <>
      <SortTable
        label="Current transformers"
        columns={columns}
        rows={value}
        rowId={({ device, fn, ct }) => `${device} ${fn} ${ct}`}
        current={isCurrent}
        onChoose={({ ct }) => select([ct])}
      />
      <p className={bench.muted}>
        Asked: Kssc · Ktd · Isr · (Rct + Rb), IEC 61869-2 (as remembered); Ktd by the envelope for the time that the
        relay needs, secondary time constant {formatNumber(3, 2)} s. A click selects the current transformer.
      </p>
    </>
  );
}
