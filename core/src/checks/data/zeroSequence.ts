/** Zero-sequence data that nobody has filled in. */
import { nameOf } from '../../model/element';
import type { Problem } from '../../model/problem';
import { dataRule, wholeNetwork } from '../check';

export const zeroSequenceRule = dataRule({
  id: 'data.zeroSequence',
  title: 'Zero-sequence data',
  advice: { 'zeroSequence.missing': 'Fill in the zero-sequence data, from a test report or the data sheet.' },
  many: { 'zeroSequence.missing': 'lack zero-sequence data; earth faults around them are not computed' },
  subjects: wholeNetwork,
  faults: ({ studies }) => {
    const { zero, network, topology } = studies.max.assembly;
    const missing = new Map<string, Problem>();
    for (const node of topology.nodes)
      for (const { element, fields } of zero.gapsAt(node.index))
        missing.set(`${element}${fields[0]}`, {
          severity: 'warning',
          code: 'zeroSequence.missing',
          message: `zero-sequence data of ${nameOf(network.elements.get(element)!)} are missing; earth faults around it are not computed`,
          element,
          field: fields[0],
        });
    return [...missing.values()];
  },
});
