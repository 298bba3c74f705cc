/**
 * Short-circuit current at a place of a direct-current network: each source alone by IEC 61660-1 over its way to the fault, reduced where ways are shared, summed over time.
 */
import type { ElementId } from '../model/fields';
import { find, nameIn, ofKind, settingsOf } from '../model/network';
import { formula, given as typed, quantityOf, SilentTrace, type Trace } from '../working/trace';
import {
  approximated,
  batteryCurrent,
  capacitorCurrent,
  directMotorCurrent,
  largestOf,
  rectifierCurrent,
  source61660,
} from './iec61660';
import {
  batteryFigures,
  bridgeFigures,
  bridgeVoltage,
  chargedShare,
  type DirectFeed,
  type DirectNetwork,
} from './network';
import { pathBetween, solveDirect } from './solve';

/** The standard approximation function with every number in it. */
export interface CompleteCurrent {
  readonly peakA: number;
  readonly steadyA: number;
  readonly peakS: number;
  readonly riseS: number;
  readonly decayS: number;
}

export interface DirectPartial {
  readonly element: ElementId;
  readonly kind: DirectFeed['kind'] | 'capacitor';
  readonly pathOhm: number;
  readonly pathHenry: number;
  /** Behind its terminals, as the correction for shared ways takes it. */
  readonly ownOhm: number;
  readonly alone: CompleteCurrent;
  /** Of its current alone that remains where ways are shared. */
  readonly factor: number;
}

export interface DirectFault {
  readonly partials: readonly DirectPartial[];
  /** Largest value of the sum, and when. */
  readonly peakA: number;
  readonly peakS: number;
  readonly steadyA: number;
  /** All sources at once through the network, without inductances: a second way to the steady current. */
  readonly circuitA: number;
}

/** Times that the standard reads from figures are taken from the circuit here: 99 % of the rise. */
const riseShare = Math.log(100);
const figureNote = 'the standard reads it from a figure; here 99 % of the rise of the circuit';

export const totalCurrent =
  ({ partials }: Pick<DirectFault, 'partials'>) =>
  (t: number): number =>
    partials.reduce((sum, { factor, alone }) => sum + factor * approximated(alone)(t), 0);

/** Null where no source reaches the place. */
export function directFault(
  network: DirectNetwork,
  node: number,
  trace: Trace = new SilentTrace(),
): DirectFault | null {
  const sources = sourcesOf(network);
  const reached = sources.flatMap((source) => {
    const path = pathBetween(network, source.node, node);
    return path ? [{ source, path }] : [];
  });
  if (reached.length === 0) return null;
  const alone = reached.map(({ source, path }) => ({ source, path, ...source.alone(path.ohm, path.henry, trace) }));
  const factors = sharedWays(network, node, alone);
  const partials = alone.map(({ source, path, current, ownOhm }, k): DirectPartial => {
    const { element, kind } = source;
    return { element, kind, pathOhm: path.ohm, pathHenry: path.henry, ownOhm, alone: current, factor: factors[k] };
  });
  const total = totalCurrent({ partials });
  const { atS, peakA } = largestOf(
    total,
    partials.map(({ alone: { peakS } }) => peakS),
  );
  const steadyA = partials.reduce((sum, { factor, alone: { steadyA: each } }) => sum + factor * each, 0);
  const { heldA } = solveDirect({ ...network, draws: [] }, { node, volts: 0 });
  trace.section('Sum');
  for (const { element, factor, alone: each } of partials) {
    const name = nameIn(network.network, element);
    trace.step(
      `σ ${name}`,
      formula`${quantityOf('σ', factor)}`,
      factor,
      '',
      `${source61660}, 2.6`,
      'current with all sources over current alone, at equal voltages behind their own resistances',
    );
    trace.step(
      `ik ${name}`,
      formula`${quantityOf('σ', factor)} · ${quantityOf('Ik', each.steadyA, 'A')}`,
      factor * each.steadyA,
      'A',
    );
  }
  trace.step(
    'ip',
    formula`${quantityOf('i(tp)', peakA, 'A')}`,
    peakA,
    'A',
    `${source61660}, 2.6`,
    `largest value of the sum over time, after ${(1000 * atS).toFixed(1)} ms`,
  );
  trace.step('Ik', formula`${quantityOf('ΣIk', steadyA, 'A')}`, steadyA, 'A');
  return { partials, peakA, peakS: atS, steadyA, circuitA: heldA };
}

