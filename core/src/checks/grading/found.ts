/** Margins of the pairs that follow each other in the network and stand on no chart of the project, unless somebody has ruled them out. */
import { pairMargin } from '../../grading/margin';
import { askedPairs, isAside, statesAsked, type AskedPair } from '../../grading/network';
import { settingsOf } from '../../model/network';
import { checkRule, type Check, type Subject } from '../check';
import { bookOf } from '../../rules/book';
import { pairAdvice, pairCheck, pairElements } from './pairCheck';

export const foundPairsRule = checkRule<AskedPair>({
  id: 'grading.found',
  title: 'Grading margin of pairs on no chart',
  advice: {
    ...pairAdvice,
    'grading.noBackup': 'Lower the pickup of the upstream device, or leave the pair out with a reason.',
  },
  many: { 'grading.noBackup': 'have no backup by the next device' },
  subjects({ network, studies, conditions }) {
    const elementsOf = pairElements(network);
    return askedPairs(studies, conditions)
      .filter(({ charts, ruling }) => charts.length === 0 && ruling?.graded !== false)
      .map((asked): Subject<AskedPair> => ({
        key: `${asked.mode} ${asked.pair.downstream} ${asked.pair.upstream}`,
        value: asked,
        // Who follows whom, and when, may change by a device of neither.
        on: [settingsOf(network), bookOf(network), asked.conditions.join(), ...elementsOf(asked.pair)],
      }));
  },
  test({ network, studies, conditions }, asked, trace): Check[] {
    const judged = statesAsked(studies, conditions, asked);
    if (!judged) return [];
    const { downstream, upstream, states } = judged;
    const { mode, pair } = asked;
    const margin = pairMargin(network, states, pair, mode);
    // Who does not see what the other one is there for need not grade with it.
    if (asked.ruling === null && ['blind', 'unknown'].includes(margin.verdict)) return [];
    if (isAside(asked, upstream, margin)) return [];
    const key = `found ${mode} ${pair.downstream} ${pair.upstream}`;
    return [pairCheck('grading.found', downstream.id, key, mode, [downstream, upstream], states, margin, trace)];
  },
});
