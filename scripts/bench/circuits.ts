/** Two thousand low-voltage circuits on twenty boards, for the first time and after a change at the feeding transformer; proposals for all. */
import { cableValues } from '../../core/src/lowVoltage/cable';
import { proposedFor } from '../../core/src/lowVoltage/propose';
import { caseMaker } from '../../core/src/lowVoltage/case';
import { circuitTable } from '../../core/src/lowVoltage/study';
import { circuitsIn } from '../../core/src/circuits/find';
import { usualConsumer, usualInstallation, usualLaying } from '../../core/src/model/circuit';
import { newElement, type PlaceableKind } from '../../core/src/model/defaults';
import { defaultSettings, type Element, type ElementOf } from '../../core/src/model/element';
import { elementId } from '../../core/src/model/fields';
import { find, networkOf, withElements, type Network } from '../../core/src/model/network';
import { familyNamed } from '../../core/src/protection/registry';
import { Studies } from '../../core/src/studies/studies';
import { finished } from '../../core/src/working/steps';
import { say, time } from './measure';

/** A transformer, a main board, `boards` boards behind feeders, on each so many circuits of all kinds. */
export function circuitsNetwork(boards: number, circuits: number): Network {
  const elements: Element[] = [defaultSettings];
  const add = <K extends PlaceableKind>(kind: K, name: string, over: Partial<ElementOf<K>> = {}) => {
    elements.push(newElement(kind, elementId(name), name, over));
    return name;
  };
  let wires = 0;
  const join = (from: string, fromTerminal: number, to: string, toTerminal: number) =>
    elements.push({
      kind: 'connection',
      id: elementId(`w${++wires}`),
      from: { element: elementId(from), terminal: fromTerminal },
      to: { element: elementId(to), terminal: toTerminal },
    });
  const chain = (...names: string[]) => {
    for (let k = 0; k + 1 < names.length; k++) join(names[k], k === 0 ? 0 : 1, names[k + 1], 0);
  };
  add('networkFeeder', 'N');
  add('bus', 'H', { nominalKv: 11 });
  add('transformer', 'T', {
    ratedMva: 1.6,
    hvKv: 11,
    lvKv: 0.42,
    ukPercent: 6,
    uRPercent: 1,
    x0OverX1: 1,
    r0OverR1: 1,
  });
  const board = (name: string) => add('bus', name, { nominalKv: 0.4, installation: usualInstallation });
  board('M');
  chain('N', 'H');
  join('H', 0, 'T', 0);
  join('T', 1, 'M', 0);
  for (let b = 0; b < boards; b++) {
    const feeder = add('switch', `F${b}`, {
      ratedA: 250,
      breakingKa: 50,
      openingTimeS: 0.01,
      functions: [{ ...familyNamed('release').fresh(elementId(`F${b}-r`), 'release', null), ratedA: 250 }],
    });
    const cable = add('line', `W${b}`, {
      ...cableValues('Cu', 'XLPE', 120)!,
      lengthKm: 0.04 + 0.003 * b,
      laying: { ...usualLaying, method: 'E' },
    });
    chain('M', feeder, cable, board(`S${b}`));
    for (let c = 0; c < circuits; c++) {
      const name = `${b}-${c}`;
      const isMotor = c % 4 === 0;
      const ratedA = [10, 16, 20, 32][c % 4];
      add('switch', `Q${name}`, {
        ratedA,
        breakingKa: 10,
        openingTimeS: 0.01,
        functions: [{ ...familyNamed('miniature').fresh(elementId(`Q${name}-m`), 'C', null), ratedA }],
      });
      add('line', `L${name}`, {
        ...cableValues('Cu', 'PVC', [1.5, 2.5, 4, 6][c % 4])!,
        lengthKm: 0.008 + 0.0007 * c,
        laying: { ...usualLaying, together: 1 + (c % 5) },
      });
      const circuit = {
        ...usualConsumer,
        phases: c % 3 === 0 ? ('three' as const) : (['L1', 'L2', 'L3'] as const)[c % 3],
      };
      if (isMotor)
        add('asynchronousMotor', `A${name}`, {
          ratedMw: 0.0022,
          ratedKv: 0.4,
          powerFactor: 0.8,
          efficiencyPercent: 84,
          startingRatio: 6,
          circuit: usualConsumer,
        });
      else add('load', `A${name}`, { ratedMva: 0.0003 + 0.0001 * (c % 7), powerFactor: 0.95, circuit });
      chain(`S${b}`, `Q${name}`, `L${name}`, `A${name}`);
    }
  }
  return networkOf(elements);
}

export function circuits(): void {
  const [boards, each] = [20, 100];
  let network = circuitsNetwork(boards, each);
  const group = `circuits: ${circuitsIn(network).length} on ${boards + 1} boards, two conditions`;
  let rows = 0;
  const first = time(
    () => new Studies(networkOf([...network.elements.values()])),
    (studies) => void (rows = finished(circuitTable(studies, studies.conditions)).rows.length),
    { warmUp: 0, least: 3 },
  );
  say({ group, what: `${rows} circuits judged for the first time`, unit: 'ms', ...first });
  let studies = new Studies(network);
  finished(circuitTable(studies, studies.conditions));
  let uk = 6;
  const again = time(
    () => {
      const transformer = find(network, 'transformer', elementId('T'))!;
      uk = uk >= 6.9 ? 6 : uk + 0.1;
      network = withElements(network, [{ ...transformer, ukPercent: uk }]);
      return (studies = new Studies(network, { studies, changed: [transformer.id] }));
    },
    (next) => void finished(circuitTable(next, next.conditions)),
    { warmUp: 2, least: 9 },
  );
  say({ group, what: 'after a change at the feeding transformer', unit: 'ms', ...again, reach: 200 });
  const all = time(
    () => caseMaker(studies, studies.conditions),
    (caseOf) => {
      for (const circuit of circuitsIn(studies.network).slice(0, 200))
        proposedFor(studies.network, caseOf(circuit), { section: true, device: true });
    },
    { warmUp: 1, least: 3 },
  );
  say({ group, what: 'proposals for 200 of them', unit: 'ms', ...all });
}
