/** The working of one fault: the impedances that matter, their combination, the current and its peak, on one page to be checked by hand. */
import { add, magnitude, multiply, polar, scale, subtract, type Complex } from '../../linear/complex';
import { nameOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { settingsOf } from '../../model/network';
import { sequenceModel } from '../../sequence/models';
import { formula, quantityOf, Trace, type Section } from '../../working/trace';
import { contextFor } from '../assembly';
import { terminalCurrents } from '../flows';
import { reduceToNode, type ReductionNames } from '../reduction';
import { faultKindTitles } from './kinds';
import { largestPhase, type Fault, type Iec60909Study } from './study';
import { toPhases } from './kinds';
import { voltageFactor } from './voltageFactor';

export interface Working {
  readonly title: string;
  readonly sections: readonly Section[];
  /** Elements that carry current in this fault but were left out to keep the page readable. */
  readonly omitted: number;
}

const mostElements = 40;

/** Writes the working of a fault, element by element where current flows, in the order of their currents. */
export function faultWorking(study: Iec60909Study, fault: Fault): Working {
  const { network, topology } = study.assembly;
  const settings = settingsOf(network);
  const trace = new Trace();
  const factor = voltageFactor(settings.lowVoltageTolerancePercent);

  const carrying = carryingElements(study, fault);
  const context = contextFor(topology, study.faultCase, factor, trace);
  for (const id of carrying.slice(0, mostElements)) sequenceModel(network.elements.get(id)!, context);

  const place = network.elements.get(fault.at.slice(0, fault.at.lastIndexOf(':')) as never);
  const title = `${faultKindTitles[fault.kind]} fault at ${place ? nameOf(place) : fault.at}, ${study.faultCase === 'max' ? 'maximum' : 'minimum'} current`;
  const names: ReductionNames = {
    element: (id) => nameOf(network.elements.get(id)!),
    node: (index) => topology.nodes[index].buses[0]?.name ?? nodeLabel(study, index),
  };
  trace.section('Positive-sequence impedance at the fault');
  reduceToNode(study.assembly.positive, fault.node, 'Z1', names, trace);
  percentSteps(fault, settings.baseMva, trace);
  if (fault.kind !== '3ph') negativeAndZero(study, fault, names, trace);
  trace.section('Initial short-circuit current');
  currentSteps(fault, trace);
  trace.section('Peak current, 20 Hz method');
  peakSteps(study, fault, trace);
  return { title, sections: trace.sections, omitted: Math.max(0, carrying.length - mostElements) };
}

function carryingElements(study: Iec60909Study, fault: Fault) {
  const { topology, level } = study.assembly;
  const size = new Map<string, number>();
  for (const [key, current] of terminalCurrents(study, fault)) {
    const id = key.slice(0, key.lastIndexOf(':'));
    // Referred to one level, so that a transformer's two sides and all voltages compare.
    const referred = largestPhase(toPhases(current)) * level[topology.nodeOf.get(key)!];
    size.set(id, Math.max(size.get(id) ?? 0, referred));
  }
  const largest = Math.max(...size.values(), 0);
  return [...size]
    .filter(([, value]) => value > largest * 1e-9)
    .sort((p, q) => q[1] - p[1])
    .map(([id]) => id as ElementId);
}

function nodeLabel(study: Iec60909Study, index: number): string {
  const key = study.assembly.topology.nodes[index].terminals[0];
  const element = study.assembly.network.elements.get(key.slice(0, key.lastIndexOf(':')) as never);
  return element ? `end of ${nameOf(element)}` : `node ${index}`;
}

function percentSteps(fault: Fault, baseMva: number, trace: Trace): void {
  const un = quantityOf('Un', fault.nominalKv, 'kV');
  const s = quantityOf('Sbase', baseMva, 'MVA');
  const base = trace.step('Zbase', formula`${un}^2 / ${s}`, fault.nominalKv ** 2 / baseMva, 'Ω');
  const z1 = quantityOf('Z1', fault.z1, 'Ω');
  trace.step(
    'z1',
    formula`${z1} / ${base} · 100`,
    scale(fault.z1, 100 / base.value),
    '%',
    undefined,
    `on ${baseMva} MVA`,
  );
}

function negativeAndZero(study: Iec60909Study, fault: Fault, names: ReductionNames, trace: Trace): void {
  trace.section('Negative- and zero-sequence impedance');
  if (study.assembly.negative.shunts.some((shunt, k) => shunt.xOhm !== study.assembly.positive.shunts[k].xOhm))
    reduceToNode(study.assembly.negative, fault.node, 'Z2', names, trace);
  else trace.step('Z2', formula`${quantityOf('Z1', fault.z1, 'Ω')}`, fault.z2, 'Ω', 'IEC 60909-0, 5.3.2');
  if (fault.kind === '2ph') return;
  if (fault.z0) reduceToNode(study.assembly.zero, fault.node, 'Z0', names, trace);
}

function currentSteps(fault: Fault, trace: Trace): void {
  const c = quantityOf(fault.faultCase === 'max' ? 'cmax' : 'cmin', fault.cFactor);
  const un = quantityOf('Un', fault.nominalKv, 'kV');
  const z1 = quantityOf('Z1', fault.z1, 'Ω');
  const z2 = quantityOf('Z2', fault.z2, 'Ω');
  const cUn = fault.cFactor * fault.nominalKv;
  const root3 = Math.sqrt(3);
  if (fault.kind === '3ph') {
    trace.step(
      'Ik″3',
      formula`${c} · ${un} / (√(3) · |${z1}|)`,
      cUn / (root3 * magnitude(fault.z1)),
      'kA',
      'IEC 60909-0, 7.2',
    );
    return;
  }
  if (fault.kind === '2ph' || !fault.z0) {
    if (fault.kind === '1ph') {
      trace.step('Ik″1', ['0'], 0, 'kA', 'IEC 60909-0, 7.5', 'no earth path: the zero-sequence impedance is infinite');
      return;
    }
    trace.step(
      'Ik″2',
      formula`${c} · ${un} / |${z1} + ${z2}|`,
      cUn / magnitude(add(fault.z1, fault.z2)),
      'kA',
      'IEC 60909-0, 7.3',
    );
    return;
  }
  const z0 = quantityOf('Z0', fault.z0, 'Ω');
  if (fault.kind === '1ph') {
    trace.step(
      'Ik″1',
      formula`√(3) · ${c} · ${un} / |${z1} + ${z2} + ${z0}|`,
      (root3 * cUn) / magnitude(add(fault.z1, add(fault.z2, fault.z0))),
      'kA',
      'IEC 60909-0, 7.5',
    );
    return;
  }
  const turned = (value: Complex, symbol: string) => quantityOf(symbol, value);
  const a = turned(polar(1, (2 * Math.PI) / 3), 'a');
  const a2 = turned(polar(1, (-2 * Math.PI) / 3), 'a²');
  const d = trace.step(
    'D',
    formula`${z1} · ${z2} + ${z1} · ${z0} + ${z2} · ${z0}`,
    add(multiply(fault.z1, fault.z2), add(multiply(fault.z1, fault.z0), multiply(fault.z2, fault.z0))),
    'Ω²',
  );
  const phase = (symbol: string, operator: typeof a) =>
    trace.step(
      symbol,
      formula`${c} · ${un} · |${z0} - ${operator} · ${z2}| / |${d}|`,
      (cUn * magnitude(subtract(fault.z0!, multiply(operator.value as Complex, fault.z2)))) / magnitude(d.value),
      'kA',
      'IEC 60909-0, 7.4',
    );
  phase('Ik″2EL2', a);
  phase('Ik″2EL3', a2);
  trace.step(
    'Ik″E2E',
    formula`√(3) · ${c} · ${un} · |${z2}| / |${d}|`,
    (root3 * cUn * magnitude(fault.z2)) / magnitude(d.value),
    'kA',
    'IEC 60909-0, 7.4',
  );
}

function peakSteps(study: Iec60909Study, fault: Fault, trace: Trace): void {
  const ratio = study.assembly.frequencyRatio;
  const zc = quantityOf('Zc', fault.zc, 'Ω');
  const rc = trace.step('Rc', formula`re(${zc})`, fault.zc.re, 'Ω', undefined, `network at ${ratio} × rated frequency`);
  const xc = trace.step('Xc', formula`im(${zc})`, fault.zc.im, 'Ω');
  const rx = trace.step(
    'R/X',
    formula`${rc} / ${xc} · ${quantityOf('fc/f', ratio)}`,
    fault.rOverX,
    '',
    'IEC 60909-0, 8.1.1',
  );
  const kappa = trace.step('κ', formula`1.02 + 0.98 · exp(-3 · ${rx})`, fault.kappa, '', 'IEC 60909-0, 8.1.1');
  const ik = quantityOf('Ik″', fault.ikA / 1000, 'kA');
  trace.step('ip', formula`${kappa} · √(2) · ${ik}`, fault.ipA / 1000, 'kA', 'IEC 60909-0, 8.1.1');
}
