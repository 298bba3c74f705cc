/** Margins of the pairs on the project's charts. */
import { pairMargin, pairStates } from '../../grading/margin';
import { modesOf, type GradingChart, type GradingPair, type Measured } from '../../model/chart';
import { ofKind, settingsOf } from '../../model/network';
import { deviceOf } from '../../protection/device';
import { checkRule, type Check, type Subject } from '../check';
import { bookOf } from '../../rules/book';
import { pairAdvice, pairCheck, pairElements } from './pairCheck';

interface Pair {
  readonly chart: GradingChart;
  readonly mode: Measured;
  readonly pair: GradingPair;
}

export const pairsRule = checkRule<Pair>({
  id: 'grading.pairs',
  title: 'Grading margin',
  advice: pairAdvice,
  subjects({ network }) {
    const elementsOf = pairElements(network);
    return ofKind(network, 'gradingChart').flatMap((chart) =>
      modesOf(chart).flatMap((mode) =>
        chart.pairs.map((pair): Subject<Pair> => ({
          key: `${chart.id} ${mode} ${pair.downstream} ${pair.upstream}`,
          value: { chart, mode, pair },
          on: [pair, chart.mode, settingsOf(network), bookOf(network), ...elementsOf(pair)],
        })),
      ),
    );
  },
  test({ network, studies, conditions }, { chart, mode, pair }, trace): Check[] {
    const below = deviceOf(network, pair.downstream);
    const above = deviceOf(network, pair.upstream);
    if (!below || !above) return [];
    const states = pairStates(studies, below, above, mode, conditions);
    const margin = pairMargin(network, states, pair, mode);
    // A chart of one quantity keeps the name of its check, whatever else becomes of the chart.
    const key = `${chart.id} ${chart.mode === 'both' ? `${mode} ` : ''}${pair.downstream} ${pair.upstream}`;
    return [pairCheck('grading.pairs', chart.id, key, mode, [below, above], states, margin, trace)];
  },
});
