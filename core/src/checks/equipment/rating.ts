/** A duty against a rating as a check: verdict by the limits of the project, the next standard rating where it does not hold. */
import type { ElementId } from '../../model/fields';
import { find, settingsOf, type Network } from '../../model/network';
import type { ProblemProposal } from '../../model/problem';
import type { Clearing } from '../../duty/clearing';
import { comparedWith } from '../../ratings/compared';
import { formula, given, quantityOf, type Trace } from '../../working/trace';
import { digits, type Check, type CheckVerdict, type Deciding, type DutyFigures } from '../check';

/** A standard rating, with the ratings of the same device that go with it. */
export interface NextRating {
  readonly value: number;
  readonly unit: string;
  readonly with?: readonly { readonly path: string; readonly says: string; readonly value: number }[];
  /** Said instead of being taken over: what a person has to choose along with it. */
  readonly choose?: string;
}

export interface Rated {
  readonly id: string;
  readonly rule: string;
  readonly code: string;
  readonly subject: ElementId;
  readonly name: string;
  /** Of the check: "Making current". */
  readonly title: string;
  /** In the sentence: "breaking capacity"; with what follows the name where it reads otherwise. */
  readonly says: string | ((rating: string, duty: string) => string);
  readonly field: string;
  readonly unit: string;
  readonly rating: number;
  readonly duty: number;
  readonly deciding: Deciding;
  /** After the duty: " over 1 s". */
  readonly over?: string;
  /** The next standard rating for a duty, with what changes with it; none where nothing standard is known. */
  readonly next?: (duty: number) => NextRating;
  readonly figures: Omit<
    DutyFigures,
    'utilisationPercent' | 'standard' | 'clearedBy' | 'timeS' | 'dcPercent' | 'factor' | 'xOverR' | 'assumed'
  > &
    Partial<DutyFigures>;
  readonly clause?: string;
}

export const ratingVerdict = (network: Network, utilisationPercent: number): CheckVerdict => {
  const { warnPercent, failPercent } = settingsOf(network).ratingLimits;
  // A duty that equals the rating holds to the last digit.
  if (utilisationPercent > failPercent * (1 + 1e-12)) return 'short';
  return utilisationPercent > warnPercent ? 'doubtful' : 'holds';
};

export function ratedCheck(network: Network, rated: Rated, trace: Trace): Check {
  const { rating, duty, unit, figures, name, says, subject, field } = rated;
  const { utilisationPercent, marginPercent } = comparedWith(duty, rating);
  const verdict = ratingVerdict(network, utilisationPercent);
  const value = figures.assumed
    ? quantityOf(figures.rating, rating, unit)
    : given(figures.rating, rating, unit, subject, field);
  trace.step(
    'reserve',
    formula`(1 - ${quantityOf(figures.symbol, duty, unit)} / ${value}) · 100`,
    marginPercent,
    '%',
    rated.clause,
  );
  const [has, needs] = [`${digits(rating)} ${unit}`, `${digits(duty)} ${unit}`];
  const sentence =
    typeof says === 'function'
      ? says(has, needs)
      : `${says} ${has} ${duty > rating * (1 + 1e-12) ? 'is below' : 'covers'} ${figures.symbol} ${needs}`;
  const text = `${name}: ${sentence}${rated.over ?? ''}`;
  const marginal = verdict === 'doubtful' ? ` with little to spare (${digits(utilisationPercent)} % used)` : '';
  const next = verdict === 'short' ? rated.next?.(duty) : undefined;
  return {
    id: rated.id,
    rule: rated.rule,
    code: rated.code,
    subject,
    title: rated.title,
    value: rating,
    bound: duty,
    unit,
    sense: 'atLeast',
    deciding: rated.deciding,
    verdict,
    severity: verdict === 'short' ? 'error' : 'warning',
    message: text + marginal,
    field,
    ...(next && { proposal: proposalOf(network, subject, field, next) }),
    duty: {
      standard: '',
      xOverR: null,
      dcPercent: null,
      factor: null,
      timeS: null,
      clearedBy: null,
      assumed: null,
      ...figures,
      utilisationPercent,
    },
  };
}

/** Until when the current flows, for the end of a sentence. */
export function clearedByText(network: Network, { device, known }: Clearing): string {
  if (!known) return ' (no clearing time is known, that of the project stands in)';
  const element = device && (find(network, 'relay', device) ?? find(network, 'switch', device));
  return element ? ` until ${element.name} has cleared` : '';
}

/** Whatever goes with the next rating is raised with it and never lowered: a device of a higher rating there keeps it. */
function proposalOf(network: Network, subject: ElementId, field: string, next: NextRating): ProblemProposal {
  const element = network.elements.get(subject) as Readonly<Record<string, unknown>> | undefined;
  const raised = (next.with ?? []).filter(({ path, value }) => {
    const present = element?.[path];
    return typeof present !== 'number' || present < value;
  });
  const more = raised.map(({ says, value }) => `${says} ${digits(value)} ${next.unit}`);
  const along = next.choose ?? (more.length > 0 ? `with it: ${more.join(', ')}` : '');
  return {
    text: `${digits(next.value)} ${next.unit}${along && ` (${along})`}`,
    takes: next.choose
      ? []
      : [
          { path: field, value: next.value },
          ...raised.map(({ path, value }) => ({ path, value: Number(digits(value)) })),
        ],
  };
}
