'use client';

import { useMemo } from 'react';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { searchOptions, type Search } from '@mesura/core/trials/search';
import { intervalAt, type TrialAnswer, type TrialAnswered } from '@mesura/core/trials/answer';
import { noOverlay, type BusTag, type Overlay } from '../../diagram/picture/overlay';
import { useCondition } from '../../desk/condition';
import { useProject } from '../../project/ProjectContext';
import { noAnswer, useCore, type Answer } from '../../workers/useCore';
import { useKept } from '../../workers/useKept';
import { useTrialsState } from './state';

/** The trial that is looked at, played anew whenever anything in the project changes. */
export function useTrialAnswer(shown = true): Answer<TrialAnswered> {
  const trial = useTrialsState((state) => state.trial);
  const tried = useTrialsState((state) => state.tried);
  const key = shown && trial ? `trial ${JSON.stringify([trial, tried?.functions])}` : null;
  const answer = useKept(useCore<TrialAnswered>(key, (service) => service.trial(trial!, tried)));
  return key === null ? noAnswer : answer;
}

/** The search that has been asked for; it goes on while other stages are shown. */
export function useSearch(): Answer<Search> {
  const { search: setup, searching } = useTrialsState();
  const condition = useCondition();
  const network = useProject((state) => state.network);
  const asked = [setup, setup.allConditions ? null : condition.id];
  return useCore<Search>(searching ? `search ${JSON.stringify(asked)}` : null, (service, ticket, onProgress) =>
    service.trialSearch(setup.allConditions ? null : [condition.id], searchOptions(network, setup), ticket, onProgress),
  );
}

/** On the drawing: the fault, what opens, who sees it and how far it is, what is left without supply. */
export function useTrialOverlay(shown: boolean): Overlay | null {
  const { value } = useTrialAnswer(shown);
  // Wanted by the desk itself, so that it does not end when another stage is opened.
  useSearch();
  const atS = useTrialsState((state) => state.atS);
  const network = useProject((state) => state.network);
  const answer = value?.ok ? value.answer : null;
  return useMemo(
    () => (shown && answer ? overlayOf(network, answer, atS) : shown ? noOverlay : null),
    [shown, answer, atS, network],
  );
}

/** Where a device's word stands: at its breaker, as a relay itself may not be drawn near. */
const standsAt = (network: Network, device: ElementId): ElementId => {
  const element = network.elements.get(device);
  return element?.kind === 'relay' ? (element.circuits.at(0)?.breakers.at(0) ?? device) : device;
};

function overlayOf(network: Network, answer: TrialAnswer, atS: number): Overlay {
  const interval = intervalAt(answer.intervals, atS);
  const notes = new Map<ElementId, string>();
  const marks = new Map<ElementId, string>();
  const tags = new Map<ElementId, BusTag>();
  for (const { device, code, picked, tripped, share, leftS } of interval.standings) {
    if (!picked && !tripped) continue;
    const passed = atS - interval.fromS;
    const now = leftS < Infinity ? share + ((1 - share) * Math.min(passed, leftS)) / Math.max(leftS, 1e-9) : share;
    const word = tripped ? `${code} tripped` : `${code} ${Math.min(100, Math.round(100 * now))} %`;
    const at = standsAt(network, device);
    notes.set(at, notes.has(at) ? `${notes.get(at)}, ${word}` : word);
    if (!marks.has(device)) marks.set(device, tripped ? 'fail' : 'accent');
  }
  for (const id of interval.open) {
    notes.set(id, 'opened');
    marks.set(id, 'fail');
  }
  for (const [id, phases] of interval.partly)
    notes.set(id, `molten: ${phases.map((phase) => `L${phase + 1}`).join(', ')}`);
  answer.trial.faults.forEach(({ element }, k) => {
    const most = Math.max(0, ...(interval.faultA[k] ?? []));
    marks.set(element, 'fail');
    notes.set(element, most > 0 ? `fault ${formatNumber(most / 1000, 3)} kA` : 'fault, no current');
  });
  for (const id of interval.dead)
    tags.set(id, { lines: ['no supply'], title: 'Without supply at this moment', active: false });
  return { ...noOverlay, notes, marks, tags };
}