interface Source {
  readonly element: ElementId;
  readonly kind: DirectPartial['kind'];
  readonly node: number;
  /** Over a way of this resistance and inductance. */
  alone(ohm: number, henry: number, trace: Trace): { readonly current: CompleteCurrent; readonly ownOhm: number };
}

function sourcesOf(network: DirectNetwork): Source[] {
  const { network: elements, faultCase, nodeAt } = network;
  const { lowVoltageTolerancePercent, frequencyHz } = settingsOf(elements);
  const charged = faultCase === 'max';
  const capacitors = ofKind(elements, 'directCapacitor');
  const before = capacitors.length > 0 ? solveDirect(operating(network)) : null;
  return [
    ...network.feeds.map(({ element, kind, node, limitA }): Source => {
      const battery = find(elements, 'battery', element);
      const motor = find(elements, 'directMotor', element);
      const rectifier = find(elements, 'rectifier', element);
      return {
        element,
        kind,
        node,
        alone(ohm, henry, trace) {
          trace.section(`${nameIn(elements, element)} alone`, element);
          const way = quantityOf('Rway', ohm, 'Ω');
          if (battery) {
            const { volts, cellsOhm, connectorsOhm, henry: own } = batteryFigures(battery, faultCase);
            const emf = trace.step(
              'EB',
              formula`${typed('n', battery.cells, '', element, 'cells')} · ${typed('u', charged ? battery.cellV : battery.dischargedV, 'V', element, charged ? 'cellV' : 'dischargedV')}`,
              volts,
              'V',
              `${source61660}, 2.3`,
              charged ? 'charged' : 'at the end of discharge',
            );
            const found = batteryCurrent({
              nominalV: volts,
              openV: volts,
              // The formula takes nine tenths of what it is given; that is for a charged one.
              batteryOhm: charged ? cellsOhm : cellsOhm / chargedShare,
              conductorOhm: connectorsOhm + ohm,
              commonOhm: 0,
              branchHenry: own + henry,
            });
            const rb = quantityOf('RB', cellsOhm, 'Ω');
            const rc = quantityOf('Rconn', connectorsOhm, 'Ω');
            const rBr = charged
              ? trace.step('RBBr', formula`0.9 · ${rb} + ${rc} + ${way}`, found.branchOhm, 'Ω', `${source61660}, 2.3`)
              : trace.step('RBBr', formula`${rb} + ${rc} + ${way}`, found.branchOhm, 'Ω', `${source61660}, 2.3`);
            trace.step('ipB', formula`${emf} / ${rBr}`, found.peakA, 'A', `${source61660}, 2.3`);
            const steady = charged ? found.steadyA : (0.95 * volts) / found.branchOhm;
            if (charged)
              trace.step('IkB', formula`0.95 · ${emf} / (${rBr} + 0.1 · ${rb})`, steady, 'A', `${source61660}, 2.3`);
            else trace.step('IkB', formula`0.95 · ${emf} / ${rBr}`, steady, 'A', `${source61660}, 2.3`);
            const riseS = (own + henry) / found.branchOhm;
            const peakS = trace.step(
              'tpB',
              formula`ln(100) · ${quantityOf('LBBr', own + henry, 'H')} / ${rBr}`,
              riseShare * riseS,
              's',
              undefined,
              figureNote,
            ).value;
            return {
              ownOhm: found.branchOhm - ohm,
              current: { peakA: found.peakA, steadyA: steady, peakS, riseS, decayS: found.decayS! },
            };
          }
          if (motor) {
            const found = directMotorCurrent({
              ratedV: motor.ratedV,
              ratedA: motor.ratedA,
              armatureOhm: motor.armatureMohm / 1000,
              armatureHenry: motor.armatureMh / 1000,
              branchOhm: ohm,
              branchHenry: henry,
              fieldShare: motor.fieldShare,
            });
            const rM = quantityOf('RM', motor.armatureMohm / 1000, 'Ω');
            const emf = trace.step(
              'EM',
              formula`${typed('UrM', motor.ratedV, 'V', element, 'ratedV')} - ${typed('IrM', motor.ratedA, 'A', element, 'ratedA')} · ${rM}`,
              found.inducedV,
              'V',
              `${source61660}, 2.5`,
            );
            trace.step(
              'ipM',
              formula`${emf} / (${rM} + ${way})`,
              found.peakA,
              'A',
              `${source61660}, 2.5`,
              'speed stays',
            );
            trace.step(
              'IkM',
              formula`${typed('LF/L0F', motor.fieldShare, '', element, 'fieldShare')} · ${quantityOf('ipM', found.peakA, 'A')}`,
              found.steadyA,
              'A',
              `${source61660}, 2.5`,
            );
            const riseS = found.armatureS;
            return {
              ownOhm: motor.armatureMohm / 1000,
              current: {
                peakA: found.peakA,
                steadyA: found.steadyA,
                peakS: riseShare * riseS,
                riseS,
                decayS: Math.max(motor.fieldShare * motor.fieldS, 1e-6),
              },
            };
          }
          if (rectifier && kind === 'bridge') {
            const side = bridgeFigures(rectifier, faultCase, lowVoltageTolerancePercent);
            const given = {
              ...side,
              directOhm: side.directOhm + ohm,
              directHenry: side.directHenry + henry,
              frequencyHz,
            };
            const found = rectifierCurrent(given);
            const rn = quantityOf('RN', side.rnOhm, 'Ω');
            const xn = quantityOf('XN', side.xnOhm, 'Ω');
            const rd = quantityOf('RDBr', given.directOhm, 'Ω');
            const lambda = trace.step(
              'λD',
              formula`√((1 + (${rn} / ${xn})^2) / (1 + (${rn} / ${xn})^2 · (1 + 2/3 · ${rd} / ${rn})^2))`,
              found.lambda,
              '',
              `${source61660}, 2.2`,
            );
            trace.step(
              'IkD',
              formula`${lambda} · 3 · √(2) / π · ${quantityOf('c·Un', side.sourceV, 'V')} / (√(3) · √(${rn}^2 + ${xn}^2))`,
              found.steadyA,
              'A',
              `${source61660}, 2.2`,
            );
            trace.step(
              'ipD',
              formula`${quantityOf('κD', found.kappa)} · ${quantityOf('IkD', found.steadyA, 'A')}`,
              found.peakA,
              'A',
              `${source61660}, 2.2`,
            );
            const rises = found.peakS !== null;
            return {
              // As a voltage behind a resistance that gives the same current alone.
              ownOhm: Math.max((bridgeVoltage * side.sourceV) / found.steadyA - ohm, 1e-9),
              current: {
                peakA: rises ? found.peakA : found.steadyA,
                steadyA: found.steadyA,
                peakS: found.peakS ?? riseShare * found.riseS!,
                riseS: found.riseS!,
                decayS: found.decayS!,
              },
            };
          }
          const limit = trace.step(
            'Ik',
            formula`${quantityOf('Imax', limitA, 'A')}`,
            limitA,
            'A',
            undefined,
            'limited by its control; its output filter is a capacitor of its own',
          );
          const steadyA = Math.min(limit.value, ohm > 0 ? rectifier!.floatV / ohm : Infinity);
          return { ownOhm: Infinity, current: { peakA: steadyA, steadyA, peakS: 1e-6, riseS: 1e-7, decayS: 1 } };
        },
      };
    }),
    ...capacitors.map((capacitor): Source => {
      const node = nodeAt(capacitor.id, 0)!;
      return {
        element: capacitor.id,
        kind: 'capacitor',
        node,
        alone(ohm, henry, trace) {
          trace.section(`${capacitor.name} alone`, capacitor.id);
          const [c, r, l] = [capacitor.capacitanceMf / 1000, capacitor.seriesMohm / 1000, capacitor.seriesUh / 1e6];
          const volts = before?.volts[node] ?? 0;
          const found = capacitorCurrent(volts, c, r + ohm, l + henry);
          trace.step(
            'κC',
            formula`${quantityOf('ipC', found.peakA, 'A')} · ${quantityOf('RCBr', r + ohm, 'Ω')} / ${quantityOf('EC', volts, 'V')}`,
            found.kappa,
            '',
            `${source61660}, 2.4`,
          );
          trace.step(
            'ipC',
            formula`${quantityOf('κC', found.kappa)} · ${quantityOf('EC', volts, 'V')} / ${quantityOf('RCBr', r + ohm, 'Ω')}`,
            found.peakA,
            'A',
            `${source61660}, 2.4`,
            'peak of the discharge of the series circuit',
          );
          return {
            ownOhm: r,
            current: {
              peakA: found.peakA,
              steadyA: 0,
              ...dischargeTimes(volts, c, r + ohm, l + henry, found.peakA, found.peakS!),
            },
          };
        },
      };
    }),
  ];
}

