/** The working of a fault duty after IEEE C37.010: X and R reduced apart in each network, factors, duties. */
import { nameOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { formula, quantityOf, Trace } from '../../working/trace';
import { nodeNames } from '../names';
import { reduceToNode } from '../solution/reduction';
import { elementSections, type Working } from '../solution/elementSections';
import type { BreakerClass } from './factors';
import { c37Networks, type C37Duty, type C37Fault, type C37Study } from './study';

const titles = {
  firstCycle: 'First-cycle network',
  interrupting: 'Interrupting network',
  thirtyCycle: '30-cycle network',
} as const;

const kindTitles = { '3ph': 'three-phase', '2ph': 'two-phase', '1ph': 'single-phase-earth' } as const;

export function c37Working(
  study: C37Study,
  place: ElementId,
  fault: C37Fault,
  breaker: Pick<BreakerClass, 'partingCycles' | 's'>,
  carrying: readonly ElementId[],
): Working {
  const trace = new Trace();
  const { assembly } = study.networks.firstCycle;
  const omitted = elementSections(assembly, carrying, trace);
  for (const which of c37Networks) duty(study, which, fault, trace);
  trace.section('Close-and-latch duty, first cycle');
  const first = fault.firstCycle;
  const current = quantityOf('I', first.symmetricalA / 1000, 'kA');
  const ratio = quantityOf('X/R', first.xOverR);
  trace.step(
    'Iasym',
    formula`${current} · √(1 + 2 · exp(-2 · pi / ${ratio}))`,
    first.asymmetricalA / 1000,
    'kA',
    'IEEE C37.010',
    'total rms half a cycle after the fault',
  );
  trace.step('Ipeak', formula`${current} · √(2) · (1 + exp(-pi / ${ratio}))`, first.peakA / 1000, 'kA', 'IEEE C37.010');
  if (first.lowVoltage) {
    trace.step(
      'MF unfused',
      formula`max(1, (1 + exp(-pi / ${ratio})) / (1 + exp(-pi / tan(acos(0.15)))))`,
      first.lowVoltage.unfused,
      '',
      'IEEE C37.13',
    );
    trace.step(
      'MF fused',
      formula`max(1, √((1 + 2 · exp(-2 · pi / ${ratio})) / (1 + 2 · exp(-2 · pi / tan(acos(0.2))))))`,
      first.lowVoltage.fused,
      '',
      'IEEE C37.13',
    );
  }
  trace.section('Interrupting duty');
  const at = fault.interrupting;
  const c = quantityOf('C', breaker.partingCycles, 'cycles');
  const s = quantityOf('S', breaker.s);
  const xr = quantityOf('X/R', at.xOverR);
  const left = quantityOf('a.c. left of local sources', at.localRemaining);
  const remote = trace.step(
    'MF remote',
    formula`√(1 + 2 · exp(-4 · pi · ${c} / ${xr})) / ${s}`,
    at.remoteFactor,
    '',
    'IEEE C37.010',
  );
  const local = trace.step(
    'MF local',
    formula`√(${left}^2 + 2 · exp(-4 · pi · ${c} / ${xr})) / ${s}`,
    at.localFactor,
    '',
    undefined,
    'in place of the curves of the standard; a.c. decrement by µ of IEC 60909-0, 9.1.1',
  );
  const share = quantityOf('remote share', at.remoteShare);
  const factor = trace.step('MF', formula`max(1, ${local} + ${share} · (${remote} - ${local}))`, at.factor);
  trace.step(
    'Iint',
    formula`${factor} · ${quantityOf('I', at.symmetricalA / 1000, 'kA')}`,
    at.dutyA / 1000,
    'kA',
    'IEEE C37.010',
    'against the symmetrical rating of the breaker',
  );
  const element = assembly.network.elements.get(place);
  return {
    title: `${kindTitles[fault.kind]} fault at ${element ? nameOf(element) : place}, IEEE C37.010 duties`,
    sections: trace.sections,
    omitted,
  };
}

function duty(study: C37Study, which: (typeof c37Networks)[number], fault: C37Fault, trace: Trace): void {
  const { assembly, reactances, resistances } = study.networks[which];
  const names = nodeNames(assembly);
  const result: C37Duty = fault[which];
  trace.section(`${titles[which]}, X and R apart`);
  const sequences =
    fault.kind === '3ph'
      ? (['positive'] as const)
      : fault.kind === '2ph'
        ? (['positive', 'negative'] as const)
        : (['positive', 'negative', 'zero'] as const);
  if (result.symmetricalA === 0) {
    trace.step('I', ['0'], 0, 'kA', undefined, 'no earth path');
    return;
  }
  const label = { positive: '1', negative: '2', zero: '0' };
  const xs = sequences.map((sequence) => {
    const z = reduceToNode(reactances[sequence], fault.node, `X${label[sequence]}`, names, trace);
    return trace.step(`X${label[sequence]}`, formula`im(${z!})`, z!.value.im, 'Ω');
  });
  const rs = sequences.map((sequence) => {
    const z = reduceToNode(resistances[sequence], fault.node, `R${label[sequence]}`, names, trace);
    return trace.step(`R${label[sequence]}`, formula`re(${z!})`, z!.value.re, 'Ω');
  });
  const sum = (list: typeof xs) =>
    list.flatMap((value, k) => [...(k === 0 ? formula`${value}` : formula` + ${value}`)]);
  const x = trace.step('X', sum(xs), result.xOhm, 'Ω');
  const r = trace.step('R', sum(rs), result.rOhm, 'Ω');
  trace.step('X/R', formula`${x} / ${r}`, result.xOverR, '', 'IEEE C37.010', 'from the separate networks');
  const e = quantityOf('E', fault.sourceV / 1000, 'kV');
  const times = fault.kind === '3ph' ? '' : fault.kind === '2ph' ? '√(3) · ' : '3 · ';
  if (study.options.current === 'E/X')
    trace.step('I', [times, ...formula`${e} / ${x}`], result.symmetricalA / 1000, 'kA', 'IEEE C37.010', 'E/X');
  else
    trace.step(
      'I',
      [times, ...formula`${e} / |${quantityOf('Z', result.z, 'Ω')}|`],
      result.symmetricalA / 1000,
      'kA',
      'IEEE C37.010',
      'E/Z',
    );
}
