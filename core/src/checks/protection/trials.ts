/** Trials kept as tests of the project: each is played, and comes out as it should. */
import { ofKind, settingsOf } from '../../model/network';
import { conditionOf } from '../../model/state';
import type { Trial } from '../../model/trial';
import { bookOf } from '../../rules/book';
import { runTrial } from '../../trials/trial';
import { verdictTitles } from '../../trials/words';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check } from '../check';

export const trialsRule = checkRule<Trial>({
  id: 'protection.trials',
  title: 'Kept trials',
  advice: {
    'trial.verdict': 'Open the trial and follow it event by event; drag the curve that is in the way.',
    'trial.impossible': 'Open the trial: its place is gone, or data that its fault needs are missing.',
  },
  subjects: ({ network, conditions }) =>
    // Each has a condition of its own.
    ofKind(network, 'trial')
      .filter(({ condition }) => conditions.some(({ id }) => id === condition) || !conditionOf(network, condition))
      .map((value) => ({
        key: value.id,
        value,
        // Any device may take part.
        on: [
          value,
          settingsOf(network),
          bookOf(network),
          ...ofKind(network, 'relay'),
          ...ofKind(network, 'linePackage'),
        ],
      })),
  test({ studies }, trial, trace): Check[] {
    const ran = runTrial(studies, trial, false);
    const [{ element }] = trial.faults;
    const common = {
      id: `trial ${trial.id}`,
      rule: 'protection.trials',
      subject: element,
      elements: [element],
      title: trial.name,
      unit: 's',
      sense: 'atMost' as const,
      severity: 'error' as const,
    };
    if (!ran.ok)
      return [
        {
          ...common,
          code: 'trial.impossible',
          value: null,
          bound: null,
          deciding: null,
          verdict: 'short',
          message: `${trial.name}: cannot be played; ${ran.problems.map(({ message }) => message).join('; ')}`,
        },
      ];
    const { judged, played } = ran.result;
    const { verdict, wanted } = judged;
    if (played.clearedS !== null) {
      trace.section(trial.name, element);
      trace.step(
        'margin',
        formula`${quantityOf('twanted', wanted.withinS, 's')} - ${quantityOf('tcleared', played.clearedS, 's')}`,
        wanted.withinS - played.clearedS,
        's',
      );
    }
    return [
      {
        ...common,
        code: 'trial.verdict',
        value: played.clearedS,
        bound: wanted.withinS,
        deciding: { condition: trial.condition, kind: trial.faults[0].kind, place: element },
        verdict: verdict === 'selective' ? 'holds' : 'short',
        message: `${trial.name}: ${verdictTitles[verdict]}${
          played.clearedS === null ? '' : `, cleared after ${digits(played.clearedS)} s of ${digits(wanted.withinS)} s`
        }`,
      },
    ];
  },
});
