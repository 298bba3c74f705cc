/** `mesura reach`: reaches of the zones at the ends of lines by the rulebook, and which rule and elements decided them. */
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { stationsOf } from '@mesura/core/model/stations';
import { reachPlan, type ReachRow } from '@mesura/core/reach/plan';
import type { Decided, Reaches } from '@mesura/core/reach/zones';
import { finished } from '@mesura/core/working/steps';
import { networkFor, plainFormat, type Command, studiesOf } from '../command';
import { Refusal } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

interface Line {
  readonly row: ReachRow;
  readonly zone: Reaches;
}

const fine = (value: number | undefined) => (value === undefined ? null : Number(value.toPrecision(6)));

export const reachCommand: Command = {
  name: 'reach',
  takes: 'FILE',
  summary: studySummaries.reach,
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const network = networkFor(call, 'reach');
    const studies = studiesOf(network);
    const fromKv = Number(values.from ?? '50');
    if (!(fromKv >= 0)) throw new Refusal(2, `--from takes a voltage in kV, not "${values.from}"`);
    const rows = finished(reachPlan(studies, { merged: values.merged === true, fromKv })).filter(
      inStation(values.station),
    );
    const named = (id: ElementId) => nameOf(network.elements.get(id)!);
    const columns: Column<Line>[] = [
      { head: 'station', name: 'station', value: ({ row }) => row.stationName },
      { head: 'line', name: 'line', value: ({ row }) => row.lineName },
      { head: 'relay', name: 'relay', value: ({ row }) => row.relay?.device.name ?? null },
      { head: 'zone', name: 'zone', value: ({ zone }) => zone.zone },
      { head: 'reach Ω', name: 'reach_ohm', value: ({ zone }) => fine(zone.reach?.value) },
      { head: 'earth Ω', name: 'reach_earth_ohm', value: ({ zone }) => fine(zone.reachEarth?.value) },
      { head: 'R Ω', name: 'resistance_ohm', value: ({ zone }) => fine(zone.resistance?.value) },
      { head: 'R earth Ω', name: 'resistance_earth_ohm', value: ({ zone }) => fine(zone.resistanceEarth?.value) },
      { head: 'delay s', name: 'delay_s', value: ({ zone }) => fine(zone.delay?.value) },
      { head: 'decided by', name: 'decided_by', value: ({ zone }) => zone.reach?.by.rule.title ?? null },
      { head: 'elements', name: 'elements', value: ({ zone }) => zone.reach?.elements.map(named).join(', ') ?? null },
    ];
    const lines = rows.flatMap((row) => row.zones.filter(({ reach }) => reach).map((zone) => ({ row, zone })));
    const decidedJson = (of: Decided | null) =>
      of && {
        value: of.value,
        rule: of.by.rule.id,
        title: of.by.rule.title,
        formula: of.by.rule.formula,
        elements: of.elements,
        figures: of.by.figures.map(({ name, value, elements }) => ({ name, value, elements })),
        notMet: of.against.map(({ rule, value }) => ({ rule: rule.id, value })),
      };
    const output =
      format === 'json'
        ? `${JSON.stringify(
            {
              command: 'reach',
              ends: rows.map((row) => ({
                line: row.end.line,
                terminal: row.end.terminal + 1,
                station: row.stationName,
                nominalKv: row.nominalKv,
                relay: row.relay?.device.id ?? null,
                secondary: row.relay?.secondary ?? null,
                lineAngleDeg: row.lineAngleDeg,
                k0: row.k0,
                figures: Object.values(row.figures),
                zones: row.zones
                  .filter(({ reach }) => reach)
                  .map(({ zone, ...rest }) => ({
                    zone,
                    reach: decidedJson(rest.reach),
                    reachEarth: decidedJson(rest.reachEarth),
                    resistance: decidedJson(rest.resistance),
                    resistanceEarth: decidedJson(rest.resistanceEarth),
                    delay: decidedJson(rest.delay),
                  })),
              })),
            },
            null,
            2,
          )}\n`
        : tableOf(columns, lines, format);
    return { code: 0, output, errors: format === 'table' ? `${rows.length} line ends, ${lines.length} zones\n` : '' };

    function inStation(word: string | undefined): (row: ReachRow) => boolean {
      if (word === undefined) return () => true;
      const stations = stationsOf(network);
      const station = stations.find(({ id, name }) => id === word || name === word);
      if (!station)
        throw new Refusal(
          1,
          `no station is called "${word}"; there are: ${stations.map(({ name }) => name).join(', ')}`,
        );
      return (row) => row.station === station.id;
    }
  },
};
