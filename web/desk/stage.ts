/** A stage of the work: one folder under web/stages, registered in its index; the desk knows none of them by name. */
import type { ComponentType } from 'react';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Overlay } from '../diagram/picture/overlay';
import type { ProjectStore } from '../project/store';
import type { Action } from './actions';

export const stageGroups = ['Build', 'Study', 'Protect', 'Deliver'] as const;

export interface Stage {
  readonly id: string;
  readonly title: string;
  readonly group: (typeof stageGroups)[number];
  /** Right half of the desk. */
  readonly Bench: ComponentType;
  /** What is laid over the drawing; a hook, called whether the stage is shown or not. */
  readonly useOverlay?: (shown: boolean) => Overlay | null;
  /** A click on a symbol. */
  readonly pick?: (store: ProjectStore, element: Element) => void;
  /** The drawing can be changed. */
  readonly editsDrawing?: boolean;
  /** Codes of the findings that are looked after here, or how they begin. */
  readonly owns: readonly string[];
  /** Elements that are not on the drawing and are shown here; true when it has shown it. */
  readonly show?: (id: ElementId, kind: Element['kind']) => boolean;
  /** Somebody goes to a finding of this stage about an element. */
  readonly found?: (element: Element) => void;
  /** Keys and entries of the command search. */
  readonly actions?: (store: ProjectStore) => readonly Action[];
  /** Another project is opened. */
  readonly enter?: (projectId: string) => void;
}

let registered: readonly Stage[] = [];

/** Called once, by web/stages. */
export function registerStages(stages: readonly Stage[]): void {
  registered = stages;
}

/** In the order of the work. */
export const allStages = (): readonly Stage[] => registered;
export const stageNamed = (id: string | null): Stage => registered.find((stage) => stage.id === id) ?? registered[0];

/** The stage that looks after a finding: the one that names it most closely; the first one where none does. */
export function stageOwning(code: string): Stage {
  const closeness = ({ owns }: Stage) =>
    Math.max(-1, ...owns.map((start) => (code.startsWith(start) ? start.length : -1)));
  return registered.reduce((p, q) => (closeness(q) > closeness(p) ? q : p));
}
