import type { ElementId } from '@mesura/core/model/fields';
import { withFunction, type DeviceElement } from '@mesura/core/protection/device';
import type { DeviceFunction } from '@mesura/core/protection/schemas';
import { useProjectStore } from '../project/ProjectContext';
import { report, tell } from './report';

export type Change<F extends DeviceFunction> = (fn: F) => F;

/** What a change is made to: the function as it is stored, not as it was when what is shown was computed. */
interface Target {
  readonly device: ElementId;
  readonly function: string;
}

/**
 * Stores a change of one function of a device. Figures follow a change some time later, keys and mouse do not wait for them: so the change
 * is made to what is stored by then, and steps that follow fast build on each other.
 */
export function useStoreFunction(): <F extends DeviceFunction>(
  target: Target,
  change: Change<F>,
  label: string,
) => boolean {
  const store = useProjectStore();
  return <F extends DeviceFunction>(target: Target, change: Change<F>, label: string) => {
    const { network, commit } = store.getState();
    const element = network.elements.get(target.device) as DeviceElement | undefined;
    const fn = element?.functions.find(({ id }) => id === target.function);
    if (!element || !fn) {
      tell('Nothing is stored', 'This function is no longer part of the project.');
      return false;
    }
    return report(commit([{ op: 'update', element: withFunction(element, change(fn as F)) }], label));
  };
}
