/** `mesura matrix`: a sequence admittance matrix. */
import { assemble, type Assembly } from '@mesura/core/assembly/assemble';
import { voltageFactor } from '@mesura/core/faults/iec60909/voltageFactor';
import { nodeLabel } from '@mesura/core/faults/names';
import { entriesOf, matrixMarket } from '@mesura/core/formats/matrix/matrixMarket';
import { faultCaseOf } from '@mesura/core/model/condition';
import { networkIn } from '@mesura/core/model/state';
import { settingsOf, type Network } from '@mesura/core/model/network';
import { networkFor, notes, plainFormat, type Command, type Outcome } from '../command';
import { oneCondition, oneOf, Refusal, studyQuery, type Values } from '../options';
import type { Format } from '../output';
import { studySummaries } from '../words';

export const matrixCommand: Command = {
  name: 'matrix',
  takes: 'FILE',
  summary: studySummaries.matrix,
  run(call) {
    const format = plainFormat(call.values);
    return matrix(networkFor(call, 'matrix'), call.values, format);
  },
};

/** Nodes from 1, each with the elements whose terminals (from 1) meet there. */
const jsonNodes = (assembly: Assembly) =>
  Array.from({ length: assembly.nodeCount }, (_, k) => ({
    node: k + 1,
    name: nodeLabel(assembly, k),
    terminals: (assembly.topology.nodes[k]?.terminals ?? []).map((key) => {
      const at = key.lastIndexOf(':');
      return { id: key.slice(0, at), terminal: Number(key.slice(at + 1)) + 1 };
    }),
  }));

function matrix(network: Network, values: Values, format: Format): Outcome {
  const condition = oneCondition(network, values, 'matrix');
  const query = studyQuery(network, values, condition);
  if (query.method === 'c37') throw new Refusal(2, '--method must be one of iec60909, superposition for a matrix');
  const sequence = oneOf('--sequence', values.sequence, ['positive', 'negative', 'zero']);
  const assembly = assemble(networkIn(network, query), {
    faultCase: faultCaseOf(condition),
    basis: query.method === 'superposition' ? 'operating' : 'iec60909',
    voltageFactor: voltageFactor(settingsOf(network).lowVoltageTolerancePercent),
    charging: query.charging,
  });
  const comments = [
    `${sequence} sequence, admittances in siemens, ${condition.name}; parts without a path to the reference stand as they are`,
    ...Array.from({ length: assembly.nodeCount }, (_, k) => `${k + 1}: ${nodeLabel(assembly, k)}`),
  ];
  const admittances = assembly[sequence].matrix(false);
  const output =
    format === 'json'
      ? `${JSON.stringify({ command: 'matrix', sequence, case: faultCaseOf(condition), condition: condition.name, nodes: jsonNodes(assembly), entries: entriesOf(admittances) }, null, 2)}\n`
      : matrixMarket(admittances, comments);
  return { code: 0, output, errors: notes(assembly.problems) };
}
