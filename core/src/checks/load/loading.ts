/** Load currents against rated currents, in every condition. */
import { allowedA, loadRatingOf } from '../../flow/rating';
import { kinds, nameOf, type Element } from '../../model/element';
import { settingsOf } from '../../model/network';
import { loadPlaces, loadRanges } from '../../studies/loads';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check, type Subject } from '../check';

export const loadingRule = checkRule<Element>({
  id: 'load.loading',
  title: 'Load current',
  advice: { 'load.loading': 'Relieve it, or select a higher rated current.' },
  many: { 'load.loading': 'carry more than they may' },
  subjects: ({ network }) => {
    const limits = settingsOf(network).loadLimits;
    return (
      [...network.elements.values()]
        // What a motor or drive draws is told to the load flow, and within its voltage range no finding of it.
        .filter(({ kind }) => kind !== 'asynchronousMotor' && kind !== 'staticDrive')
        .filter((element) => loadRatingOf(element, 0) !== null)
        .map((element): Subject<Element> => ({ key: element.id, value: element, on: [element, limits] }))
    );
  },
  test({ studies, conditions, network }, element, trace): Check[] {
    const limits = settingsOf(network).loadLimits;
    const groups = [
      { emergency: false, of: conditions.filter((each) => each.limits === 'normal') },
      { emergency: true, of: conditions.filter((each) => each.limits === 'emergency') },
    ];
    const found = groups.flatMap(({ emergency, of }) => {
      const ranges = loadRanges(studies, of);
      return loadPlaces(element.id, element.kind, kinds[element.kind].terminals).flatMap((place, terminal) => {
        const range = ranges.get(place);
        const rating = loadRatingOf(element, terminal);
        if (!range || !rating) return [];
        return [{ load: range.largest, allowed: allowedA(rating, limits, emergency), emergency, rating }];
      });
    });
    if (found.length === 0) return [];
    const share = ({ load, allowed }: (typeof found)[number]) => load.ampere / allowed;
    const worst = found.reduce((p, q) => (share(q) > share(p) ? q : p));
    const { load, allowed, emergency, rating } = worst;
    const condition = conditions.find(({ id }) => id === load.condition)!;
    trace.section(`${nameOf(element)}, ${condition.name}`, element.id);
    trace.step(
      'I/Ir',
      formula`${quantityOf('I', load.ampere, 'A')} / ${quantityOf('Ir', rating.ratedA, 'A')} · 100`,
      (100 * load.ampere) / rating.ratedA,
      '%',
    );
    const holds = load.ampere <= allowed;
    return [
      {
        id: `loading ${element.id}`,
        rule: 'load.loading',
        code: 'load.loading',
        subject: element.id,
        title: emergency ? 'Load current, emergency' : 'Load current',
        value: load.ampere,
        bound: allowed,
        unit: 'A',
        sense: 'atMost',
        deciding: { condition: load.condition },
        verdict: holds ? 'holds' : 'short',
        severity: 'warning',
        message: `${nameOf(element)}: load current ${digits(load.ampere)} A is ${holds ? 'not ' : ''}above ${digits(allowed)} A (${condition.name})`,
      },
    ];
  },
});
