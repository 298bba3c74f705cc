/** Arc energy at every place against the limit of the project, where the project asks for that. */
import { ArcKeeper } from '../../arc/study';
import { arcLines, arcTable, clearedBy, type ArcLine } from '../../arc/table';
import { settingsOf } from '../../model/network';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check } from '../check';

const keeperKey = 'arc keeper';
const linesKey = 'arc lines';

export const arcEnergyRule = checkRule<ArcLine>({
  id: 'protection.arcEnergy',
  title: 'Arc energy',
  advice: {
    'arc.limit':
      'Propose a setting on the card of the place (stage Arc), watch it by light, interlock the devices, or give it a maintenance setting; else no work on it energised.',
  },
  many: { 'arc.limit': 'are above the limit of arc energy' },
  *prepare({ network, studies, conditions, memory }) {
    if (settingsOf(network).arc.findings === 'quiet') {
      memory.delete(linesKey);
      return;
    }
    const keeper = (memory.get(keeperKey) as ArcKeeper | undefined) ?? new ArcKeeper();
    memory.set(keeperKey, keeper);
    const table = yield* arcTable(studies, conditions, { compare: false, only: null }, keeper);
    memory.set(linesKey, arcLines(studies.whole, table));
  },
  subjects: ({ network, memory }) =>
    ((memory.get(linesKey) as readonly ArcLine[] | undefined) ?? [])
      .filter(({ worst }) => worst !== null)
      .map((line) => ({ key: line.key, value: line, on: [line.row.row, settingsOf(network)] })),
  test({ network }, line, trace): Check[] {
    const { worst, bus, lineSideOf, name, key } = line;
    if (!worst) return [];
    const { limitCal } = settingsOf(network).arc;
    trace.section(name, bus);
    trace.step('E', formula`${quantityOf('E', worst.energy, 'J/cm²')} / 4.184`, worst.cal, 'cal/cm²');
    const subject = lineSideOf ?? bus;
    return [
      {
        id: `arc ${key}`,
        rule: 'protection.arcEnergy',
        code: 'arc.limit',
        subject,
        elements: [...new Set([subject, bus])],
        title: `Arc energy at ${name}`,
        value: worst.cal,
        bound: limitCal,
        unit: 'cal/cm²',
        sense: 'atMost',
        deciding: { condition: worst.condition, place: bus },
        verdict: worst.cal > limitCal ? 'short' : 'holds',
        severity: 'warning',
        message: `${name}: ${digits(worst.cal)} cal/cm², at most ${digits(limitCal)}; ${clearedBy(line)} (${worst.conditionName})`,
      },
    ];
  },
});
