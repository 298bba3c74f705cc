/** Voltages of buses within the band of the project, in every condition. */
import { voltageBand } from '../../flow/rating';
import type { ElementOf } from '../../model/element';
import { ofKind, settingsOf } from '../../model/network';
import { flowIn } from '../../studies/loads';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check, type Subject } from '../check';

type Bus = ElementOf<'bus'>;

export const voltageRule = checkRule<Bus>({
  id: 'load.voltage',
  title: 'Voltage in the load flow',
  advice: { 'load.voltage': 'Change a tap or the voltage of a source, compensate, or relieve the feeder.' },
  many: { 'load.voltage': 'have a voltage outside the band' },
  subjects: ({ network }) => {
    const limits = settingsOf(network).loadLimits;
    return ofKind(network, 'bus').map((bus): Subject<Bus> => ({ key: bus.id, value: bus, on: [bus, limits] }));
  },
  test({ studies, conditions, network }, bus, trace): Check[] {
    const limits = settingsOf(network).loadLimits;
    const found = conditions.flatMap((condition) => {
      const figures = flowIn(studies, condition.id);
      const here = figures.converged ? figures.buses.find((each) => each.bus === bus.id) : undefined;
      if (!here || here.kv === 0) return [];
      const { low, high } = voltageBand(limits, condition.limits === 'emergency');
      const isLow = here.percent - low < high - here.percent;
      const margin = isLow ? here.percent - low : high - here.percent;
      return [{ condition, here, margin, isLow, bound: isLow ? low : high }];
    });
    if (found.length === 0) return [];
    const { condition, here, margin, isLow, bound } = found.reduce((p, q) => (q.margin < p.margin ? q : p));
    trace.section(`${bus.name}, ${condition.name}`, bus.id);
    trace.step(
      'u',
      formula`${quantityOf('U', here.kv, 'kV')} / ${quantityOf('Un', bus.nominalKv, 'kV')} · 100`,
      here.percent,
      '%',
    );
    const holds = margin >= 0;
    return [
      {
        id: `voltage ${bus.id}`,
        rule: 'load.voltage',
        code: 'load.voltage',
        subject: bus.id,
        title: isLow ? 'Lowest voltage' : 'Highest voltage',
        value: here.percent,
        bound,
        unit: '%',
        sense: isLow ? 'atLeast' : 'atMost',
        deciding: { condition: condition.id },
        verdict: holds ? 'holds' : 'short',
        severity: 'warning',
        message: `${bus.name}: ${digits(here.percent)} % of Un is ${holds ? 'within' : isLow ? 'below' : 'above'} the limit of ${bound} % (${condition.name})`,
      },
    ];
  },
});
