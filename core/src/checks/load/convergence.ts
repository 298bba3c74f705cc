/** A load flow that finds no solution says where the mismatch is. */
import type { Condition } from '../../model/condition';
import { ofKind } from '../../model/network';
import { checkRule, type Check, type Context, type Subject } from '../check';

export const convergenceRule = checkRule<Condition>({
  id: 'load.convergence',
  title: 'Load flow',
  advice: {
    'load.convergence':
      'Check the loads and the impedances around that place: a wrong unit, a missing transformer or source, too much load.',
  },
  subjects: ({ conditions }) =>
    conditions.map((condition): Subject<Condition> => ({ key: condition.id, value: condition, on: [condition] })),
  test({ studies, network }: Context, condition): Check[] {
    const flow = studies.flow({ condition: condition.id });
    const reason = flow.problems.find(({ severity }) => severity === 'error');
    // What holds of the whole network is told at one of its sources.
    const anywhere = ofKind(network, 'networkFeeder')[0] ?? ofKind(network, 'bus')[0];
    const subject = reason?.element ?? anywhere?.id;
    if (!subject) return [];
    return [
      {
        id: `convergence ${condition.id}`,
        rule: 'load.convergence',
        code: 'load.convergence',
        subject,
        title: `Load flow, ${condition.name}`,
        value: null,
        bound: null,
        unit: '',
        sense: 'atLeast',
        deciding: { condition: condition.id },
        verdict: flow.converged ? 'holds' : 'short',
        severity: 'error',
        message: `${condition.name}: ${reason?.message ?? 'the load flow converges'}`,
      },
    ];
  },
});
