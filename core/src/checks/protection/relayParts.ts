/** What a relay lacks: a current transformer, a breaker to trip, a function in use, fault current where it measures. */
import { ofKind } from '../../model/network';
import type { Problem } from '../../model/problem';
import { breakersOf, firstCtOf, type Relay } from '../../model/protection';
import { deviceFrom, timeCurrents } from '../../protection/device';
import { familyOf } from '../../protection/registry';
import { farEnds } from '../../protection/zone';
import { dataRule, type Subject } from '../check';

export const relayPartsRule = dataRule<Relay>({
  id: 'protection.relayParts',
  title: 'Parts of a relay',
  advice: {
    'relay.ct': 'Choose the current transformer on the card of the relay.',
    'relay.trips': 'Choose the breaker on the card of the relay.',
    'relay.functions': 'Add a function on the card of the relay, or switch one on.',
    'relay.voltage':
      'Give the relay an input at a voltage transformer: a direction, or a voltage, cannot be told without.',
    'relay.input': 'Choose the input of the function on the card of the relay.',
    'relay.current': 'Check where its current transformer stands, and which side it protects.',
  },
  many: {
    'relay.functions': 'have no function in use',
    'relay.ct': 'measure at no current transformer',
    'relay.trips': 'trip no breaker',
  },
  subjects: ({ network }) =>
    ofKind(network, 'relay').map((relay): Subject<Relay> => ({ key: relay.id, value: relay, on: [relay] })),
  faults: ({ network, studies }, relay) => {
    const list: Problem[] = [];
    const say = (severity: Problem['severity'], code: string, message: string, field?: string) =>
      list.push({ severity, code, message, element: relay.id, field });
    const device = deviceFrom(network, relay)!;
    if (firstCtOf(relay) === null)
      say('error', 'relay.ct', `${relay.name} measures at no current transformer`, 'inputs');
    if (breakersOf(relay).length === 0) say('warning', 'relay.trips', `${relay.name} trips no breaker`, 'circuits');
    if (!relay.functions.some((fn) => fn.enabled))
      say('warning', 'relay.functions', `${relay.name} has no function in use`);
    for (const fn of relay.functions)
      if (fn.enabled && !relay.inputs.some(({ id }) => id === fn.input))
        say('error', 'relay.input', `${relay.name}: a function measures at no input of it`, 'functions');
    const blind = [
      ...timeCurrents(device)
        .filter(({ measure }) => measure !== undefined)
        .map(({ code }) => code),
      ...device.functions
        .filter((fn) => fn.enabled && familyOf(fn).measuresVoltage?.(fn))
        .map((fn) => familyOf(fn).code(fn)),
    ];
    if (blind.length > 0 && device.voltageAt === null) {
      const codes = blind.join(', ');
      say('error', 'relay.voltage', `${relay.name}: ${codes} without a voltage transformer`, 'inputs');
    }
    if (device.inputs.length > 0 && farEnds(studies.max, device).length === 0)
      say('warning', 'relay.current', `no fault current reaches the current transformer of ${relay.name}`);
    return list;
  },
});
