/** Rated breaking current against the largest initial current at the place: IEC 62271-100 asks for no less. */
import { faultAt } from '../../faults/iec60909/study';
import type { FaultKind } from '../../faults/kinds';
import type { ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { ofKind } from '../../model/network';
import { nextBreakingKa } from '../../model/standardSizes';
import { formula, given, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check, type Context, type Subject } from '../check';

type Switch = ElementOf<'switch'>;

const breaks = ({ type, breakingKa }: Switch): boolean =>
  breakingKa !== null && type !== 'disconnector' && type !== 'link';

interface Largest {
  readonly kA: number;
  readonly condition: ElementId;
  readonly kind: FaultKind;
}

/** On either side of the device, in every condition. */
export function largestBreaking({ studies, conditions }: Context, device: Switch): Largest | null {
  let best: Largest | null = null;
  for (const { id } of conditions) {
    const study = studies.iec60909({ condition: id });
    for (const kind of ['3ph', '1ph'] as const)
      for (const terminal of [0, 1]) {
        const result = faultAt(study, device.id, terminal, kind);
        if (result.ok && result.fault.ikA / 1000 > (best?.kA ?? 0))
          best = { kA: result.fault.ikA / 1000, condition: id, kind };
      }
  }
  return best;
}

export const breakingCapacityRule = checkRule<Switch>({
  id: 'equipment.breakingCapacity',
  title: 'Breaking capacity',
  clause: 'IEC 62271-100',
  advice: { 'rating.breaking': 'Select a higher breaking capacity, or lower the fault level.' },
  subjects: ({ network }) =>
    ofKind(network, 'switch')
      .filter(breaks)
      .map((device): Subject<Switch> => ({ key: device.id, value: device, on: [device] })),
  test(context, device, trace): Check[] {
    const breakingKa = device.breakingKa!;
    const largest = largestBreaking(context, device);
    if (!largest) return [];
    const rating = given('Isc', breakingKa, 'kA', device.id, 'breakingKa');
    trace.section(device.name, device.id);
    trace.step('ΔI', formula`${rating} - ${quantityOf('Ik″', largest.kA, 'kA')}`, breakingKa - largest.kA, 'kA');
    const holds = largest.kA <= breakingKa;
    const value = nextBreakingKa(largest.kA);
    return [
      {
        id: `breaking ${device.id}`,
        rule: 'equipment.breakingCapacity',
        code: 'rating.breaking',
        subject: device.id,
        title: 'Breaking capacity',
        value: breakingKa,
        bound: largest.kA,
        unit: 'kA',
        sense: 'atLeast',
        deciding: { condition: largest.condition, kind: largest.kind },
        verdict: holds ? 'holds' : 'short',
        severity: 'error',
        message: `${device.name}: breaking capacity ${breakingKa} kA is ${holds ? 'not ' : ''}below Ik″ ${digits(largest.kA)} kA`,
        field: 'breakingKa',
        ...(!holds && { proposal: { path: 'breakingKa', value, text: `${value} kA` } }),
      },
    ];
  },
});
