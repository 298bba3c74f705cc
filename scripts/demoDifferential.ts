/** Differential protection of the demo, and its kept trials: the double circuit CAU-FER, the line with the tap to Quern Mill, the two transformers at Fernhill. */
import { fitted } from '../core/src/differential/fit';
import { newElement } from '../core/src/model/defaults';
import type { Element } from '../core/src/model/element';
import { elementId, type ElementId } from '../core/src/model/fields';
import { networkOf } from '../core/src/model/network';
import { currentInput, tripCircuit, type Relay } from '../core/src/model/protection';
import { newTrial, newTrialFault, type Trial } from '../core/src/model/trial';
import { deviceFrom } from '../core/src/protection/device';
import { freshDifferential } from '../core/src/protection/differential';
import type { DifferentialFunction } from '../core/src/protection/differential/schema';

const idOf = (name: string): ElementId => elementId(name.toLowerCase().replaceAll(' ', '-'));

/** Ends of lines that compare their currents. */
const lineEnds = [
  { relays: ['CAU Q01 relay', 'FER Q01 relay'], over: {} },
  { relays: ['CAU Q02 relay', 'FER Q02 relay'], over: {} },
  // The tap to Quern Mill is measured at neither end: the pickup lies above the fault behind its transformer.
  { relays: ['TOL Q02 relay', 'MAR Q02 relay'], over: { pickup: 1.3 } },
] as const;

/** Data of current transformers that the stability of differential protection asks for. */
const cores: Readonly<Record<string, { ratedVa: number; windingOhm: number; burdenOhm: number }>> = {
  'CAU CT01': { ratedVa: 30, windingOhm: 4.2, burdenOhm: 2.4 },
  'FER CT01': { ratedVa: 30, windingOhm: 4.2, burdenOhm: 2.4 },
  'CAU CT02': { ratedVa: 30, windingOhm: 4.2, burdenOhm: 2.4 },
  'FER CT02': { ratedVa: 30, windingOhm: 4.2, burdenOhm: 2.4 },
  'FER CT11': { ratedVa: 30, windingOhm: 1.8, burdenOhm: 1.6 },
  'FER CT21': { ratedVa: 30, windingOhm: 5.5, burdenOhm: 2.2 },
  'FER CT12': { ratedVa: 30, windingOhm: 1.8, burdenOhm: 1.6 },
  'FER CT22': { ratedVa: 30, windingOhm: 5.5, burdenOhm: 2.2 },
};

export function withDifferential(list: readonly Element[]): Element[] {
  const elements = new Map(list.map((element) => [element.id, element]));
  for (const [name, data] of Object.entries(cores)) {
    const ct = elements.get(idOf(name));
    if (ct?.kind === 'currentTransformer') elements.set(ct.id, { ...ct, ...data });
  }
  const relay = (id: ElementId): Relay => elements.get(id) as Relay;
  for (const { relays, over } of lineEnds)
    for (const [k, name] of relays.entries()) {
      const own = relay(idOf(name));
      const input = own.inputs[0].id;
      const fn: DifferentialFunction = {
        ...freshDifferential(elementId(`${own.id}-87l`), '87L', input),
        partners: [idOf(relays[1 - k])],
        ...over,
      };
      elements.set(own.id, { ...own, functions: [...own.functions, fn] });
    }
  for (const n of [1, 2]) {
    const name = `FER T${n} relay`;
    const id = idOf(name);
    const [high, low] = [idOf(`FER CT1${n}`), idOf(`FER CT2${n}`)];
    const place = elements.get(high) as { x: number; y: number };
    elements.set(
      id,
      newElement('relay', id, name, {
        // Beside the names of the transformers.
        x: place.x + (n === 1 ? -130 : 150),
        y: place.y + 40,
        device: 'Numerical transformer differential relay',
        note: 'Compares the currents of both sides; vector group and zero sequence by matrix.',
        inputs: [
          { ...currentInput(high, 1), id: elementId('hv') },
          { ...currentInput(low, 0), id: elementId('lv') },
        ],
        circuits: [tripCircuit([idOf(`FER Q1${n}`), idOf(`FER Q2${n}`)])],
        functions: [freshDifferential(elementId(`${id}-87t`), '87T', elementId('hv'))],
      }),
    );
  }
  return fittedAll([...elements.values()]).concat(trials);
}

/** Base currents and vector groups as the network has them. */
function fittedAll(list: readonly Element[]): Element[] {
  const network = networkOf(list);
  return list.map((element) => {
    if (element.kind !== 'relay' || !element.functions.some(({ family }) => family === 'differential')) return element;
    const device = deviceFrom(network, element)!;
    return {
      ...element,
      functions: element.functions.map((fn) => (fn.family === 'differential' ? fitted(network, device, fn) : fn)),
    };
  });
}

const along = (line: string, fraction: number, over: Partial<Trial['faults'][number]> = {}) =>
  newTrialFault({ element: idOf(line), terminal: null, fraction, ...over });

const trials: Trial[] = [
  {
    ...newTrial(elementId('trial-double'), 'CAU-FER 1 at Fernhill: both ends at once', [
      along('CAU-FER 1', 0.95, { kind: '1ph' }),
    ]),
    note: 'Line differential: no zone 2, no second circuit lost.',
    withinS: 0.15,
  },
  {
    ...newTrial(elementId('trial-radial'), 'Fault at the end of PEN-SKE: cleared at Fernhill', [
      along('PEN-SKE', 0.95),
    ]),
    note: 'There is no relay at Pennywell towards Skerry: the one at Fernhill has to reach so far.',
    opens: [idOf('FER Q33')],
  },
  {
    ...newTrial(elementId('trial-pair'), 'FER-BRA 2: its two ends only', [along('FER-BRA 2', 0.5)]),
    note: 'Comes out wrong until the polarity of BRA CT02 is put right.',
  },
];
