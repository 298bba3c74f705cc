/** The working of one fault: the impedances that matter, their combination, the current and its peak, on one page to be checked by hand. */
import { add, magnitude, multiply, scale, subtract, type Complex } from '../../linear/complex';
import { nameOf } from '../../model/element';
import { settingsOf } from '../../model/network';
import { unitInjection, valueAt, weigh, type SequenceNetwork } from '../../assembly/sequenceNetwork';
import { a, a2 } from '../../sequence/components';
import { formula, quantityOf, Trace, type Part, type Quantity } from '../../working/trace';
import { nodeNames, type Names } from '../names';
import { portAt } from '../solution/solve';
import { reduceToNode } from '../solution/reduction';
import { faultKindTitles, phasesTitle } from '../kinds';
import { breakingCurrent } from './breaking';
import { peakFactorOf, peakFrequencyRatio, peakLimit, peakMethodTitles } from './peak';
import { carryingElements, elementSections, type Working } from '../solution/elementSections';
import { faultFlows, stateOf, type Fault } from './study';

/** Writes the working of a fault, element by element where current flows, in the order of their currents. */
export function faultWorking(fault: Fault, { breakingS = null }: { breakingS?: number | null } = {}): Working {
  const { study } = fault;
  const { network } = study.assembly;
  const trace = new Trace();

  const omitted = elementSections(study.assembly, carryingElements(stateOf(fault), faultFlows(fault)), trace);

  const names = nodeNames(study.assembly);
  trace.section('Positive-sequence impedance at the fault');
  impedanceSteps(fault, study.assembly.positive, fault.z1, 'Z1', names, trace);
  percentSteps(fault, settingsOf(network).baseMva, trace);
  if (fault.kind !== '3ph') negativeAndZero(fault, names, trace);
  trace.section('Initial short-circuit current');
  currentSteps(fault, trace);
  trace.section(`Peak current, ${peakMethodTitles[study.options.peak]}`);
  peakSteps(fault, trace);
  if (breakingS !== null) breakingSteps(fault, breakingS, trace);
  return { title: workingTitle(fault), sections: trace.sections, omitted };
}

function workingTitle(fault: Fault): string {
  const { place, condition, study } = fault;
  const element = study.assembly.network.elements.get(place.element);
  const name = element ? nameOf(element) : place.element;
  const where =
    place.at === 'line' ? `${name}, ${Number((place.fraction * 100).toPrecision(4))} % of its length` : name;
  const phases = condition.odd === 0 || condition.kind === '3ph' ? '' : ` (${phasesTitle(condition)})`;
  return `${faultKindTitles[fault.kind]}${phases} fault at ${where}, ${fault.faultCase === 'max' ? 'maximum' : 'minimum'} current`;
}

