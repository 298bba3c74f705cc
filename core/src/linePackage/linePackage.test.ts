/** Line packages of the demo: figures against single runs, margins by hand, what a person decides, what has moved since. */
import { describe, expect, it } from 'vitest';
import { needsZeroSequence } from '../faults/kinds';
import { terminalPlace } from '../faults/iec60909/study';
import { magnitude } from '../linear/complex';
import { applyChanges, removalOf } from '../model/changes';
import { elementId as id, type ElementId } from '../model/fields';
import { newLinePackage, type LinePackage, type LineScheme } from '../model/linePackage';
import { find, withElements, type Network } from '../model/network';
import { conditionsOf } from '../model/state';
import { loopsOf } from '../protection/distance/loops';
import { loadProof } from '../reach/loadability';
import { neighboursAt } from '../reach/neighbours';
import { seenAtEnds } from '../reach/seen';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { finished } from '../working/steps';
import { Checker } from '../checks/run';
import { statementsRule } from '../checks/lines/statements';
import type { DistanceFunction } from '../protection/distance/schema';
import { marginOf } from './elements';
import { taken } from './take';
import { packageBasis, packageResult, withAgreed, withOverride, type PackageBasis } from './package';
import { runText } from './words';

const demo = demoNetwork();
const studies = new Studies(demo);
const packOf = (line: string, scheme: LineScheme, over: Partial<LinePackage> = {}): LinePackage => ({
  ...newLinePackage(id('pack'), 'Package', id(line)),
  scheme,
  ...over,
});
const known = new Map<string, PackageBasis>();
const basisOf = (pack: LinePackage, of = studies): PackageBasis => {
  if (of !== studies) return finished(packageBasis(of, pack));
  let basis = known.get(pack.line);
  if (!basis) known.set(pack.line, (basis = finished(packageBasis(of, pack))));
  return basis;
};
const resultOf = (pack: LinePackage) => packageResult(studies, pack, basisOf(pack));
const pilot = packOf('fer-mar', 'permissiveOverreach');
const at = (pack: LinePackage, terminal: number, element: string) => {
  const found = resultOf(pack).elements.find(({ kind, end }) => kind.id === element && end.terminal === terminal);
  if (!found) throw new Error(`no ${element}`);
  return found;
};

describe('figures of a package', () => {
  it('are the extremes of single runs in every state, found one by one in networks without the element', () => {
    const { ends } = basisOf(pilot);
    const [fer] = ends;
    const far = { line: id('fer-mar'), terminal: 1 };
    const out = [null, ...neighboursAt(studies, fer.row.end), ...neighboursAt(studies, far)];
    expect(new Set(out).size).toBeGreaterThan(6);
    const seen = conditionsOf(demo).flatMap(({ id: condition }) =>
      out.flatMap((gone) => {
        const network = gone ? without(demo, gone) : demo;
        const study = new Studies(network).iec60909({ condition });
        return (['3ph', '2ph', '2phE', '1ph'] as const).flatMap((kind) => {
          const [answer] = seenAtEnds(
            study,
            terminalPlace(far.line, far.terminal),
            [{ kind, odd: 0, phaseOhm: { re: 0, im: 0 }, earthOhm: { re: 0, im: 0 } }],
            [fer.row.end],
          );
          const own = answer.ok ? answer.ends[0] : null;
          if (!own) return [];
          const loops = loopsOf(own, { form: 'factor', k0: fer.row.k0! });
          const wanted = {
            '3ph': ['L1L2', 'L2L3', 'L3L1'],
            '2ph': ['L2L3'],
            '2phE': ['L2L3', 'L2E', 'L3E'],
            '1ph': ['L1E'],
          }[kind];
          const ohms = (isEarth: boolean) =>
            loops
              .filter((loop) => loop.isEarth === isEarth && wanted.includes(loop.name))
              .map(({ impedance }) => magnitude(impedance!));
          return [{ kind, ampere: Math.max(...own.currents.map(magnitude)), ohms }];
        });
      }),
    );
    const valueOf = (name: string) => magnitude(fer.figures[name].value!);
    const phase = seen.flatMap(({ ohms }) => (ohms(false).length > 0 ? [Math.min(...ohms(false))] : []));
    const earth = seen.filter(({ kind }) => needsZeroSequence(kind)).map(({ ohms }) => Math.min(...ohms(true)));
    expect(valueOf('farSeenMost')).toBeCloseTo(Math.max(...phase), 6);
    expect(valueOf('nearSeenLeast')).toBeCloseTo(Math.min(...phase), 6);
    expect(valueOf('farSeenMostEarth')).toBeCloseTo(Math.max(...earth), 6);
    expect(valueOf('outsideLargest')).toBeGreaterThanOrEqual(Math.max(...seen.map(({ ampere }) => ampere)) - 1e-6);
    // Which state decided is told.
    const run = fer.figures.outsideLargest.run!;
    expect(runText(demo, run)).toMatch(/^three-phase at the far busbar, Maximum sources, MAR-QUE out$/);
  });
  it('of a line without a fault current from one side are not there, and ask nothing', () => {
    const pack = packOf('pen-ske', 'stepped');
    const { ends } = basisOf(pack);
    const ske = ends.find(({ row }) => row.stationName.startsWith('SKE'))!;
    // No source stands behind Skerry.
    expect(ske.figures.closeSmallest.value === null || magnitude(ske.figures.closeSmallest.value) < 1).toBe(true);
    expect(() => resultOf(pack)).not.toThrow();
  });
});

