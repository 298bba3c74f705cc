/** What direct current has to do: loads keep the voltage that they work at, and switches and fuses break what they meet. */
import { directStudy, type DirectAnswer } from '../../direct/study';
import { directPart } from '../../model/directPart';
import { conditionOf } from '../../model/state';
import { find, nameIn, ofKind, type Network } from '../../model/network';
import type { Condition } from '../../model/condition';
import type { ElementId } from '../../model/fields';
import { directFault } from '../../direct/currents';
import { directNetwork } from '../../direct/network';
import { formula, quantityOf } from '../../working/trace';
import { finished } from '../../working/steps';
import { checkRule, digits, type Check, type Context } from '../check';

/** One answer for all rules of a run. */
const answers = new WeakMap<Network, { key: string; answer: DirectAnswer }>();

function answerOf({ studies: { whole }, conditions }: Context): DirectAnswer {
  const key = JSON.stringify(conditions);
  const known = answers.get(whole);
  if (known?.key === key) return known.answer;
  const answer = finished(directStudy(whole, conditions));
  answers.set(whole, { key, answer });
  return answer;
}

const directElements = (whole: Network): readonly unknown[] =>
  [...directPart(whole).ids].map((id) => whole.elements.get(id));

export const directVoltageRule = checkRule<ElementId>({
  id: 'direct.voltage',
  title: 'Voltage at a d.c. load',
  advice: {
    'direct.voltage': 'A larger section, a shorter way or another board; of trip coils a battery of more cells.',
    'direct.fallsOut': 'The battery cannot carry this load over this cable: a larger section, or less load.',
  },
  subjects: ({ studies: { whole } }) =>
    ofKind(whole, 'directLoad').map(({ id }) => ({ key: id, value: id, on: directElements(whole) })),
  test(context, id, trace): Check[] {
    const { whole } = context.studies;
    const { rows, flows } = answerOf(context);
    const row = rows.find(({ element }) => element === id);
    if (!row?.lowest || row.lowest.percent === null || row.lowestPercent === null) return [];
    const fallen = flows.find(({ collapsed }) => collapsed.includes(id));
    const { volts, percent, condition } = row.lowest;
    trace.section(nameIn(whole, id), id);
    trace.step(
      'U',
      formula`100 · ${quantityOf('U', volts, 'V')} / ${quantityOf('Un', row.nominalV ?? 0, 'V')}`,
      percent,
      '%',
    );
    const where = conditionOf(whole, fallen?.condition ?? condition)?.name ?? '';
    return [
      {
        id: `direct voltage ${id}`,
        rule: 'direct.voltage',
        code: fallen ? 'direct.fallsOut' : 'direct.voltage',
        subject: id,
        title: 'Voltage in service',
        value: fallen ? null : percent,
        bound: row.lowestPercent,
        unit: '% Un',
        sense: 'atLeast',
        deciding: { condition: fallen?.condition ?? condition },
        verdict: fallen || percent < row.lowestPercent ? 'short' : 'holds',
        severity: 'error',
        message: fallen
          ? `${nameIn(whole, id)}: no voltage satisfies this load (${where})`
          : `${nameIn(whole, id)}: ${digits(percent)} % of the nominal voltage, needs ${digits(row.lowestPercent)} % (${where})`,
      },
    ];
  },
});

export const directBreakingRule = checkRule<ElementId>({
  id: 'direct.breaking',
  title: 'Breaking of direct current',
  clause: 'IEC 60947-2; IEC 60269-1',
  advice: {
    'direct.breaking': 'Another device, or one with its poles in series; the rating must be one for direct current.',
  },
  subjects: ({ studies: { whole } }) =>
    ofKind(whole, 'switch').flatMap(({ id, breakingKa }) =>
      breakingKa !== null && directPart(whole).ids.has(id) ? [{ key: id, value: id, on: directElements(whole) }] : [],
    ),
  test({ studies: { whole }, conditions }, id, trace): Check[] {
    const breakingKa = find(whole, 'switch', id)?.breakingKa;
    if (!breakingKa) return [];
    const worst = conditions
      .flatMap((condition: Condition) => {
        const network = directNetwork(whole, { condition: condition.id });
        return [0, 1].flatMap((terminal) => {
          const node = network.nodeAt(id, terminal);
          const fault = node === undefined ? null : directFault(network, node);
          return fault ? [{ condition: condition.id, peakKa: fault.peakA / 1000 }] : [];
        });
      })
      .reduce<{ condition: ElementId; peakKa: number } | null>((p, q) => (p && p.peakKa >= q.peakKa ? p : q), null);
    if (!worst) return [];
    trace.section(nameIn(whole, id), id);
    trace.step(
      'ip',
      formula`${quantityOf('ip', worst.peakKa, 'kA')}`,
      worst.peakKa,
      'kA',
      undefined,
      'whole current of the place',
    );
    return [
      {
        id: `direct breaking ${id}`,
        rule: 'direct.breaking',
        code: 'direct.breaking',
        subject: id,
        title: 'Breaking capacity, d.c.',
        value: worst.peakKa,
        bound: breakingKa,
        unit: 'kA',
        sense: 'atMost',
        deciding: { condition: worst.condition },
        verdict: worst.peakKa > breakingKa ? 'short' : 'holds',
        severity: 'error',
        message: `${nameIn(whole, id)}: ${digits(worst.peakKa)} kA where it breaks ${digits(breakingKa)} kA`,
      },
    ];
  },
});
