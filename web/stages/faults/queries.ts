'use client';

import { useMemo } from 'react';
import type { FaultQuery, StudyQuery } from '@mesura/core/studies/engine';
import type { ElementId } from '@mesura/core/model/fields';
import { useCondition } from '../../desk/condition';
import { useFaultsState, type FaultSetup } from './state';

/** The questions that the setup of the stage and the condition of the desk put to the engine. */
export function useQueries(): { study: StudyQuery; fault: FaultQuery } {
  const setup = useFaultsState((state) => state.setup);
  const { id } = useCondition();
  return useMemo(() => queriesOf(setup, id), [setup, id]);
}

export function queriesOf(setup: FaultSetup, condition: ElementId): { study: StudyQuery; fault: FaultQuery } {
  const { method, outage, peak, charging, prefaultPercent, current } = setup;
  return {
    study: { method, condition, outage, peak, charging, prefaultPercent, current },
    fault: {
      kind: setup.kind,
      odd: setup.odd,
      phaseOhm: { re: setup.phaseR, im: setup.phaseX },
      earthOhm: { re: setup.earthR, im: setup.earthX },
      breakingS: setup.durations ? setup.breakingS : null,
      durationS: setup.durations ? setup.durationS : null,
      breaker: { partingCycles: setup.partingCycles, s: setup.s },
    },
  };
}
