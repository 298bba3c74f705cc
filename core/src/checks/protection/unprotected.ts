/** Breakers of feeders that no device in use opens, and no fuse stands in for: one finding for all. Couplers and spare breakers are left out. */
import { nameOf, type ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { ofKind } from '../../model/network';
import { devicesOf } from '../../protection/device';
import { dataRule, listed, wholeNetwork } from '../check';
import { runOf } from '../runs';

type Switch = ElementOf<'switch'>;

export const unprotectedRule = dataRule({
  id: 'protection.unprotected',
  title: 'Feeders without protection',
  advice: { 'protection.none': 'Place a current transformer and a relay, and let the relay trip the breaker.' },
  subjects: wholeNetwork,
  faults: (_, network) => {
    const opened = new Set(
      devicesOf(network).flatMap(({ functions, opens }) => (functions.some(({ enabled }) => enabled) ? opens : [])),
    );
    const loose: Switch[] = [];
    const seen = new Set<ElementId>();
    for (const device of ofKind(network, 'switch')) {
      if (device.type !== 'breaker' || seen.has(device.id)) continue;
      const run = runOf(network, device.id);
      const switches = run.inline.filter((element): element is Switch => element.kind === 'switch');
      for (const { id } of switches) seen.add(id);
      const isProtected = switches.some(({ id, type }) => type === 'fuse' || opened.has(id));
      if (!isProtected && run.others.length > 0 && run.buses.length > 0)
        loose.push(...switches.filter(({ type }) => type === 'breaker'));
    }
    if (loose.length === 0) return [];
    return [
      {
        severity: 'warning',
        code: 'protection.none',
        message: `no relay trips ${listed(loose.map(nameOf))}`,
        element: loose[0].id,
        elements: loose.map(({ id }) => id),
      },
    ];
  },
});
