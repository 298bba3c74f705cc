'use client';

import { useMemo } from 'react';
import type { FaultRow, Method, PlaceQuery } from '@mesura/core/studies/engine';
import { rowsOf, type PackedRows } from '@mesura/core/faults/answers/packed';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind, type Network } from '@mesura/core/model/network';
import { noOverlay, type BusTag, type FlowMark, type Overlay } from '../../diagram/picture/overlay';
import { useDesk } from '../../desk/deskState';
import { useCore } from '../../workers/useCore';
import { formatCurrent, formatNumber, withUnit } from '@mesura/core/fields/quantity';
import { useProject } from '../../project/ProjectContext';
import { differenceTags, useComparison } from './useComparison';
import { useQueries } from './queries';
import { samePlace, tagTitles, useFaultsState, type TagFigure } from './state';

/** What the first current of a method is called. */
export const currentSymbol = (method: Method): string =>
  method === 'iec60909' ? 'Ik″' : method === 'c37' ? 'Isym' : 'I';

/** Fault levels of all buses, as set up, and of the place on a line before them. */
export function useFaultTable() {
  const queries = useQueries();
  const line = useFaultsState((state) => state.linePlace);
  const exists = useProject((state) => line !== null && state.network.elements.has(line.element));
  const further = line && exists ? [line] : [];
  const answer = useCore(`faults ${JSON.stringify([queries, further])}`, (service, ticket, onProgress) =>
    service.faults(queries.study, queries.fault, further, ticket, onProgress),
  );
  const { value } = answer;
  return { ...answer, value: value && { ...value, rows: unpacked(value.rows) } };
}

/** Several views look at the same table: its rows are made once. */
function unpacked(packed: PackedRows): readonly FaultRow[] {
  let rows = unpackedRows.get(packed);
  if (!rows) unpackedRows.set(packed, (rows = rowsOf(packed)));
  return rows;
}

const unpackedRows = new WeakMap<PackedRows, readonly FaultRow[]>();

/** One fault in detail; nothing when no place is given. */
export function useFaultDetail(place: PlaceQuery | null) {
  const queries = useQueries();
  return useCore(place && `detail ${JSON.stringify([place, queries])}`, (service) =>
    service.faultDetail(queries.study, queries.fault, place!),
  );
}

/** Fault levels at the buses, and the currents of the fault that is looked into. */
export function useFaultOverlay(wanted: boolean): Overlay {
  const stage = useDesk((state) => state.stage);
  const chosen = useFaultsState((state) => state.place);
  const exists = useProject((state) => chosen !== null && state.network.elements.has(chosen.element));
  const network = useProject((state) => state.network);
  const table = useFaultTable();
  const place = stage === 'faults' && exists ? chosen : null;
  const detail = useFaultDetail(place);
  const rows = table.value?.rows;
  const { isCurrent } = table;
  const tag = useFaultsState((state) => state.tag);
  const arrows = useFaultsState((state) => state.arrows);
  const compared = useComparison();
  return useMemo(() => {
    if (wanted && stage === 'faults' && compared.value) return { ...noOverlay, tags: differenceTags(compared.value) };
    if (!wanted || !rows) return noOverlay;
    const tags = new Map<ElementId, BusTag>();
    for (const row of rows)
      if (row.place.at === 'terminal')
        tags.set(row.place.element, tagOf(row, samePlace(row.place, place), isCurrent, tag));
    const flows = new Map<ElementId, FlowMark>();
    const largest = Math.max(0, ...(detail.value?.flows.map((flow) => flow.currentA) ?? []));
    const total = detail.value?.row.result?.ikA ?? 0;
    for (const flow of detail.value?.flows ?? [])
      if (flow.currentA > largest * 1e-6 && isTold(network, flow.element))
        flows.set(flow.element, {
          text:
            arrows === 'share' && total > 0
              ? `${formatNumber((100 * flow.atFaultA) / total, 3)}\u2009%`
              : formatCurrent(flow.currentA, 3),
          leavesAt: flow.leavesAt,
        });
    const marks = place && place.at !== 'terminal' ? new Map([[place.element, 'fail']]) : noOverlay.marks;
    return { ...noOverlay, tags, flows, marks };
  }, [wanted, stage, rows, isCurrent, detail.value, place, network, compared.value, tag, arrows]);
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

function tagOf(row: FaultRow, active: boolean, current: boolean, tag: TagFigure): BusTag {
  if (!row.result) return { lines: ['–'], title: row.problems.map((problem) => problem.message).join('; '), active };
  const { ikA, ipA } = row.result;
  const first = `${currentSymbol(row.method)} ${withUnit(ikA / 1000, 'kA')}`;
  const peak = ipA === null ? null : withUnit(ipA / 1000, 'kA');
  return {
    lines: active ? activeLines(row.result, first, peak, tag) : [plainTag(row.result, tag)],
    title: `${row.name}: ${first}${peak === null ? '' : `, ip ${peak}`}${current ? '' : ' (being recalculated)'}`,
    active,
  };
}

type Result = NonNullable<FaultRow['result']>;

/** The figure chosen for the drawing, with its unit; what the method does not give is a dash. */
function plainTag({ ikA, ipA, ibA, ithA, xOverR }: Result, tag: TagFigure): string {
  if (tag === 'xr') return xOverR === null ? '–' : `X/R ${formatNumber(xOverR, 3)}`;
  const ampere = { ik: ikA, ip: ipA, ib: ibA, ith: ithA }[tag];
  return ampere === null ? '–' : `${formatNumber(ampere / 1000)}\u2009kA`;
}

function activeLines(result: Result, first: string, peak: string | null, tag: TagFigure): string[] {
  const lines = [first, ...(peak === null ? [] : [`ip\u2007 ${peak}`])];
  return tag === 'ik' || tag === 'ip'
    ? lines
    : [...lines, tag === 'xr' ? plainTag(result, tag) : `${tagTitles[tag]} ${plainTag(result, tag)}`];
}
