import dynamic from 'next/dynamic';
import { alternating } from '@mesura/core/model/directPart';
import { devicesOf } from '@mesura/core/protection/device';
import { regionOf } from '@mesura/core/differential/region';
import type { Stage } from '../../desk/stage';
import { enterDifferential, setDifferential } from './state';

/** Differential protection: what each function compares, its plane, its current transformers. */
export const differentialStage: Stage = {
  id: 'differential',
  title: 'Differential',
  group: 'Protect',
  Bench: dynamic(() => import('./DifferentialBench').then((module) => module.DifferentialBench)),
  // A click chooses the function that the element belongs to, or that protects it.
  pick: (store, { id }) => {
    const { network, select } = store.getState();
    select([id]);
    for (const device of devicesOf(alternating(network)))
      for (const fn of device.functions) {
        if (fn.family !== 'differential' || !fn.enabled) continue;
        const isOwn = device.id === id || device.inputs.some(({ through }) => through === id);
        if (isOwn || regionOf(network, device, fn).elements.includes(id))
          return setDifferential({ chosen: `${device.id} ${fn.id}`, tried: null });
      }
  },
  owns: ['setting.differential', 'ct.'],
  enter: enterDifferential,
};
