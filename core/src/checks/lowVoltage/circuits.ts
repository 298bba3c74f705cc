/** Circuits of boards whose installation is given, against everything that they have to meet; boards without stay quiet: nobody has designed their circuits here. */
import { circuitTable, type CircuitRow } from '../../lowVoltage/study';
import { clauseOf, criterionTexts, reasonTexts } from '../../lowVoltage/texts';
import { criteria, type CircuitCheck, type Criterion } from '../../lowVoltage/judge';
import { installationOf } from '../../lowVoltage/demand';
import { find, nameIn, ofKind } from '../../model/network';
import { conditionOf } from '../../model/state';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check } from '../check';

const rowsKey = 'circuit rows';

/** What harms nobody is a warning. */
const mild: ReadonlySet<Criterion> = new Set<Criterion>(['drop', 'startDrop', 'start']);

const advice: Readonly<Record<Criterion, string>> = {
  load: 'Choose a larger device, or divide the load.',
  overload: 'Choose a larger section or a smaller device, or lay the cable where it carries more.',
  drop: 'Choose a larger section, or shorten the cable.',
  startDrop: 'Choose a larger section, or start the motor in another way.',
  start: 'Choose a slower device, or type how long the start takes.',
  disconnection: 'Choose a larger section or a quicker device, shorten the cable, or add a residual-current device.',
  touch: 'Choose a smaller residual current, or improve the electrode.',
  breaking: 'Choose a device that breaks more.',
  heat: 'Choose a larger section or a device that lets less through; type its let-through energy where the data sheet gives it.',
  heatPe: 'Choose a larger protective conductor, or a device that lets less through.',
};

const verdictOf = { holds: 'holds', short: 'short', doubtful: 'doubtful', unknown: 'doubtful' } as const;

export const circuitsRule = checkRule<CircuitRow>({
  id: 'lowVoltage.circuits',
  title: 'Low-voltage circuits',
  advice: Object.fromEntries(criteria.map((each) => [`circuits.${each}`, advice[each]])),
  many: Object.fromEntries(criteria.map((each) => [`circuits.${each}`, `are short: ${criterionTexts[each].missed}`])),
  *prepare({ network, studies, conditions, memory }) {
    const boards = ofKind(network, 'bus').filter(({ installation }) => installation !== undefined);
    const rows: CircuitRow[] = [];
    for (const { id } of boards) rows.push(...(yield* circuitTable(studies, conditions, id)).rows);
    memory.set(rowsKey, rows);
  },
  subjects: ({ memory }) =>
    ((memory.get(rowsKey) as readonly CircuitRow[] | undefined) ?? []).map((row) => ({
      key: row.key,
      value: row,
      // By what it says: rows are made anew with every run.
      on: [JSON.stringify([row.checks, row.ends])],
    })),
  test({ network }, row, trace): Check[] {
    const name = row.ends.map((id) => nameIn(network, id)).join(', ');
    const { rules } = installationOf(network, row.board);
    return row.checks.map((check): Check => {
      const { criterion, value, limit, unit, verdict, condition, subject } = check;
      trace.section(`${name}: ${criterionTexts[criterion].title}`, row.key);
      if (value !== null)
        trace.step('is', formula`${quantityOf('value', value, unit)}`, value, unit, clauseOf(criterion, rules));
      return {
        id: `circuits.${criterion} ${row.key}`,
        rule: 'lowVoltage.circuits',
        code: `circuits.${criterion}`,
        subject: row.key,
        ...(subject && subject !== row.key && find(network, 'line', subject) && { elements: [row.key, subject] }),
        title: `${name}: ${criterionTexts[criterion].title.toLowerCase()}`,
        value,
        bound: limit,
        unit,
        sense: 'atMost',
        deciding: condition ? { condition, ...(subject && { place: subject }) } : null,
        verdict: verdictOf[verdict],
        severity: verdict === 'short' && !mild.has(criterion) ? 'error' : 'warning',
        message: `${name}: ${toldOf(check)}${condition ? ` (${conditionOf(network, condition)?.name})` : ''}`,
      };
    });
  },
});

function toldOf({ criterion, value, limit, unit, verdict, why }: CircuitCheck): string {
  const figures = [
    value === null ? [] : [`${digits(value)} ${unit}`],
    limit === null ? [] : [`at most ${digits(limit)} ${unit}`],
  ]
    .flat()
    .join(', ');
  const { title, missed } = criterionTexts[criterion];
  const says = verdict === 'short' ? missed : title.toLowerCase();
  return [figures ? `${says}: ${figures}` : says, ...(why ? [reasonTexts[why]] : [])].join('; ');
}
