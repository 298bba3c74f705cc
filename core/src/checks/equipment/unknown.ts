/** Ratings that nobody has given: what cannot be checked is said, and never counts as holding. */
import { kinds, nameOf, type Element, type ElementOf } from '../../model/element';
import type { Problem } from '../../model/problem';
import { familyOf } from '../../protection/registry';
import { dataRule, listed, wholeNetwork } from '../check';

const opensAtOnce = ({ functions }: ElementOf<'switch'>): boolean =>
  functions.some((fn) => fn.enabled && familyOf(fn).opensAtOnce);

/** What of an element's ratings is missing, in words; none for kinds without such ratings. */
export function missingRatings(element: Element): string[] {
  const missing = (...pairs: readonly (readonly [unknown, string])[]) =>
    pairs.flatMap(([value, says]) => (value === null ? [says] : []));
  switch (element.kind) {
    case 'bus':
      return missing([element.peakKa, 'peak withstand current'], [element.shortTimeKa, 'short-time withstand current']);
    case 'switch':
      switch (element.type) {
        case 'breaker':
        case 'recloser':
          return missing(
            [element.breakingKa, 'breaking capacity'],
            [opensAtOnce(element) ? 0 : element.shortTimeKa, 'short-time withstand current'],
          );
        case 'fuse':
          return missing([element.breakingKa, 'breaking capacity']);
        default:
          return missing([element.shortTimeKa, 'short-time withstand current']);
      }
    case 'currentTransformer':
      return missing([element.shortTimeKa, 'short-time thermal current']);
    case 'line':
      return missing([element.sectionMm2, 'cross-section']);
    case 'seriesReactor':
      return missing(
        [element.shortTimeKa, 'short-time withstand current'],
        [element.peakKa, 'mechanical short-circuit current'],
      );
    case 'earthingSwitch':
      return missing([element.shortTimeKa, 'short-time withstand current']);
    case 'earthingTransformer':
      return missing([element.shortTimeA, 'short-time neutral current']);
    default:
      return [];
  }
}

export const unknownRule = dataRule({
  id: 'equipment.unknown',
  title: 'Ratings that are not known',
  advice: { 'rating.unknown': 'Enter them from the nameplate: until then their duty is not checked.' },
  subjects: wholeNetwork,
  faults: (_, network) => {
    const byKind = new Map<string, Element[]>();
    for (const element of network.elements.values())
      if (missingRatings(element).length > 0) {
        const { title } = kinds[element.kind];
        byKind.set(title, [...(byKind.get(title) ?? []), element]);
      }
    return [...byKind].map(([title, elements]): Problem => ({
      severity: 'assumed',
      code: 'rating.unknown',
      message: `${title}: short-circuit ratings are not known of ${listed(elements.map(nameOf))}`,
      element: elements[0].id,
      elements: elements.map(({ id }) => id),
    }));
  },
});