/** The impedance at the place: by series and parallel combination at a node, from the impedances at both ends inside a line. */
function impedanceSteps(
  fault: Fault,
  network: SequenceNetwork,
  value: Complex,
  symbol: string,
  names: Names,
  trace: Trace,
): void {
  const { place } = fault;
  if (place.at === 'terminal') {
    reduceToNode(network, fault.node, symbol, names, trace);
    return;
  }
  const index = network.series.findIndex((branch) => branch.element === place.element);
  const branch = network.series[index];
  const clause = 'IEC 60909-0, 5.3.2';
  if (!branch || network.groupOf[index] >= 0) {
    const remark = 'from the nodal equations with the mutual impedances';
    trace.step(symbol, [quantityOf('nodal solution', value, 'Ω')], value, 'Ω', clause, remark);
    return;
  }
  const [from, to] = [network.solve(unitInjection(branch.a)), network.solve(unitInjection(branch.b))];
  const z = (label: string, at: Complex) => quantityOf(`${symbol} ${label}`, at, 'Ω');
  const [aa, bb, ab] = [
    z(names.node(branch.a), valueAt(from, branch.a)),
    z(names.node(branch.b), valueAt(to, branch.b)),
    z('between them', valueAt(from, branch.b)),
  ];
  const line = z(names.element(branch.element), { re: branch.rOhm, im: branch.xOhm });
  const x = quantityOf('x', place.fraction);
  const n = quantityOf('n', branch.circuits);
  trace.step(
    symbol,
    formula`(1 - ${x})^2 · ${aa} + ${x}^2 · ${bb} + 2 · ${x} · (1 - ${x}) · ${ab} + ${x} · (1 - ${x}) · ${n} · ${line}`,
    value,
    'Ω',
    clause,
    branch.circuits > 1
      ? `at the point of one of the ${branch.circuits} circuits, from the nodal equations at the ends of the line`
      : 'at the point of the line, from the nodal equations at its ends',
  );
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

function negativeAndZero(fault: Fault, names: Names, trace: Trace): void {
  const { positive, negative, zero: homopolar } = fault.study.assembly;
  trace.section('Negative- and zero-sequence impedance');
  if (negative !== positive) impedanceSteps(fault, negative, fault.z2, 'Z2', names, trace);
  else trace.step('Z2', formula`${quantityOf('Z1', fault.z1, 'Ω')}`, fault.z2, 'Ω', 'IEC 60909-0, 5.3.2');
  if (fault.kind === '2ph') return;
  if (fault.z0) impedanceSteps(fault, homopolar, fault.z0, 'Z0', names, trace);
}

const isNought = ({ re, im }: Complex) => re === 0 && im === 0;

function currentSteps(fault: Fault, trace: Trace): void {
  const { phaseOhm, earthOhm } = fault.condition;
  const c = quantityOf(fault.faultCase === 'max' ? 'cmax' : 'cmin', fault.cFactor);
  const un = quantityOf('Un', fault.nominalKv, 'kV');
  const root3 = Math.sqrt(3);
  let source: Iterable<Part> = formula`${c} · ${un}`;
  let cUn = fault.cFactor * fault.nominalKv;
  if (fault.raisedV !== 0) {
    const raised = raisedSteps(fault, trace);
    const value = (fault.sourceV + fault.raisedV) / 1000;
    const remark = 'raised by the currents of converters';
    const e = trace.step('E', formula`${c} · ${un} / √(3) + ${raised}`, value, 'kV', 'IEC 60909-0, 7.2.2', remark);
    source = formula`√(3) · ${e}`;
    cUn = root3 * value;
  }
  // The fault's own impedances stand in series: ZF in each phase, ZE from the common point to earth.
  const zF = quantityOf('ZF', phaseOhm, 'Ω');
  const zE = quantityOf('ZE', earthOhm, 'Ω');
  const own = (symbol: string, z: Complex) => {
    const plain = quantityOf(symbol, z, 'Ω') as Quantity & { value: Complex };
    if (isNought(phaseOhm)) return plain;
    return trace.step(`${symbol}′`, formula`${plain} + ${zF}`, add(z, phaseOhm), 'Ω', undefined, 'with the fault');
  };
  const z1 = own('Z1', fault.z1);
  if (fault.kind === '3ph') {
    trace.step(
      'Ik″3',
      [...source, ...formula` / (√(3) · |${z1}|)`],
      cUn / (root3 * magnitude(z1.value)),
      'kA',
      'IEC 60909-0, 7.2',
    );
    return;
  }
  const z2 = own('Z2', fault.z2);
  if (fault.kind === '2ph' || !fault.z0) {
    if (fault.kind === '1ph') {
      trace.step('Ik″1', ['0'], 0, 'kA', 'IEC 60909-0, 7.5', 'no earth path: the zero-sequence impedance is infinite');
      return;
    }
    trace.step(
      'Ik″2',
      [...source, ...formula` / |${z1} + ${z2}|`],
      cUn / magnitude(add(z1.value, z2.value)),
      'kA',
      'IEC 60909-0, 7.3',
    );
    return;
  }
  const plain0 = own('Z0', fault.z0);
  const z0 = isNought(earthOhm)
    ? plain0
    : trace.step(
        'Z0″',
        formula`${plain0} + 3 · ${zE}`,
        add(plain0.value, scale(earthOhm, 3)),
        'Ω',
        undefined,
        'with the fault',
      );
  if (fault.kind === '1ph') {
    trace.step(
      'Ik″1',
      ['√(3) · ', ...source, ...formula` / |${z1} + ${z2} + ${z0}|`],
      (root3 * cUn) / magnitude(add(z1.value, add(z2.value, z0.value))),
      'kA',
      'IEC 60909-0, 7.5',
    );
    return;
  }
  const [alpha, alpha2] = [quantityOf('a', a), quantityOf('a²', a2)];
  const d = trace.step(
    'D',
    formula`${z1} · ${z2} + ${z1} · ${z0} + ${z2} · ${z0}`,
    add(multiply(z1.value, z2.value), add(multiply(z1.value, z0.value), multiply(z2.value, z0.value))),
    'Ω²',
  );
  const phase = (symbol: string, operator: typeof alpha) =>
    trace.step(
      symbol,
      [...source, ...formula` · |${z0} - ${operator} · ${z2}| / |${d}|`],
      (cUn * magnitude(subtract(z0.value, multiply(operator.value as Complex, z2.value)))) / magnitude(d.value),
      'kA',
      'IEC 60909-0, 7.4',
    );
  phase('Ik″2EL2', alpha);
  phase('Ik″2EL3', alpha2);
  trace.step(
    'Ik″E2E',
    ['√(3) · ', ...source, ...formula` · |${z2}| / |${d}|`],
    (root3 * cUn * magnitude(z2.value)) / magnitude(d.value),
    'kA',
    'IEC 60909-0, 7.4',
  );
}

/** ΔU = Σ |Zik|·Ik over the converters: transfer impedances from the nodal equations. */
function raisedSteps(fault: Fault, trace: Trace): Quantity {
  const { assembly } = fault.study;
  const { sense } = portAt(assembly, fault.place)!.positive;
  const parts = assembly.injections
    .filter(({ node }) => assembly.supplied[node])
    .map(({ element, node, current }) => {
      const name = nameOf(assembly.network.elements.get(element)!);
      const transfer = weigh(sense, assembly.positive.solve(unitInjection(node)));
      const kiloamperes = magnitude(current) / 1000;
      const [z, i] = [quantityOf(`Zik ${name}`, transfer, 'Ω'), quantityOf('Ik', kiloamperes, 'kA')];
      return trace.step(
        `ΔU ${name}`,
        formula`|${z}| · ${i}`,
        magnitude(transfer) * kiloamperes,
        'kV',
        'IEC 60909-0, 7.2.2',
      );
    });
  const sum = parts.flatMap((part, k) => [...(k === 0 ? formula`${part}` : formula` + ${part}`)]);
  return trace.step('ΔU', sum, fault.raisedV / 1000, 'kV');
}

function peakSteps(fault: Fault, trace: Trace): void {
  const clause = 'IEC 60909-0, 8.1.1';
  const { study } = fault;
  const { peak } = study.options;
  const ik = quantityOf('Ik″', fault.ikA / 1000, 'kA');
  const port = portAt(study.assembly, fault.place)!.positive;
  const z1Fault = add(fault.z1, fault.condition.phaseOhm);
  const found = peakFactorOf(study, { z1: z1Fault, rOverX: fault.rOverX, nominalKv: fault.nominalKv, port });
  let rx: Quantity;
  if (peak === 'smallestRatio') rx = quantityOf('R/X', found.rOverX);
  else if (peak === 'ratioAtPlace') {
    const z1 = quantityOf('Z1', z1Fault, 'Ω');
    const remark =
      found.plain === 'single'
        ? 'fed along one path: without the factor 1.15'
        : found.plain === 'allBelow'
          ? 'R/X below 0.3 in all branches: without the factor 1.15'
          : undefined;
    rx = trace.step('R/X', formula`re(${z1}) / im(${z1})`, z1Fault.re / z1Fault.im, '', clause, remark);
  } else rx = equivalentRatio(fault, trace);
  const before = 1.02 + 0.98 * Math.exp(-3 * (rx.value as number));
  const remark = peak === 'smallestRatio' ? 'smallest R/X of the branches that carry a part of the current' : undefined;
  let kappa: Quantity = trace.step('κ', formula`1.02 + 0.98 · exp(-3 · ${rx})`, before, '', clause, remark);
  if (peak === 'ratioAtPlace' && !found.plain) {
    const limit = peakLimit(fault.nominalKv);
    const raised = trace.step(
      '1.15 κ',
      formula`1.15 · ${kappa}`,
      1.15 * before,
      '',
      clause,
      `at most ${limit} at this voltage`,
    );
    kappa = trace.step('κ(b)', formula`min(${raised}, ${quantityOf('limit', limit)})`, fault.kappa, '', clause);
  }
  if (fault.raisedV === 0) {
    trace.step('ip', formula`${kappa} · √(2) · ${ik}`, fault.ipA / 1000, 'kA', clause);
    return;
  }
  // Converters hold their current from the start: no d.c. component of theirs.
  const share = fault.raisedV / (fault.sourceV + fault.raisedV);
  const e = quantityOf('E', (fault.sourceV + fault.raisedV) / 1000, 'kV');
  const du = quantityOf('ΔU', fault.raisedV / 1000, 'kV');
  const own = trace.step('IkPF', formula`${ik} · ${du} / ${e}`, (fault.ikA / 1000) * share, 'kA', 'IEC 60909-0, 7.2.2');
  trace.step(
    'ip',
    formula`${kappa} · √(2) · (${ik} - ${own}) + √(2) · ${own}`,
    fault.ipA / 1000,
    'kA',
    'IEC 60909-0, 8.1.1',
    'the share of the converters without κ',
  );
}

const breakingClauses = { 'single paths': '9.1.1 and 9.1.2', meshed: '9.1.3', unbalanced: '9.2' } as const;
const breakingRemarks = {
  'single paths': 'sources on paths of their own: Σ µ·q·Ik″',
  meshed: 'meshed network: each share loses (ΔU″/E)·(1 − µ·q)',
  unbalanced: 'unbalanced fault: as Ik″',
} as const;

/** Ib with the factors of every machine. */
function breakingSteps(fault: Fault, minimumDelayS: number, trace: Trace): void {
  const { ibA, rule, decays } = breakingCurrent(fault, minimumDelayS);
  const clause = `IEC 60909-0, ${breakingClauses[rule]}`;
  trace.section(`Breaking current after ${minimumDelayS} s`);
  const ik = quantityOf('Ik″', scale(fault.components.positive, 1e-3), 'kA');
  const terms: Part[] = [];
  for (const { share, mu, q, ratio, lost } of decays) {
    if (lost.re === 0 && lost.im === 0) continue;
    const remark = `at ${Number(ratio.toPrecision(4))} times rated current`;
    const factor = trace.step(
      `µ·q ${share.name}`,
      formula`${quantityOf('µ', mu)} · ${quantityOf('q', q)}`,
      mu * q,
      '',
      clause,
      remark,
    );
    const atFault = scale(share.current, share.levelRatio / 1000);
    const own = quantityOf(`I ${share.name}`, atFault, 'kA');
    const drop = quantityOf('ΔU″/E', scale(share.drop, 1 / (share.levelRatio * fault.sourceV)));
    const loss = trace.step(
      `ΔI ${share.name}`,
      rule === 'meshed' ? formula`${drop} · (1 - ${factor}) · ${own}` : formula`(1 - ${factor}) · ${own}`,
      scale(lost, 1e-3),
      'kA',
      clause,
    );
    terms.push(...formula` - ${loss}`);
  }
  const start = fault.kind === '3ph' ? formula`|${ik}` : formula`|${quantityOf('Ik″', fault.ikA / 1000, 'kA')}`;
  trace.step('Ib', [...start, ...terms, '|'], ibA / 1000, 'kA', clause, breakingRemarks[rule]);
}

function equivalentRatio(fault: Fault, trace: Trace): Quantity {
  const ratio = quantityOf('fc/f', peakFrequencyRatio);
  let zc: Quantity = quantityOf('Zc', fault.zc, 'Ω');
  const { phaseOhm } = fault.condition;
  let value = fault.zc;
  if (!isNought(phaseOhm)) {
    value = add(value, { re: phaseOhm.re, im: peakFrequencyRatio * phaseOhm.im });
    const [r, x] = [quantityOf('RF', phaseOhm.re, 'Ω'), quantityOf('XF', phaseOhm.im, 'Ω')];
    zc = trace.step('Zc′', formula`${zc} + ${r} + i · ${ratio} · ${x}`, value, 'Ω', undefined, 'with the fault');
  }
  const remark = `network at ${peakFrequencyRatio} × rated frequency`;
  const rc = trace.step('Rc', formula`re(${zc})`, value.re, 'Ω', undefined, remark);
  const xc = trace.step('Xc', formula`im(${zc})`, value.im, 'Ω');
  return trace.step('R/X', formula`${rc} / ${xc} · ${ratio}`, fault.rOverX, '', 'IEC 60909-0, 8.1.1');
}
