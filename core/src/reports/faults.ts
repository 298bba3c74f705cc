/** Fault currents of chosen places, kinds and conditions as a report: inputs, results, contributions, workings. */
import { faultKindTitles, solidFault, type FaultKind } from '../faults/kinds';
import { peakMethodTitles } from '../faults/iec60909/peak';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { settingsOf } from '../model/network';
import type { FaultDetail, FaultEngine, PlaceQuery, StudyQuery } from '../studies/engine';
import type { Report, ReportColumn, ReportSection, ReportWorking } from './report';

export interface FaultReportOptions {
  readonly conditions: readonly Condition[];
  readonly kinds: readonly FaultKind[];
  /** Empty: all buses. */
  readonly buses: readonly ElementId[];
  /** Minimum time delay and duration, in seconds. */
  readonly breakingS: number;
  readonly durationS: number;
  /** Workings are long: only where asked for. */
  readonly workings: boolean;
}

const figure = (head: string): ReportColumn => ({ head, figure: true });
const columns: readonly ReportColumn[] = [
  { head: 'Place', wide: 2 },
  figure('Un kV'),
  { head: 'Kind', wide: 1.8 },
  { head: 'Condition', wide: 2 },
  figure('Ik″ kA'),
  figure('3·I0 kA'),
  figure('ip kA'),
  figure('Ib kA'),
  figure('Ik kA'),
  figure('Ith kA'),
  figure('X/R'),
  figure('R1 Ω'),
  figure('X1 Ω'),
  figure('R1 %'),
  figure('X1 %'),
  { head: 'Remark', wide: 2 },
];
const shareColumns: readonly ReportColumn[] = [
  { head: 'Place', wide: 2 },
  { head: 'Kind', wide: 2 },
  { head: 'Condition', wide: 2 },
  { head: 'From', wide: 2 },
  figure('kA'),
  figure('% of Ik″'),
];

const kilo = (ampere: number | null | undefined): number | null => (ampere == null ? null : ampere / 1000);

/** Yields the share that is done. */
export function* faultReport(engine: FaultEngine, options: FaultReportOptions): Generator<number, Report> {
  const { conditions, kinds, buses, breakingS, durationS, workings: written } = options;
  const { network } = engine;
  const { owner, frequencyHz, baseMva, lowVoltageTolerancePercent } = settingsOf(network);
  const places: readonly PlaceQuery[] =
    buses.length > 0 ? buses.map((element) => ({ at: 'terminal', element, terminal: 0 })) : engine.buses();
  const results: { cells: (string | number | null)[] }[] = [];
  const shares: { cells: (string | number | null)[] }[] = [];
  const workings: ReportWorking[] = [];
  const all = conditions.length * kinds.length * places.length;
  let done = 0;
  yield 0;
  for (const place of places)
    for (const kind of kinds)
      for (const condition of conditions) {
        const study: StudyQuery = { method: 'iec60909', condition: condition.id };
        const fault = { ...solidFault(kind), breakingS, durationS };
        const detail: FaultDetail = engine.detail(study, fault, place);
        const { row } = detail;
        const r = row.result;
        const z = r?.z1 ?? null;
        const percent = (ohm: number) => (100 * ohm * baseMva) / row.nominalKv ** 2;
        results.push({
          cells: [
            row.name,
            row.nominalKv,
            faultKindTitles[kind],
            condition.name,
            kilo(r?.ikA),
            kind === '3ph' ? null : kilo(r?.earthA),
            kilo(r?.ipA),
            kilo(r?.ibA),
            kilo(r?.steady?.maxA),
            kilo(r?.ithA),
            r?.xOverR ?? null,
            z && z.re,
            z && z.im,
            z && percent(z.re),
            z && percent(z.im),
            row.problems.map(({ message }) => message).join('; '),
          ],
        });
        for (const share of detail.contributions)
          shares.push({
            cells: [
              row.name,
              faultKindTitles[kind],
              condition.name,
              share.name,
              share.currentA / 1000,
              r && r.ikA > 0 ? (100 * share.currentA) / r.ikA : null,
            ],
          });
        if (written && detail.working) workings.push(detail.working);
        yield ++done / all;
      }
  const basis: ReportSection = {
    title: 'Basis',
    facts: [
      ['Method', `IEC 60909-0:2016, ${frequencyHz} Hz; peak by ${peakMethodTitles.equivalentFrequency}`],
      ['Low-voltage tolerance', `${lowVoltageTolerancePercent} %`],
      ['Conditions', conditions.map(({ name, sources }) => `${name} (${sources} sources)`).join(', ')],
      ['Kinds of fault', kinds.map((kind) => faultKindTitles[kind]).join(', ')],
      ['Breaking current', `at ${breakingS} s`],
      ['Thermal equivalent current', `for ${durationS} s`],
      ['Percent impedances', `on ${baseMva} MVA and the nominal voltage`],
    ],
  };
  return {
    title: 'Fault currents',
    owner,
    sections: [
      basis,
      { title: 'Results', table: { columns, rows: results } },
      {
        title: 'Contributions',
        text: ['Magnitudes at the voltage of the fault; they add up as phasors.'],
        table: { columns: shareColumns, rows: shares },
        workings,
      },
    ],
  };
}
