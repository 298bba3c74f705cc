/** Rated currents of switches and current transformers against the rated current of what hangs on the same run. */
import { nameOf, type ElementOf } from '../../model/element';
import { ofKind } from '../../model/network';
import { nextPrimaryA, nextRatedCurrentA } from '../../model/standardSizes';
import { checkRule, digits, type Check, type Subject } from '../check';
import { ratedCurrentOf, runOf } from '../runs';

type Device = ElementOf<'switch'> | ElementOf<'currentTransformer'>;

export const ratedCurrentRule = checkRule<Device>({
  id: 'equipment.ratedCurrent',
  title: 'Rated current',
  advice: { 'rating.current': 'Select the next size, or check the load.' },
  subjects: ({ network }) =>
    [
      ...ofKind(network, 'switch').filter(({ ratedA }) => ratedA !== null),
      ...ofKind(network, 'currentTransformer'),
    ].map((device): Subject<Device> => ({ key: device.id, value: device, on: [device] })),
  test({ network }, device): Check[] {
    const worst = runOf(network, device.id)
      .others.flatMap(({ element, terminal }) => {
        const current = ratedCurrentOf(element, terminal);
        return current === null ? [] : [{ element, current }];
      })
      .sort((p, q) => q.current - p.current)[0];
    if (!worst) return [];
    const isSwitch = device.kind === 'switch';
    const [ratedA, field, says] = isSwitch
      ? [device.ratedA!, 'ratedA', 'rated current']
      : [device.primaryA, 'primaryA', 'rated primary current'];
    const holds = worst.current <= ratedA;
    const value = isSwitch
      ? nextRatedCurrentA(worst.current, device.type === 'fuse' ? 'fuse' : 'other')
      : nextPrimaryA(worst.current);
    return [
      {
        id: `ratedCurrent ${device.id}`,
        rule: 'equipment.ratedCurrent',
        code: 'rating.current',
        subject: device.id,
        title: 'Rated current',
        value: ratedA,
        bound: worst.current,
        unit: 'A',
        sense: 'atLeast',
        deciding: null,
        verdict: holds ? 'holds' : 'short',
        severity: 'warning',
        message: `${nameOf(device)}: ${says} ${ratedA} A is ${holds ? 'not ' : ''}below the rated current of ${nameOf(worst.element)}, ${digits(worst.current)} A`,
        field,
        ...(!holds && { proposal: { text: `${value} A`, takes: [{ path: field, value }] } }),
      },
    ];
  },
});
