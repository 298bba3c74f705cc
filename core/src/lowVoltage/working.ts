/** The working of a circuit: each figure by its formula, in the condition that decides. */
import { magnitude, scale, add } from '../linear/complex';
import { nameIn, type Network } from '../model/network';
import { conditionOf } from '../model/state';
import { formula, given, quantityOf as q, Trace, type Section } from '../working/trace';
import { atHeat, heatBorneA2s } from './cable';
import { dropOver, type CircuitCase } from './case';
import { letThrough, seesOf } from './guards';
import { earthFaultAt, judged } from './judge';
import { clauseOf } from './texts';

const root3 = Math.sqrt(3);

export function circuitWorking(network: Network, circuit: CircuitCase): readonly Section[] {
  const trace = new Trace();
  const found = judged(circuit);
  const { installation, unV, isSinglePhase, cables, ways } = circuit;
  const rules = installation.rules;
  const u0 = unV / root3;
  const inCondition = (id: Parameters<typeof conditionOf>[1]) => conditionOf(network, id)?.name ?? '';

  trace.section('Design current', circuit.circuit.ends[0]);
  const watt = circuit.demand.p.reduce((sum, each) => sum + each, 0);
  const pf = q('cos φ', found.cosPhi);
  const p = q('P', watt / 1000, 'kW');
  const un = given('Un', unV / 1000, 'kV', circuit.circuit.board, 'nominalKv');
  const isEven = Math.max(...found.phasesA) - Math.min(...found.phasesA) < 1e-9 * found.designA;
  const ib = isSinglePhase
    ? trace.step('Ib', formula`1000 · ${p} / (1000 · ${un} / √(3) · ${pf})`, found.designA, 'A')
    : isEven
      ? trace.step('Ib', formula`1000 · ${p} / (√(3) · 1000 · ${un} · ${pf})`, found.designA, 'A')
      : trace.step(
          'Ib',
          formula`${q('I', found.designA, 'A')}`,
          found.designA,
          'A',
          undefined,
          'phase that carries most',
        );

  cables.forEach((on, k) => {
    const { cable } = on;
    const capacity = found.capacities[k];
    trace.section(`Cable ${cable.name}`, cable.element);
    if (capacity.by === 'table')
      trace.step(
        'Iz',
        formula`${q('It', capacity.tableA!, 'A')} · ${q('fθ', capacity.ambient)} · ${q('fg', capacity.grouping)} · ${q('fs', capacity.soil)} · ${q('n', cable.parallel)}`,
        capacity.ampere!,
        'A',
        'IEC 60364-5-52, annex B (as remembered)',
        `method ${capacity.method}${capacity.isInside ? ', in the enclosure' : ''}; table value ${capacity.sure}`,
      );
    else if (capacity.by === 'typed')
      trace.step(
        'Iz',
        formula`${given('Ir', cable.ratedA!, 'A', cable.element, 'ratedA')} · ${q('n', cable.parallel)}`,
        capacity.ampere!,
        'A',
        undefined,
        'as typed',
      );
    const r = q('R', atHeat(cable.phase, cable, 'service').re, 'Ω');
    const x = q('X', cable.phase.im, 'Ω');
    const b = q('b', isSinglePhase ? 2 : 1);
    trace.step(
      'ΔU',
      formula`100 · ${b} · ${q('I', on.designA, 'A')} · (${r} · ${q('cos φ', on.cosPhi)} + ${x} · ${q('sin φ', on.sinPhi)}) / (1000 · ${un} / √(3))`,
      dropOver(on, u0, isSinglePhase),
      '%',
      clauseOf('drop', rules),
      'conductor as warm as in service',
    );
  });
  if (found.guard?.overload) {
    const { referenceA, tripsA } = found.guard.overload;
    trace.section('Overload', found.guard.at);
    const rated = q('In', referenceA, 'A');
    trace.step('Ib/In', formula`${ib} / ${rated}`, found.designA / referenceA, '', clauseOf('load', rules));
    const iz = found.capacities.reduce<number | null>(
      (least, { ampere }) => (ampere !== null && (least === null || ampere < least) ? ampere : least),
      null,
    );
    if (iz !== null) {
      const borne = q('Iz', iz, 'A');
      trace.step('In/Iz', formula`${rated} / ${borne}`, referenceA / iz, '', clauseOf('overload', rules));
      trace.step(
        'I2/1.45 Iz',
        formula`${q('I2', tripsA, 'A')} / (1.45 · ${borne})`,
        tripsA / (1.45 * iz),
        '',
        clauseOf('overload', rules),
      );
    }
  }

  // The end and the condition in which the smallest current to earth flows.
  const { endEarth } = found;
  const way = endEarth && ways.find(({ end }) => end === endEarth.end);
  const at = way?.feeding.find(({ condition }) => condition === endEarth!.condition);
  if (way && at) {
    const { system } = installation;
    trace.section(`Fault at ${nameIn(network, way.end)}, ${inCondition(at.condition)}`, way.end);
    const source = q('c·Un/√3', at.sourceV, 'V');
    const z1 = q('Z1', at.z1, 'Ω');
    const { ampere, loopOhm } = earthFaultAt(circuit, way, at);
    if (ampere !== null && loopOhm !== null) {
      if (system === 'IT') {
        const heat = at.faultCase === 'max' ? 'cold' : 'hot';
        const pe = way.cables.reduce((sum, k) => add(sum, atHeat(cables[k].cable.pe!, cables[k].cable, heat)), {
          re: 0,
          im: 0,
        });
        const zs = trace.step(
          'Zs',
          formula`|${z1} + ${q('ZPE', pe, 'Ω')}|`,
          loopOhm,
          'Ω',
          '',
          'second fault in a like circuit',
        );
        trace.step('IF', formula`√(3) · ${source} / (2 · ${zs})`, ampere, 'A', 'IEC 60364-4-41, 411.6.4');
      } else {
        const z0 = q('Z0', at.z0 ?? at.z1, 'Ω');
        const z2 = q('Z2', at.z2, 'Ω');
        const zs =
          system === 'TT'
            ? trace.step(
                'Zs',
                formula`|(${z1} + ${z2} + ${z0}) / 3 + ${q('RA', installation.raOhm, 'Ω')} + ${q('RB', installation.rbOhm, 'Ω')}|`,
                loopOhm,
                'Ω',
              )
            : trace.step(
                'Zs',
                formula`|(${z1} + ${z2} + ${z0}) / 3|`,
                loopOhm,
                'Ω',
                'IEC 60909-0, 7',
                'conductors at the end of the fault',
              );
        trace.step(
          'IF',
          formula`${source} / ${zs}`,
          ampere,
          'A',
          system === 'TT' ? 'IEC 60364-4-41, 411.5' : 'IEC 60364-4-41, 411.4.4',
        );
      }
      const { cleared, operatingA, requiredS } = found;
      const demanded = q('ta', requiredS, 's');
      if (operatingA !== null)
        trace.step(
          'Ia/IF',
          formula`${q('Ia', operatingA, 'A')} / ${q('IF', ampere, 'A')}`,
          operatingA / ampere,
          '',
          clauseOf('disconnection', rules),
          `${cleared?.by?.name ?? ''} certainly ends Ia within ${requiredS} s`,
        );
      if (cleared && cleared.timeS < Infinity)
        trace.step(
          't/ta',
          formula`${q('t', cleared.timeS, 's')} / ${demanded}`,
          cleared.timeS / requiredS,
          '',
          clauseOf('disconnection', rules),
          cleared.fn?.remembered,
        );
    }
  }

  // Heat where the first cable begins, at the largest current.
  const first = cables.at(0);
  const limit = first && heatBorneA2s(first.cable, 'phase');
  if (first && limit && found.boardMax) {
    const board = circuit.feeding.find(({ condition }) => condition === found.boardMax!.condition)!;
    const ampere =
      board.sourceV /
      magnitude(isSinglePhase && board.z0 ? scale(add(add(board.z1, board.z2), board.z0), 1 / 3) : board.z1);
    const through = letThrough(first.guards, seesOf('short', ampere), {
      rOverX: board.z1.re / board.z1.im,
      frequencyHz: circuit.frequencyHz,
    });
    trace.section(`Heat where ${first.cable.name} begins, ${inCondition(board.condition)}`, first.cable.element);
    const k = Math.sqrt(limit) / first.cable.sectionMm2! / first.cable.parallel;
    const borne = trace.step(
      'k²S²',
      formula`(${q('k', k, 'A·√s/mm²')} · ${given('S', first.cable.sectionMm2!, 'mm²', first.cable.element, 'sectionMm2')} · ${q('n', first.cable.parallel)})^2`,
      limit,
      'A²s',
      'IEC 60364-4-43, 434.5.2',
    );
    if (through)
      trace.step(
        'I²t/k²S²',
        formula`${q('I²t', through.a2s, 'A²s')} / ${borne}`,
        through.a2s / limit,
        '',
        clauseOf('heat', rules),
        through.isBound ? 'longest time of the standard at the whole current' : `at ${Math.round(ampere)} A`,
      );
  }
  return trace.sections;
}
