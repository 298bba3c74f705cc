'use client';

import { useMemo } from 'react';
import type { FaultRow } from '@mesura/core/faults/report';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind, type Network } from '@mesura/core/model/network';
import { noOverlay, type BusTag, type FlowMark, type Overlay } from '../../diagram/DiagramContext';
import { useDesk } from '../../desk/deskState';
import { useCore } from '../../workers/useCore';
import { formatCurrent, formatNumber, withUnit } from '../../card/quantity';
import { useProject } from '../../project/ProjectContext';

/** Fault levels of all buses, for the kind and the condition chosen. */
export function useFaultTable() {
  const kind = useDesk((state) => state.faultKind);
  const faultCase = useDesk((state) => state.faultCase);
  return useCore(`faults ${kind} ${faultCase}`, (service) => service.faults(kind, faultCase));
}

/** One fault in detail; nothing when no bus is given. */
export function useFaultDetail(bus: ElementId | null) {
  const kind = useDesk((state) => state.faultKind);
  const faultCase = useDesk((state) => state.faultCase);
  return useCore(bus && `detail ${bus} ${kind} ${faultCase}`, (service) => service.faultDetail(bus!, kind, faultCase));
}

/** Fault levels at the buses, and the currents of the fault that is looked into. */
export function useFaultOverlay(wanted: boolean): Overlay {
  const stage = useDesk((state) => state.stage);
  const chosen = useDesk((state) => state.faultBus);
  const exists = useProject((state) => chosen !== null && state.network.elements.has(chosen));
  const network = useProject((state) => state.network);
  const table = useFaultTable();
  const bus = stage === 'faults' && exists ? chosen : null;
  const detail = useFaultDetail(bus);
  const rows = table.value?.rows;
  const { isCurrent } = table;
  return useMemo(() => {
    if (!wanted || !rows) return noOverlay;
    const tags = new Map<ElementId, BusTag>(rows.map((row) => [row.bus, tagOf(row, row.bus === bus, isCurrent)]));
    const flows = new Map<ElementId, FlowMark>();
    const largest = Math.max(0, ...(detail.value?.flows.map((flow) => flow.currentA) ?? []));
    for (const flow of detail.value?.flows ?? [])
      if (flow.currentA > largest * 1e-6 && isTold(network, flow.element))
        flows.set(flow.element, { text: formatCurrent(flow.currentA, 3), leavesAt: flow.leavesAt });
    return { tags, flows, marks: noOverlay.marks };
  }, [wanted, rows, isCurrent, detail.value, bus, network]);
}

/** Currents stand at branches, sources and couplers; at every breaker and CT of the same run they would only repeat. */
function isTold(network: Network, id: ElementId): boolean {
  const element = network.elements.get(id);
  if (element?.kind === 'currentTransformer') return false;
  if (element?.kind !== 'switch') return true;
  const ends = ofKind(network, 'connection').filter(({ from, to }) => from.element === id || to.element === id);
  return (
    ends.length === 2 &&
    ends.every(({ from, to }) => network.elements.get(from.element === id ? to.element : from.element)?.kind === 'bus')
  );
}

function tagOf(row: FaultRow, active: boolean, current: boolean): BusTag {
  if (!row.result) return { lines: ['–'], title: row.problems.map((problem) => problem.message).join('; '), active };
  const { ikA, ipA } = row.result;
  const first = `Ik″ ${withUnit(ikA / 1000, 'kA')}`;
  return {
    lines: active ? [first, `ip\u2007 ${withUnit(ipA / 1000, 'kA')}`] : [`${formatNumber(ikA / 1000)}\u2009kA`],
    title: `${row.name}: ${first}, ip ${withUnit(ipA / 1000, 'kA')}${current ? '' : ' (being recalculated)'}`,
    active,
  };
}