/** Rise and decay that carry the charge that the circuit carries until the peak, and after it. */
function dischargeTimes(volts: number, farad: number, ohm: number, henry: number, peakA: number, peakS: number) {
  const steps = 400;
  let charge = 0;
  for (let k = 0; k < steps; k++)
    charge += (discharge(volts, farad, ohm, henry, ((k + 0.5) / steps) * peakS) * peakS) / steps;
  const decayS = Math.max((farad * volts - charge) / peakA, 1e-9);
  const of = (riseS: number) => {
    const x = peakS / riseS;
    return (peakS - riseS * (1 - Math.exp(-x))) / (1 - Math.exp(-x));
  };
  // The share of peak times time under the rise falls from one to a half as it becomes straight.
  let [low, high] = [peakS / 50, peakS * 50];
  for (let k = 0; k < 80; k++) {
    const middle = Math.sqrt(low * high);
    if (of(middle) * peakA > charge) low = middle;
    else high = middle;
  }
  return { peakS, riseS: Math.sqrt(low * high), decayS };
}

/** Current of a charged capacitor into R and L after a time. */
export function discharge(volts: number, farad: number, ohm: number, henry: number, t: number): number {
  const delta = ohm / (2 * henry);
  const square = delta ** 2 - 1 / (henry * farad);
  const root = Math.sqrt(Math.abs(square));
  if (root * t < 1e-9) return (volts / henry) * t * Math.exp(-delta * t);
  if (square < 0) return (volts / (root * henry)) * Math.exp(-delta * t) * Math.sin(root * t);
  return (volts / (2 * root * henry)) * (Math.exp((root - delta) * t) - Math.exp(-(root + delta) * t));
}

