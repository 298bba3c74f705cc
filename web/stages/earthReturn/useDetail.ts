'use client';

import type { EarthDetailResult, EarthQuery } from '@mesura/core/earthReturn/study';
import { useCore, type Answer } from '../../workers/useCore';
import { useKept } from '../../workers/useKept';
import { useEarthState } from './state';
import { useEarth, useWorst } from './useEarth';

/** What is looked into just now; null: nothing. */
export function useQuery(wanted = true): EarthQuery | null {
  const { view, place, condition, kind, study, studyFault } = useEarthState();
  const worst = useWorst(useEarth(wanted && view !== 'studies').value);
  if (!wanted) return null;
  if (view === 'studies') return study === null ? null : { of: 'study', study, fault: studyFault };
  if (view !== 'stations' || !place) return null;
  const own =
    condition ??
    (place.at === 'bus' ? worst.get(place.bus)?.condition : undefined) ??
    [...worst.values()][0]?.condition;
  return own === undefined ? null : { of: 'network', condition: own, place, kind };
}

/** One fault with its profiles, and with what is tried. */
export function useDetail(wanted = true): Answer<EarthDetailResult> {
  const query = useQuery(wanted);
  const trial = useEarthState((state) => state.trial);
  return useKept(
    useCore<EarthDetailResult>(query && JSON.stringify(['earth', query, trial]), (service) =>
      service.earthDetail(query!, trial),
    ),
  );
}
