import dynamic from 'next/dynamic';
import { deviceAt } from '../grading/pick';
import type { Stage } from '../../desk/stage';
import { enterSettings, setSettings } from './state';

/** Settings by rule: all of them in a list, proposals, the rulebook. */
export const settingsStage: Stage = {
  id: 'settings',
  title: 'Settings',
  group: 'Protect',
  Bench: dynamic(() => import('./SettingsBench').then((module) => module.SettingsBench)),
  // A click on a current transformer or a breaker means the device that measures or trips there.
  pick: (store, element) => {
    const device = deviceAt(store.getState().network, element.id);
    if (!device) return;
    store.getState().select([device.id]);
    setSettings({ filter: device.name });
  },
  owns: ['setting.moved'],
  show: (_, kind) => {
    if (kind !== 'rulebook') return false;
    setSettings({ view: 'rulebook' });
    return true;
  },
  enter: enterSettings,
};