/** Where the sources share ways each gives less: what it gives with all at one volt behind their own resistances, over what it gives alone. One common way: the factor of the standard. */
function sharedWays(
  network: DirectNetwork,
  node: number,
  sources: readonly { readonly source: Source; readonly path: { readonly ohm: number }; readonly ownOhm: number }[],
): number[] {
  const feeds = sources.map(({ source, ownOhm }): DirectFeed => ({
    element: source.element,
    kind: 'battery',
    node: source.node,
    volts: 1,
    ohm: Math.max(ownOhm, 1e-9),
    limitA: Infinity,
  }));
  const isLimited = ({ ohm }: DirectFeed) => ohm === Infinity;
  const { feedA } = solveDirect(
    { ...network, feeds: feeds.filter((feed) => !isLimited(feed)), draws: [] },
    { node, volts: 0 },
  );
  let k = 0;
  return feeds.map((feed, n) => {
    // What a control holds comes whatever the others give.
    if (isLimited(feed)) return 1;
    return Math.min(feedA[k++] * (feed.ohm + sources[n].path.ohm), 1);
  });
}

/** In service: motors are loads, nothing is short-circuited. */
export const operating = (network: DirectNetwork): DirectNetwork => ({
  ...network,
  feeds: network.feeds.filter(({ kind }) => kind !== 'motor'),
});
