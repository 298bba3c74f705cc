/** Faults in the data of direct current: joined to alternating current, boards of different voltages on one node, boards that nothing feeds, free ends. */
import { connectionsAt } from '../../drawing/wires/splice';
import { operating } from '../../direct/currents';
import { directNetwork } from '../../direct/network';
import { solveDirect } from '../../direct/solve';
import { directKinds } from '../../model/direct';
import { direct, directPart } from '../../model/directPart';
import { kinds, nameOf } from '../../model/element';
import { maximumSources } from '../../model/condition';
import { nameIn, ofKind, type Network } from '../../model/network';
import type { Problem } from '../../model/problem';
import { buildTopology } from '../../model/topology';
import { dataRule } from '../check';

export const directNetworkRule = dataRule<Network>({
  id: 'direct.network',
  title: 'Direct current',
  advice: {
    'direct.joined': 'Put a charger or rectifier between, or make the busbar one of the same kind of current.',
    'direct.level': 'Give the boards one nominal voltage, or take the joint away.',
    'direct.unsupplied': 'Connect a battery or a charger, or close a switch on the way.',
    'direct.open': 'Connect the free end, or delete the element.',
  },
  many: { 'direct.unsupplied': 'are fed by nothing', 'direct.open': 'have a free end' },
  subjects: ({ studies: { whole } }) =>
    directPart(whole).ids.size > 0 ? [{ key: 'direct', value: whole, on: [whole] }] : [],
  faults: (_, whole) => {
    const { ids, crossing } = directPart(whole);
    const part = direct(whole);
    const joined = crossing.flatMap((id): Problem[] => {
      const connection = whole.elements.get(id);
      if (connection?.kind !== 'connection') return [];
      const ends = [connection.from.element, connection.to.element];
      const [own, other] = ids.has(ends[0]) ? ends : [...ends].reverse();
      return [
        {
          severity: 'error',
          code: 'direct.joined',
          message: `${nameIn(whole, own)} carries direct current and is joined to ${nameIn(whole, other)}, which does not`,
          element: own,
        },
      ];
    });
    const levels = buildTopology(part).problems.map((problem): Problem => ({ ...problem, code: 'direct.level' }));
    const network = directNetwork(whole, { condition: maximumSources.id });
    const { volts } = solveDirect(operating(network));
    const unsupplied = ofKind(part, 'bus').flatMap(({ id, name }): Problem[] =>
      volts[network.nodeAt(id, 0)!] > 1
        ? []
        : [{ severity: 'warning', code: 'direct.unsupplied', message: `${name} is fed by nothing`, element: id }],
    );
    const free = directKinds.flatMap((kind) =>
      ofKind<(typeof directKinds)[number]>(whole, kind).flatMap((element): Problem[] => {
        const taken = new Set(
          (connectionsAt(whole).get(element.id) ?? []).flatMap(({ from, to }) =>
            [from, to].flatMap((end) => (end.element === element.id ? [end.terminal] : [])),
          ),
        );
        // The a.c. side of a charger need not be drawn.
        if (kind === 'rectifier' ? taken.has(1) : taken.size === kinds[kind].terminals) return [];
        const what = taken.size === 0 ? 'is connected to nothing' : 'is connected at one end only';
        return [
          { severity: 'warning', code: 'direct.open', message: `${nameOf(element)} ${what}`, element: element.id },
        ];
      }),
    );
    return [...joined, ...levels, ...unsupplied, ...free];
  },
});
