'use client';

import type { ElementId } from '@mesura/core/model/fields';
import { busPlace, useFaultsState, type Against } from './state';
import type { BusDifference } from '@mesura/core/studies/compare';
import { formatNumber } from '@mesura/core/fields/quantity';
import { useCondition } from '../../desk/condition';
import type { BusTag } from '../../diagram/picture/overlay';
import { useVersion } from '../../desk/versions';
import { useProject } from '../../project/ProjectContext';
import type { ComparedSide } from '../../workers/coreService';
import { noAnswer, useCore } from '../../workers/useCore';
import { useQueries } from './queries';

/** Both sides: what is compared with stands before, the condition of the desk after. */
export function useSides(): { before: ComparedSide; after: ComparedSide; against: Against } | null {
  const against = useFaultsState((state) => state.against);
  const { id } = useCondition();
  const project = useProject((state) => state.id);
  if (!against) return null;
  const after = { version: null, condition: id };
  return against.what === 'condition'
    ? { before: { version: null, condition: against.condition }, after, against }
    : { before: { version: `${project} ${against.revision}`, condition: id }, after, against };
}

/** Differences of the fault currents at all buses; nothing while nothing is compared. */
export function useComparison() {
  const sides = useSides();
  const { study, fault } = useQueries();
  const version = useVersion(sides?.against.what === 'version' ? sides.against.revision : null);
  const ready = sides && (sides.before.version === null || version?.key === sides.before.version);
  const answer = useCore(
    ready ? `compare ${JSON.stringify([sides.before, sides.after, study, fault])}` : null,
    async (service, ticket, onProgress) => {
      if (version) await service.holdVersion(version.key, version.elements);
      return service.compare(sides!.before, sides!.after, study, fault, ticket, onProgress);
    },
  );
  return ready ? answer : noAnswer;
}

/** What caused the difference at the bus that is looked into. */
export function useCauses() {
  const sides = useSides();
  const { study, fault } = useQueries();
  const bus = useFaultsState((state) => state.comparedBus);
  const version = useVersion(sides?.against.what === 'version' ? sides.against.revision : null);
  const ready = sides && bus && (sides.before.version === null || version?.key === sides.before.version);
  const answer = useCore(
    ready ? `causes ${JSON.stringify([sides.before, sides.after, study, fault, bus])}` : null,
    async (service, ticket, onProgress) => {
      if (version) await service.holdVersion(version.key, version.elements);
      return service.causes(sides!.before, sides!.after, study, fault, busPlace(bus!), ticket, onProgress);
    },
  );
  return ready ? answer : noAnswer;
}

export const signedPercent = (percent: number | null): string =>
  percent === null ? '–' : `${percent < 0 ? '−' : '+'}${formatNumber(Math.abs(percent), 3)} %`;

/** Differences on the drawing. */
export function differenceTags(rows: readonly BusDifference[]): Map<ElementId, BusTag> {
  return new Map(
    rows.map(({ bus, name, beforeA, afterA, percent }) => [
      bus,
      {
        lines: [signedPercent(percent)],
        title: `${name}: ${kilo(beforeA)} → ${kilo(afterA)} kA`,
        // The one looked into is selected on the drawing.
        active: false,
      },
    ]),
  );
}

export const kilo = (ampere: number | null): string => (ampere === null ? '–' : formatNumber(ampere / 1000, 4));
