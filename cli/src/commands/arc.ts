/** `mesura arc`: arc energy at every busbar and on the line side of what feeds it, over the conditions. */
import { caloriesOf, clothingFor } from '@mesura/core/arc/clothing';
import { methodTitles } from '@mesura/core/arc/judge';
import { arcStudy, decidingCase, governingDevice, spotName, type ArcResult, type ArcRow } from '@mesura/core/arc/study';
import { arcWorking } from '@mesura/core/arc/working';
import { settingsId } from '@mesura/core/model/element';
import { nameIn, settingsOf, withElements } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { Studies } from '@mesura/core/studies/studies';
import { finished } from '@mesura/core/working/steps';
import { networkFor, plainFormat, type Command } from '../command';
import { conditionsAsked, elementNamed, numberOf, oneOf, Refusal } from '../options';
import { tableOf, workingText, type Column } from '../output';

/** Exit code 3 where an energy is above the limit of the project, or nothing clears an arc. */
export const arcCommand: Command = {
  name: 'arc',
  takes: 'FILE',
  summary: 'arc energy, boundaries and clothing at every busbar',
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const show = (values.show ?? []).map((word) => oneOf('--show', word, ['working']));
    const given = networkFor(call, 'arc');
    const { arc } = settingsOf(given);
    const settings = {
      ...settingsOf(given),
      id: settingsId,
      arc: {
        ...arc,
        ...(values.edition !== undefined && { edition: oneOf('--edition', values.edition, ['2018', '2002']) }),
        ...(values.longest !== undefined && { longestS: numberOf('--longest', values.longest, 0.001, 60) }),
      },
    };
    const network = withElements(given, [settings]);
    const studies = new Studies(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const only = values.at?.map((name) => elementNamed(network, name, ['bus'], 'busbar').id) ?? null;
    const rows = finished(arcStudy(studies, conditions, { compare: values.compare ?? false, only }));
    if (rows.length === 0) throw new Refusal(1, 'no busbar is part of the study of arcs');
    const conditionName = ({ condition }: ArcResult) => conditionOf(network, condition)?.name ?? condition;
    const cal = (result: ArcResult | null) => result && caloriesOf(decidingCase(result).energy);
    const clearedBy = (row: ArcRow): string => {
      if (!row.worst) return '';
      const by = governingDevice(network, row.worst);
      return by ? `${by.name} ${by.code}` : `nothing within ${row.longestS} s`;
    };
    const wear = ({ worst }: ArcRow) =>
      worst ? (clothingFor(settings.arc.clothing, decidingCase(worst).energy)?.wear ?? 'no work on it') : null;
    const columns: Column<ArcRow>[] = [
      { head: 'place', name: 'place', value: ({ spot }) => spotName(network, spot) },
      { head: 'kV', name: 'kv', value: ({ at }) => at.voltageKv },
      { head: 'bolted kA', name: 'bolted_kA', value: ({ worst }) => worst?.boltedKa ?? null },
      { head: 'arcing kA', name: 'arcing_kA', value: ({ worst }) => worst && decidingCase(worst).arcingKa },
      { head: 'decides', name: 'decides', value: ({ worst }) => worst?.decides ?? null },
      { head: 'burns s', name: 'burns_s', value: ({ worst }) => worst && decidingCase(worst).burnsS },
      { head: 'cleared by', name: 'cleared_by', value: clearedBy },
      { head: 'cal/cm²', name: 'energy_cal_cm2', value: ({ worst }) => cal(worst) },
      { head: 'boundary mm', name: 'boundary_mm', value: ({ worst }) => worst && decidingCase(worst).boundaryMm },
      { head: 'clothing', name: 'clothing', value: wear },
      { head: 'condition', name: 'condition', value: ({ worst }) => worst && conditionName(worst) },
      {
        head: 'method',
        name: 'method',
        value: ({ worst }) => worst && `${methodTitles[worst.method]}${worst.confirmed ? '' : ' (as remembered)'}`,
      },
      ...(values.compare
        ? [{ head: 'other edition cal/cm²', name: 'other_cal_cm2', value: ({ other }: ArcRow) => cal(other) }]
        : []),
    ];
    const jsonResult = (result: ArcResult) => ({
      condition: conditionName(result),
      boltedKa: result.boltedKa,
      method: result.method,
      confirmed: result.confirmed,
      remarks: result.remarks,
      decides: result.decides,
      ...Object.fromEntries(
        (['full', 'reduced'] as const).map((which) => {
          const own = result[which];
          return [
            which,
            own && {
              arcingKa: own.arcingKa,
              burnsS: own.burnsS,
              limited: own.limited,
              energyJcm2: own.energy,
              energyCalCm2: caloriesOf(own.energy),
              boundaryMm: own.boundaryMm,
              stages: own.stages,
              openings: own.openings.map((each) => ({
                device: nameIn(network, each.device),
                code: each.code,
                opens: nameIn(network, each.element),
                trippedS: each.trippedS,
                openedS: each.openedS,
              })),
            },
          ];
        }),
      ),
    });
    const output =
      format === 'json'
        ? `${JSON.stringify(
            {
              command: 'arc',
              conditions: conditions.map(({ name }) => name),
              edition: settings.arc.edition,
              limitCalCm2: settings.arc.limitCal,
              rows: rows.map((row) => ({
                place: spotName(network, row.spot),
                bus: row.spot.bus,
                lineSideOf: row.spot.lineSideOf,
                ...row.at,
                longestS: row.longestS,
                clearedBy: clearedBy(row),
                clothing: wear(row),
                worst: row.worst && jsonResult(row.worst),
                other: row.other && jsonResult(row.other),
                results: row.results.map(jsonResult),
                problems: row.problems,
              })),
            },
            null,
            2,
          )}\n`
        : tableOf(columns, rows, format) +
          (show.includes('working') && format === 'table'
            ? rows
                .flatMap((row) =>
                  row.worst
                    ? [
                        workingText(
                          spotName(network, row.spot),
                          arcWorking(network, row, row.worst, row.worst.decides === 'reduced'),
                        ),
                      ]
                    : [],
                )
                .join('')
            : '');
    const above = rows.filter(({ worst }) => worst && caloriesOf(decidingCase(worst).energy) > settings.arc.limitCal);
    const uncleared = rows.filter(({ worst }) => worst && decidingCase(worst).limited);
    const errors =
      format === 'table'
        ? `${rows.length} places, ${above.length} above ${settings.arc.limitCal} cal/cm², ${uncleared.length} not cleared within the longest time\n`
        : '';
    return { code: above.length + uncleared.length > 0 ? 3 : 0, output, errors };
  },
};
