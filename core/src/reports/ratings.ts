/** The study of ratings as a report: inputs, conditions, the summaries, what is not known, the working of the worst. */
import { verdictTitles } from '../checks/check';
import {
  ratingRules,
  ratingsOf,
  ratingTables,
  ratingTableTitles,
  unknownRatings,
  type RatingCheck,
  type RatingTable,
} from '../checks/ratings';
import { Checker, workingOf } from '../checks/run';
import { faultKindTitles } from '../faults/kinds';
import type { Condition } from '../model/condition';
import { nameOf } from '../model/element';
import { settingsOf, type Network } from '../model/network';
import { conditionOf } from '../model/state';
import type { Studies } from '../studies/studies';
import type { Report, ReportColumn, ReportSection, Tone } from './report';

/** Workings of so many of the most used of each summary are written out. */
const writtenOut = 5;

const tones: Readonly<Record<RatingCheck['verdict'], Tone>> = {
  holds: 'pass',
  short: 'fail',
  doubtful: 'warn',
  notApplicable: 'warn',
};

/** Yields the share that is done. */
export function* ratingsReport(
  studies: Studies,
  conditions: readonly Condition[] = studies.conditions,
): Generator<number, Report> {
  const { network } = studies;
  const { checks } = yield* new Checker(ratingRules).run(studies, conditions);
  const { ratingLimits, frequencyHz, owner, lowVoltageTolerancePercent } = settingsOf(network);
  const unknown = unknownRatings(network);
  const count = (verdict: RatingCheck['verdict']) => checks.filter((check) => check.verdict === verdict).length;
  const basis: ReportSection = {
    title: 'Basis',
    facts: [
      ['Conditions', conditions.map(({ name }) => name).join(', ')],
      [
        'Short circuits',
        `IEC 60909-0:2016, ${frequencyHz} Hz, low-voltage tolerance ${lowVoltageTolerancePercent} %; IEEE C37.010 for ratings to it`,
      ],
      [
        'Duty of a device',
        ratingLimits.duty === 'through'
          ? 'current through the device, for a fault on either side'
          : 'whole current at the place',
      ],
      [
        'Duration',
        ratingLimits.clearing === 'chosen'
          ? `${ratingLimits.clearingS} s for all`
          : `until the protection clears; ${ratingLimits.clearingS} s where no clearing time is known`,
      ],
      ['Shortest time of a relay', `${ratingLimits.relayMs} ms`],
      ['Limits', `warning from ${ratingLimits.warnPercent} %, not met above ${ratingLimits.failPercent} %`],
      [
        'Result',
        `${checks.length} ratings: ${count('holds')} OK, ${count('doubtful')} marginal, ${count('short')} not met`,
      ],
    ],
    text: ['What the program only remembers of a standard says so beside its clause in the working.'],
  };
  const summaries = ratingTables.map((table) => summary(studies, conditions, network, table, ratingsOf(checks, table)));
  const missing: ReportSection = {
    title: 'Ratings that are not known',
    text: unknown.length === 0 ? ['All ratings are known.'] : ['Nothing of these is checked.'],
    table: {
      columns: [
        { head: 'Element', wide: 2 },
        { head: 'Kind', wide: 2 },
        { head: 'Not known', wide: 4 },
      ],
      rows: unknown.map(({ name, kind, missing: what }) => ({ cells: [name, kind, what.join(', ')] })),
    },
  };
  const assumed = checks.filter((check) => check.duty?.assumed);
  const taken: ReportSection = {
    title: 'Ratings taken from others',
    text: assumed.length === 0 ? ['None.'] : [],
    table: {
      columns: [
        { head: 'Element', wide: 2 },
        { head: 'Rating', wide: 3 },
        { head: 'Taken as', wide: 3 },
      ],
      rows: assumed.map((check) => ({
        cells: [nameOf(network.elements.get(check.subject)!), check.title, check.duty!.assumed],
      })),
    },
  };
  return { title: 'Ratings of equipment', owner, sections: [basis, ...summaries, missing, taken] };
}

const columns: readonly ReportColumn[] = [
  { head: 'Element', wide: 2.2 },
  { head: 'Check', wide: 2.6 },
  { head: 'Standard', wide: 2 },
  { head: 'Rating', figure: true },
  { head: 'Duty', figure: true },
  { head: 'Unit' },
  { head: 'X/R', figure: true },
  { head: 'd.c. %', figure: true },
  { head: 'Factor', figure: true },
  { head: 't s', figure: true },
  { head: 'Used %', figure: true },
  { head: 'Condition', wide: 2.2 },
  { head: 'Fault', wide: 1.8 },
  { head: 'Verdict', wide: 1.2 },
];

function summary(
  studies: Studies,
  conditions: readonly Condition[],
  network: Network,
  table: RatingTable,
  checks: readonly RatingCheck[],
): ReportSection {
  return {
    title: ratingTableTitles[table],
    table: {
      columns,
      rows: checks.map((check) => ({
        tone: tones[check.verdict],
        cells: [
          nameOf(network.elements.get(check.subject)!),
          check.title,
          check.duty.standard,
          check.value,
          check.bound,
          check.unit,
          check.duty.xOverR,
          check.duty.dcPercent,
          check.duty.factor,
          check.duty.timeS,
          check.duty.utilisationPercent,
          check.deciding ? (conditionOf(network, check.deciding.condition)?.name ?? '') : '',
          check.deciding?.kind ? faultKindTitles[check.deciding.kind] : '',
          verdictTitles[check.verdict],
        ],
      })),
    },
    workings: checks.slice(0, writtenOut).flatMap((check) => {
      const working = workingOf(studies, conditions, check);
      return working ? [{ ...working, title: `${check.message}` }] : [];
    }),
  };
}
