/** Terminals that lead nowhere. */
import { connectionsAt } from '../../drawing/wires/splice';
import { kinds, nameOf, type ElementKind } from '../../model/element';
import { ofKind } from '../../model/network';
import type { Problem } from '../../model/problem';
import { dataRule, wholeNetwork } from '../check';

/** Kinds that may end in the open: a spare breaker, a winding or a generator side that nobody uses. */
const mayStayOpen: readonly ElementKind[] = [
  'bus',
  'switch',
  'currentTransformer',
  'earthingSwitch',
  'threeWindingTransformer',
  'powerStationUnit',
];
const complete = (Object.keys(kinds) as ElementKind[]).filter(
  (kind) => kinds[kind].terminals > 0 && !mayStayOpen.includes(kind),
);

export const openTerminalsRule = dataRule({
  id: 'data.openTerminals',
  title: 'Free ends',
  advice: { 'terminal.open': 'Connect the free end, or delete the element.' },
  many: { 'terminal.open': 'have a free end' },
  subjects: wholeNetwork,
  faults: (_, network) =>
    complete.flatMap((kind) =>
      ofKind(network, kind).flatMap((element): Problem[] => {
        const taken = new Set(
          (connectionsAt(network).get(element.id) ?? []).flatMap(({ from, to }) =>
            [from, to].flatMap((end) => (end.element === element.id ? [end.terminal] : [])),
          ),
        );
        if (taken.size === kinds[kind].terminals) return [];
        const which =
          taken.size === 0
            ? 'is connected to nothing'
            : `is connected at one end only (terminal ${taken.has(0) ? 2 : 1} is free)`;
        return [
          { severity: 'warning', code: 'terminal.open', message: `${nameOf(element)} ${which}`, element: element.id },
        ];
      }),
    ),
});
