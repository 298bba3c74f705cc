/** Current transformers of differential and distance protection: the e.m.f. that their accuracy time asks for against the one built in. */
import { nameOf } from '../../model/element';
import { find } from '../../model/network';
import { devicesOf, type Device } from '../../protection/device';
import { adequacies } from '../../differential/adequacy';
import { checkRule, digits, type Check } from '../check';

export const adequacyRule = checkRule<Device>({
  id: 'equipment.adequacy',
  title: 'Current transformers of fast protection',
  clause: 'IEC 61869-2, Annex 2C (as remembered)',
  advice: {
    'ct.dimensioning': 'Lower the burden, take a larger ratio or a higher knee, or a relay that needs less time.',
  },
  subjects: ({ network }) =>
    devicesOf(network)
      .filter(
        ({ kind, functions }) =>
          kind === 'relay' && functions.some((fn) => fn.enabled && ['differential', 'distance'].includes(fn.family)),
      )
      .map((device) => ({
        key: device.id,
        value: device,
        on: [device.element, ...device.inputs.map(({ through }) => network.elements.get(through))],
      })),
  test({ studies, conditions, network }, device, trace): Check[] {
    return adequacies(studies, conditions, trace, device.id).flatMap((each): Check[] => {
      const ct = find(network, 'currentTransformer', each.ct);
      if (each.holds === null || each.builtV === null || !ct) return [];
      return [
        {
          id: `adequacy ${each.device} ${each.fn} ${each.ct}`,
          rule: 'equipment.adequacy',
          code: 'ct.dimensioning',
          subject: each.ct,
          elements: [each.ct, each.device],
          title: `${device.name}, ${each.code}: ${ct.name}`,
          value: each.builtV,
          bound: each.requiredV,
          unit: 'V',
          sense: 'atLeast',
          deciding: each.condition ? { condition: each.condition } : null,
          verdict: each.holds ? 'holds' : 'doubtful',
          severity: 'warning',
          message: `${nameOf(ct)}: ${digits(each.builtV)} V built, ${digits(each.requiredV)} V asked by ${device.name}, ${each.code} (${digits(each.kssc)} × Ipr, Ktd ${digits(each.ktd)})`,
          field: 'accuracy',
        },
      ];
    });
  },
});