/** The network with an element and all that leads to it deleted: no update of an assembly. */
function without(network: Network, gone: ElementId): Network {
  const applied = applyChanges(network, removalOf(network, [gone]));
  if (!applied.ok) throw new Error(applied.problems[0].message);
  return applied.network;
}

describe('elements of a package', () => {
  it('stand between their figures by the margins that are told', () => {
    for (const terminal of [0, 1]) {
      const second = at(pilot, terminal, 'z2');
      expect(second.value).toBe(second.decided!.value);
      expect(second.sensitivity!.percent).toBeCloseTo(100 * (second.value! / second.sensitivity!.bound - 1), 9);
      expect(second.security!.percent).toBeCloseTo(100 * (second.security!.bound / second.value! - 1), 9);
      // Secondary ohms: 800/1 A over 132/0.11 kV.
      expect(second.secondary).toBeCloseTo((second.value! * 800) / 1200, 9);
    }
    const earth = at(pilot, 0, 'earth');
    // 0.12 times 780 A, above a tenth of 800 A; on the next ampere.
    expect(earth.value).toBe(94);
    expect(earth.secondary).toBeCloseTo(94 / 800, 12);
    expect(earth.security!.percent).toBeCloseTo(marginOf(94, 0.08 * 780, 'above'), 9);
    expect(at(pilot, 0, 'reclose').value).toBe(0.42);
  });
  it('an undelayed stage that would not see faults close in is left out, and put in all the same', () => {
    expect(at(pilot, 0, 'instant')).toMatchObject({ isUsed: false, value: 4481 });
    expect(at(packOf('cau-fer-1', 'blocking'), 0, 'instant').isUsed).toBe(true);
    const forced = withOverride(pilot, { line: id('fer-mar'), terminal: 0 }, 'instant', 4000, 'after a trial');
    const own = at(forced, 0, 'instant');
    expect(own).toMatchObject({ isUsed: true, value: 4000, proposed: 4481, override: { reason: 'after a trial' } });
    expect(own.sensitivity!.percent).toBeGreaterThan(0);
  });
  it('follow the scheme', () => {
    const idsOf = (scheme: LineScheme) =>
      new Set(resultOf({ ...pilot, scheme }).elements.map(({ kind }) => kind.id as string));
    expect(idsOf('stepped').has('pilot')).toBe(false);
    expect([...idsOf('permissiveUnderreach')].sort()).toEqual([...idsOf('stepped')].sort());
    expect(idsOf('permissiveOverreach').has('weak')).toBe(true);
    expect(idsOf('blocking').has('weak')).toBe(false);
    expect(idsOf('blocking').has('pilotWait')).toBe(true);
    expect(idsOf('unblocking').has('reverseEarth')).toBe(true);
  });
  it('lean on each other across the line: the reverse zone covers what the far end sees beyond', () => {
    const far = withOverride(pilot, { line: id('fer-mar'), terminal: 1 }, 'pilot', 30);
    const [before, after] = [at(pilot, 0, 'reverse'), at(far, 0, 'reverse')];
    const own = magnitude(basisOf(pilot).ends[0].figures.own.value!);
    expect(after.value).toBeCloseTo(1.3 * (30 - own), 9);
    expect(after.value!).toBeGreaterThan(before.value!);
    // What is more sensitive backward than forward at the far end stays so when that is set finer.
    const finer = withOverride(pilot, { line: id('fer-mar'), terminal: 1 }, 'pilotEarth', 40);
    expect(at(finer, 0, 'reverseEarth').value!).toBeLessThanOrEqual(0.65 * 40);
  });
  it('all ends of a line with a tee have theirs, and zone 1 stays within the nearest end', () => {
    const pack = packOf('mar-que', 'permissiveUnderreach');
    const { ends } = basisOf(pack);
    expect(ends.map(({ row }) => row.stationName).sort()).toEqual(['MAR', 'TOL']);
    for (const { row } of ends) expect(at(pack, row.end.terminal, 'z1').security!.percent).toBeGreaterThan(0);
  });
  it('a parallel circuit on the same towers is told by zone 2 of its earth loops', () => {
    const second = at(packOf('cau-fer-1', 'stepped'), 1, 'z2e');
    expect(second.sensitivity!.percent).toBeLessThan(0);
    expect(second.sensitivity!.figure.run!.kind).toBe('1ph');
  });
});

