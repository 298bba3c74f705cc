'use client';

import { useMemo } from 'react';
import type { CircuitProposal } from '@mesura/core/lowVoltage/propose';
import type { CircuitRow, CircuitTable } from '@mesura/core/lowVoltage/study';
import type { ScheduleParts } from '@mesura/core/lowVoltage/cells';
import { find, type Network } from '@mesura/core/model/network';
import { useCore, type Answer } from '../../workers/useCore';
import { useCircuitsState } from './state';

/** All circuits; nothing is computed while nobody looks. */
export const useCircuits = (wanted = true): Answer<CircuitTable> =>
  useCore<CircuitTable>(wanted ? 'circuits' : null, (service, ticket, onProgress) =>
    service.circuits(ticket, onProgress),
  );

/** Proposals for the circuits that are asked for. */
export function useProposals(): Answer<readonly CircuitProposal[]> {
  const { asked, free } = useCircuitsState();
  return useCore(asked && `circuit proposals ${JSON.stringify([asked, free])}`, (service, ticket, onProgress) =>
    service.circuitProposals(asked!, free, ticket, onProgress),
  );
}

export interface ScheduleRow {
  readonly row: CircuitRow;
  readonly parts: ScheduleParts;
}

export const partsOf = (network: Network, row: CircuitRow): ScheduleParts => ({
  board: row.board,
  end: row.ends.length === 1 && !row.isFeeder ? row.ends[0] : null,
  cable: row.main === null ? null : row.cables[row.main].element,
  device: (find(network, 'switch', row.guard?.device ?? null)?.id ?? row.switches.at(0)) || null,
});

/** Circuits of a board in their order; those that have gone since are left out. */
export const useBoardRows = (
  network: Network,
  table: CircuitTable | null,
  board: string | null,
): readonly ScheduleRow[] =>
  useMemo(
    () =>
      (table?.rows ?? []).flatMap((row): ScheduleRow[] =>
        row.board === board && row.ends.every((id) => network.elements.has(id))
          ? [{ row, parts: partsOf(network, row) }]
          : [],
      ),
    [network, table, board],
  );
