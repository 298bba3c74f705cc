/** What the Settings stage shows just now; not part of the project. */
import { create } from 'zustand';
import type { ElementId } from '@mesura/core/model/fields';
import type { Strategy } from '@mesura/core/proposals/proposal';
import type { OriginState } from '@mesura/core/proposals/origin';

export const settingsViews = ['all', 'proposal', 'rulebook'] as const;
export type SettingsView = (typeof settingsViews)[number];

export const scopes = ['whole', 'station', 'path', 'selection'] as const;
export type Scope = (typeof scopes)[number];

/** What is proposed for, once it has been asked for. */
export interface Asked {
  readonly devices: readonly ElementId[] | null;
  readonly title: string;
  readonly strategy: Strategy;
  readonly includeAssumed: boolean;
}

interface SettingsState {
  readonly view: SettingsView;
  readonly filter: string;
  readonly origin: OriginState | null;
  /** Station that the list is about. */
  readonly station: ElementId | null;
  /** Check that does not hold for the devices that the list is about; "any" of them. */
  readonly check: string | null;
  /** Row whose value is looked into. */
  readonly row: string | null;
  readonly scope: Scope;
  readonly scopeStation: ElementId | null;
  readonly strategy: Strategy;
  readonly includeAssumed: boolean;
  readonly asked: Asked | null;
  /** Strategies stand side by side. */
  readonly comparing: boolean;
  /** Rule that is looked into. */
  readonly rule: string | null;
}

const fresh: SettingsState = {
  view: 'all',
  filter: '',
  origin: null,
  station: null,
  check: null,
  row: null,
  scope: 'whole',
  scopeStation: null,
  strategy: 'fastest',
  includeAssumed: false,
  asked: null,
  comparing: false,
  rule: null,
};

export const useSettingsState = create<SettingsState>()(() => fresh);
export const setSettings = (part: Partial<SettingsState>): void => useSettingsState.setState(part);
export const enterSettings = (): void => setSettings(fresh);
