/** Earth faults at stations: rise of potential against what people bear and the limits of the project, wires against what they bear for as long as it lasts. */
import { earthStudy, verdictTitles, type EarthRow } from '../../earthReturn/study';
import type { EarthSettings } from '../../model/earthing';
import type { ElementId } from '../../model/fields';
import { nameIn, settingsOf } from '../../model/network';
import { conditionOf } from '../../model/state';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check } from '../check';

const rowsKey = 'earth return rows';

interface Subject {
  readonly bus: ElementId;
  readonly rows: readonly EarthRow[];
}

type Figures = NonNullable<EarthRow['figures']>;

/** What is held against what; null: there is nothing to hold. */
interface Held {
  readonly code: string;
  readonly title: string;
  readonly symbol: string;
  readonly clause: string;
  readonly unit: string;
  readonly of: (figures: Figures, settings: EarthSettings) => readonly [value: number, bound: number] | null;
  readonly message: (figures: Figures) => string;
}

const held: readonly Held[] = [
  {
    code: 'earthReturn.touch',
    title: 'Earth potential rise and touch voltage',
    symbol: 'UE',
    clause: 'EN 50522, 5.4.2; IEEE 80, clause 8 (as remembered)',
    unit: 'V',
    of: ({ riseV, touch }) => [riseV, touch.measuresV ?? touch.metV],
    message: ({ riseV, verdict, touch }) =>
      `rises by ${digits(riseV)} V, ${digits(touch.metV)} V without proof for ${digits(touch.seconds)} s: ${verdictTitles[verdict]}`,
  },
  {
    code: 'earthReturn.limit',
    title: 'Earth potential rise, limit of the project',
    symbol: 'UE',
    clause: '',
    unit: 'V',
    of: ({ riseV }, { limitV }) => (limitV === null ? null : [riseV, limitV]),
    message: ({ riseV }) => `rises by ${digits(riseV)} V`,
  },
  {
    code: 'earthReturn.tower',
    title: 'Potential of towers, limit of the project',
    symbol: 'UT',
    clause: '',
    unit: 'V',
    of: ({ worstTower }, { towerLimitV }) =>
      towerLimitV === null || !worstTower ? null : [worstTower.volts, towerLimitV],
    message: ({ worstTower }) => `a tower rises by ${digits(worstTower?.volts ?? 0)} V`,
  },
  {
    code: 'earthReturn.wire',
    title: 'Heat of shield wires and sheaths',
    symbol: 'IW',
    clause: 'IEC 60949, 4 (temperatures as remembered)',
    unit: 'A',
    of: ({ hottest }) => hottest && [hottest.ampere, hottest.borneA],
    message: ({ hottest }) =>
      `${hottest?.wire} carries ${digits(hottest?.ampere ?? 0)} A of ${digits(hottest?.borneA ?? 0)} A that it bears`,
  },
];

export const earthRiseRule = checkRule<Subject>({
  id: 'protection.earthRise',
  title: 'Earth potential rise',
  advice: {
    'earthReturn.touch':
      'Show the touch voltages of the grid, improve its earthing, give more wires the current to return along, or clear sooner.',
    'earthReturn.limit': 'Improve the earthing, give more wires the current to return along, or move the limit.',
    'earthReturn.tower': 'Improve the footings, add a counterpoise, or clear sooner.',
    'earthReturn.wire': 'A larger section, a second wire, or clear sooner.',
  },
  many: {
    'earthReturn.touch': 'rise further than the measures of the standard allow: touch voltages are to be shown',
    'earthReturn.wire': 'load a shield wire or sheath beyond what it bears',
  },
  *prepare({ network, studies, conditions, memory }) {
    if (settingsOf(network).earthReturn.findings === 'quiet') {
      memory.delete(rowsKey);
      return;
    }
    const { rows } = yield* earthStudy(studies, conditions);
    memory.set(rowsKey, rows);
  },
  subjects: ({ network, memory }) => {
    const rows = (memory.get(rowsKey) as readonly EarthRow[] | undefined) ?? [];
    return [...new Set(rows.map(({ bus }) => bus))].map((bus) => {
      const own = rows.filter((row) => row.bus === bus);
      return { key: bus, value: { bus, rows: own }, on: [...own, settingsOf(network)] };
    });
  },
  test({ network }, { bus, rows }, trace): Check[] {
    const settings = settingsOf(network).earthReturn;
    return held.flatMap(({ code, title, symbol, clause, unit, of, message }): Check[] => {
      const all = rows.flatMap(({ figures, condition }) => {
        const pair = figures && of(figures, settings);
        return pair ? [{ figures, condition, value: pair[0], bound: pair[1] }] : [];
      });
      const worst = all.sort((p, q) => q.value / q.bound - p.value / p.bound).at(0);
      if (!worst) return [];
      const { figures, condition, value, bound } = worst;
      trace.section(nameIn(network, bus), bus);
      trace.step(symbol, formula`${quantityOf(symbol, value, unit)}`, value, unit, clause || undefined);
      const conditionName = conditionOf(network, condition)?.name ?? '';
      return [
        {
          id: `${code} ${bus}`,
          rule: 'protection.earthRise',
          code,
          subject: bus,
          title,
          value,
          bound,
          unit,
          sense: 'atMost',
          deciding: { condition, place: bus },
          verdict: value > bound ? 'short' : 'holds',
          severity: 'warning',
          message: `${nameIn(network, bus)} ${message(figures)} (${conditionName})`,
        },
      ];
    });
  },
});
