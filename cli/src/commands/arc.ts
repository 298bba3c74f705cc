/** `mesura arc`: arc energy at every busbar and on the line side of what feeds it, over the conditions. */
import { caloriesOf, clothingFor } from '@mesura/core/arc/clothing';
import { directMethods } from '@mesura/core/arc/directCurrent';
import type { DirectArcResult } from '@mesura/core/arc/directStudy';
import type { ArcResult } from '@mesura/core/arc/study';
import { arcLines, arcTable, clearedBy, isOver, lineWorking, type ArcLine } from '@mesura/core/arc/table';
import { settingsId } from '@mesura/core/model/element';
import { nameIn, settingsOf, withElements } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { finished } from '@mesura/core/working/steps';
import { plainFormat, wholeNetworkFor, type Command, studiesOf } from '../command';
import { conditionsAsked, elementNamed, numberOf, oneOf, Refusal } from '../options';
import { tableOf, workingText, type Column } from '../output';
import { studySummaries } from '../words';

/** Exit code 3 where an energy is above the limit of the project, or nothing clears an arc. */
export const arcCommand: Command = {
  name: 'arc',
  takes: 'FILE',
  summary: studySummaries.arc,
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const show = (values.show ?? []).map((word) => oneOf('--show', word, ['working']));
    const given = wholeNetworkFor(call, 'arc');
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
    const studies = studiesOf(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const only = values.at?.map((name) => elementNamed(network, name, ['bus'], 'busbar').id) ?? null;
    const table = finished(
      arcTable(studies, conditions, {
        compare: values.compare ?? false,
        only,
        maintenance: values.maintenance ?? false,
      }),
    );
    const lines = arcLines(network, table);
    if (lines.length === 0) throw new Refusal(1, 'no busbar is part of the study of arcs');
    const conditionName = ({ condition }: Pick<ArcResult, 'condition'>) =>
      conditionOf(network, condition)?.name ?? condition;
    const wear = ({ worst }: ArcLine) =>
      worst ? (clothingFor(settings.arc.clothing, worst.energy)?.wear ?? 'no work on it') : null;
    const columns: Column<ArcLine>[] = [
      { head: 'place', name: 'place', value: ({ name }) => name },
      { head: '', name: 'system', value: ({ system }) => system },
      { head: 'kV', name: 'kv', value: ({ voltageKv }) => voltageKv },
      { head: 'bolted kA', name: 'bolted_kA', value: ({ worst }) => worst?.boltedKa ?? null },
      { head: 'arcing kA', name: 'arcing_kA', value: ({ worst }) => worst?.arcingKa ?? null },
      { head: 'decides', name: 'decides', value: ({ worst }) => worst?.decides ?? null },
      { head: 'burns s', name: 'burns_s', value: ({ worst }) => worst?.burnsS ?? null },
      { head: 'cleared by', name: 'cleared_by', value: (line) => clearedBy(line) },
      { head: 'cal/cm²', name: 'energy_cal_cm2', value: ({ worst }) => worst?.cal ?? null },
      { head: 'boundary mm', name: 'boundary_mm', value: ({ worst }) => worst?.boundaryMm ?? null },
      { head: 'clothing', name: 'clothing', value: wear },
      { head: 'condition', name: 'condition', value: ({ worst }) => worst?.conditionName ?? null },
      {
        head: 'method',
        name: 'method',
        value: ({ worst }) => worst && `${worst.method}${worst.confirmed ? '' : ' (as remembered)'}`,
      },
      ...(values.compare
        ? [{ head: 'other edition cal/cm²', name: 'other_cal_cm2', value: ({ otherCal }: ArcLine) => otherCal }]
        : []),
    ];
    const jsonDirect = (result: DirectArcResult) => ({
      condition: conditionName(result),
      boltedA: result.boltedA,
      decides: result.decides,
      ...Object.fromEntries(
        directMethods.map((method) => {
          const own = result.cases[method];
          return [
            method,
            own && {
              currentA: own.currentA,
              voltageV: own.voltageV,
              burnsS: own.burnsS,
              limited: own.limited,
              workJ: own.workJ,
              energyJcm2: own.energy,
              energyCalCm2: caloriesOf(own.energy),
              boundaryMm: own.boundaryMm,
              stages: own.stages,
              openings: own.openings.map(({ device, ...each }) => ({ device: nameIn(network, device), ...each })),
            },
          ];
        }),
      ),
    });
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
              rows: lines.map((line) => ({
                place: line.name,
                system: line.system,
                bus: line.bus,
                lineSideOf: line.lineSideOf,
                ...line.row.row.at,
                longestS: line.longestS,
                clearedBy: clearedBy(line),
                clothing: wear(line),
                ...(line.row.system === 'ac'
                  ? {
                      worst: line.row.row.worst && jsonResult(line.row.row.worst),
                      other: line.row.row.other && jsonResult(line.row.row.other),
                      results: line.row.row.results.map(jsonResult),
                    }
                  : {
                      worst: line.row.row.worst && jsonDirect(line.row.row.worst),
                      other: null,
                      results: line.row.row.results.map(jsonDirect),
                    }),
                problems: line.problems,
              })),
            },
            null,
            2,
          )}\n`
        : tableOf(columns, lines, format) +
          (show.includes('working') && format === 'table'
            ? lines.flatMap((line) => (line.worst ? [workingText(line.name, lineWorking(network, line))] : [])).join('')
            : '');
    const above = lines.filter((line) => isOver(network, line));
    const uncleared = lines.filter(({ worst }) => worst?.limited);
    const errors =
      format === 'table'
        ? `${lines.length} places, ${above.length} above ${settings.arc.limitCal} cal/cm², ${uncleared.length} not cleared within the longest time\n`
        : '';
    return { code: above.length + uncleared.length > 0 ? 3 : 0, output, errors };
  },
};
