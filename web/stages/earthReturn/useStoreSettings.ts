'use client';

import type { EarthSettings } from '@mesura/core/model/earthing';
import { settingsId } from '@mesura/core/model/element';
import { settingsOf } from '@mesura/core/model/network';
import { useProjectStore } from '../../project/ProjectContext';

/** Stores settings of currents through earth; a text is a refusal. */
export function useStoreSettings(): (part: Partial<EarthSettings>, what: string) => string | null {
  const store = useProjectStore();
  return (part, what) => {
    const { network, commit } = store.getState();
    const settings = { ...settingsOf(network), id: settingsId };
    const op = network.elements.has(settingsId) ? ('update' as const) : ('add' as const);
    const element = { ...settings, earthReturn: { ...settings.earthReturn, ...part } };
    const result = commit([{ op, element }], `Earth return: ${what}`);
    return result.ok ? null : result.problems[0].message;
  };
}
