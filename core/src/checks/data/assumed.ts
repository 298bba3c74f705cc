/** One finding for each kind of element with values that nobody has confirmed. */
import { kinds, nameOf, type Element, type ElementKind } from '../../model/element';
import { dataRule, listed, wholeNetwork } from '../check';

export const assumedRule = dataRule({
  id: 'data.assumed',
  title: 'Assumed values',
  advice: { 'data.assumed': 'Select them, replace what is known, and confirm the rest.' },
  subjects: wholeNetwork,
  faults: (_, network) => {
    const byKind = new Map<ElementKind, Element[]>();
    for (const element of network.elements.values())
      if ('assumed' in element && element.assumed && element.assumed.length > 0)
        byKind.set(element.kind, [...(byKind.get(element.kind) ?? []), element]);
    return [...byKind].map(([kind, elements]) => ({
      severity: 'assumed',
      code: 'data.assumed',
      message: `${kinds[kind].title}: typical values stand in for data of ${listed(elements.map(nameOf))}`,
      element: elements[0].id,
      elements: elements.map(({ id }) => id),
    }));
  },
});