describe('loadability of a package', () => {
  it('is that of each zone as it is set, with the thermal limits beside it', () => {
    const [fer] = resultOf(pilot).loading;
    expect(fer.required).toMatchObject({ factor: 1.5, ofA: 780, ampere: 1170 });
    const third = fer.statements.find(({ id: name }) => name === 'load.3')!;
    const [reach, across] = [at(pilot, 0, 'z3').value!, at(pilot, 0, 'z3r').value!];
    const { lineAngleDeg } = basisOf(pilot).ends[0].row;
    const proof = loadProof(
      {
        type: 'quadrilateral',
        resistance: across,
        reactance: reach * Math.sin((lineAngleDeg * Math.PI) / 180),
        lineAngleDeg,
        tiltDeg: -3,
      },
      132,
      { criterion: 1, ratingA: 780 },
    );
    expect(third.carriesA).toBeCloseTo(proof.loadabilityA, 6);
    expect(third.holds).toBe(true);
    expect(fer.statements.find(({ id: name }) => name === 'thermal.ct')).toMatchObject({
      carriesA: 960,
      requiredA: 780,
    });
    const here = { line: id('fer-mar'), terminal: 0 };
    const wide = withOverride(withOverride(pilot, here, 'z3r', 90), here, 'z3', 60);
    expect(resultOf(wide).loading[0].statements.find(({ id: name }) => name === 'load.3')!.holds).toBe(false);
  });
  it('by other criteria asks for what it needs, or proves', () => {
    const by = (criterion: LinePackage['criterion'], over: Partial<LinePackage> = {}) =>
      resultOf({ ...pilot, criterion, ...over }).loading[0];
    expect(by('2')).toMatchObject({ missing: 'the rating for 15 minutes', statements: [] });
    expect(by('2', { fifteenMinuteA: 900 }).required!.ampere).toBeCloseTo(1.15 * 900, 9);
    expect(by('6', { generationMva: 100 }).required!.ampere).toBeCloseTo((2.3 * 100_000) / (Math.sqrt(3) * 132), 6);
    expect(by('8', { largestFlowA: 500 }).required!.ampere).toBeCloseTo(575, 9);
    expect(by('4').required!.ampere).toBeCloseTo(
      1.15 * ((Math.SQRT2 * 132_000) / (Math.sqrt(3) * basisOf(pilot).ends[0].figures.own.value!.im)),
      6,
    );
    expect(by('10').required!.by).toBe('nameplate');
    expect(by('12').rates!.ratingA).toBeGreaterThan(1000);
    expect(by('13').missing).toBe('the practical limit');
    // A stiff source lets more through than a real one.
    expect(by('3a').required!.ofA).toBeGreaterThan(by('3b').required!.ofA);
  });
});

describe('statements of a package', () => {
  const all = resultOf(pilot).statements;
  const agreed = withAgreed(pilot, all, '2026-11-30');
  it('that somebody has agreed to stay so while their figures stay', () => {
    expect(all.every(({ state }) => state === 'open')).toBe(true);
    expect(agreed.agreed).toHaveLength(all.length);
    expect(resultOf(agreed).statements.every(({ state }) => state === 'agreed')).toBe(true);
    // Agreeing again replaces.
    expect(withAgreed(agreed, all.slice(0, 3), '2026-12-01').agreed).toHaveLength(all.length);
  });
  it('are open again where a change in the network touches them, and only there', () => {
    const line = find(demo, 'line', id('mar-que'))!;
    const changed = new Studies(withElements(demo, [{ ...line, lengthKm: line.lengthKm * 1.4 }]));
    const { statements } = packageResult(changed, agreed, basisOf(agreed, changed));
    const moved = statements.filter(({ state }) => state === 'moved').map(({ id: name }) => name);
    expect(moved).toContain('z3.sensitive');
    expect(moved).not.toContain('reclose.secure');
    expect(moved).not.toContain('thermal.ct');
    const third = statements.find(({ id: name, state }) => name === 'z3.sensitive' && state === 'moved')!;
    expect(third.agreed!.bound).not.toBeCloseTo(third.bound, 2);
  });
  it('that a scheme no longer has are told as gone', () => {
    const fewer: LinePackage = { ...agreed, scheme: 'stepped' };
    const { gone } = resultOf(fewer);
    // They come from a worker as copies, and go all the same.
    const settled = withAgreed(fewer, [], '2026-12-01', structuredClone(gone) as LinePackage['agreed']);
    expect(settled.agreed).toHaveLength(agreed.agreed.length - gone.length);
    expect(resultOf(settled).gone).toEqual([]);
    expect(new Set(gone.map(({ statement }) => statement.split('.')[0]))).toEqual(
      new Set(['pilot', 'reverse', 'pilotEarth', 'reverseEarth', 'weak', 'load']),
    );
  });
});

describe('agreed statements as checks', () => {
  it('hold while nothing moves; are told when they do, and when they are gone', () => {
    const stored = withAgreed(pilot, resultOf(pilot).statements, '2026-11-30');
    const run = (network: Network) => finished(new Checker([statementsRule]).run(new Studies(network))).checks;
    const before = run(withElements(demo, [stored]));
    expect(before).toHaveLength(stored.agreed.length);
    expect(before.every(({ verdict }) => verdict === 'holds')).toBe(true);
    // A longer line ahead: zone 3 no longer covers it as it was.
    const next = find(demo, 'line', id('mar-que'))!;
    const after = run(withElements(demo, [stored, { ...next, lengthKm: next.lengthKm * 1.4 }]));
    const touched = after.filter(({ verdict }) => verdict === 'doubtful');
    expect(touched.map(({ code }) => code)).toContain('package.moved');
    expect(touched.length).toBeLessThan(after.length / 2);
    expect(touched[0].message).toMatch(/; agreed on 2026-11-30 at /);
    const fewer = run(withElements(demo, [{ ...stored, scheme: 'stepped' }]));
    expect(fewer.some(({ message }) => /pilot\.\w+, agreed on .* is no statement any more$/.test(message))).toBe(true);
    // A value by hand that lets a statement fail is an error.
    const low = withOverride(stored, { line: id('fer-mar'), terminal: 0 }, 'z2', 10);
    expect(run(withElements(demo, [low])).find(({ id: name }) => name.endsWith(':0 z2.sensitive'))).toMatchObject({
      code: 'package.statement',
      verdict: 'short',
      severity: 'error',
    });
  });
});

describe('settings taken from a package', () => {
  const ends = basisOf(pilot).ends;
  const put = (pack: LinePackage, terminal: number) => {
    let count = 0;
    const change = taken(ends[terminal].row, resultOf(pack).elements, () => id(`fresh-${++count}`));
    if (change?.op !== 'update' || change.element.kind !== 'relay') throw new Error('nothing taken');
    return change.element;
  };
  it('are zones on the steps of the relay and the stages that are of use', () => {
    const relay = put(pilot, 0);
    const fn = relay.functions[0] as DistanceFunction;
    const zone = (name: string) => fn.zones.find((each) => each.name === name)!;
    expect(zone('2')).toMatchObject({ reachOhm: 10.59, delayS: 0.35, looks: 'forward' });
    expect(zone('overreach')).toMatchObject({ reachOhm: 13.24, looks: 'forward', enabled: true });
    expect(zone('4')).toMatchObject({ reachOhm: 5.74, looks: 'reverse' });
    const stages = relay.functions.filter((each) => each.family === 'overcurrent');
    // 50 would not see faults close in: it is not added.
    expect(stages.map(({ code }) => code)).toEqual(['50N', '67N']);
    const [instant, earth] = stages;
    expect(instant.pickup * 800).toBeCloseTo(2543, -1);
    expect(earth).toMatchObject({ delayS: 0.65, direction: { looks: 'forward' } });
    expect(earth.pickup * 800).toBeGreaterThan(88);
  });
  it('are taken over values by hand, and put no second stage beside the first', () => {
    const forced = withOverride(pilot, { line: id('fer-mar'), terminal: 0 }, 'z2', 18, 'infeed');
    const relay = put(forced, 0);
    expect((relay.functions[0] as DistanceFunction).zones.find(({ name }) => name === '2')!.reachOhm).toBe(12);
    const once = new Studies(withElements(demo, [relay]));
    const again = finished(packageBasis(once, forced));
    const change = taken(again.ends[0].row, packageResult(once, forced, again).elements, () => {
      throw new Error('nothing new is needed');
    });
    expect(change).toEqual({ op: 'update', element: relay });
  });
  it('of a relay without voltage are none', () => {
    const blind = { ...ends[0].row, relay: { ...ends[0].row.relay!, secondary: null } };
    expect(taken(blind, resultOf(pilot).elements, () => id('x'))).toBeNull();
    expect(taken({ ...blind, relay: null }, resultOf(pilot).elements, () => id('x'))).toBeNull();
  });
});
