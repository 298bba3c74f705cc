/** What ends an arc beside overcurrent: light, zone interlock, maintenance settings; and generators whose current decays meanwhile. */
import { describe, expect, it } from 'vitest';
import { builtInConditions, maximumSources } from '../model/condition';
import { checked, Checker, workingOf } from '../checks/run';
import { rules } from '../checks/rules';
import { defaultSettings, settingsId } from '../model/element';
import { elementId, type ElementId } from '../model/fields';
import { withElements, type Network } from '../model/network';
import { currentInput, tripCircuit } from '../model/protection';
import { trialSchema } from '../model/trial';
import { deviceFrom, inMaintenance } from '../protection/device';
import { familyNamed } from '../protection/registry';
import { newFunction, genericRelays } from '../protection/overcurrent/library';
import type { DeviceFunction } from '../protection/schemas';
import { Studies } from '../studies/studies';
import { Builder } from '../test/network';
import { runTrial } from '../trials/trial';
import { finished } from '../working/steps';
import { reactanceAt } from './decay';
import { arcStudy, decidingCase, type ArcRow } from './study';
import { arcLines, arcTable } from './table';

const id = elementId;
const { ranges } = genericRelays[0];
const delayed = (name: string, pickup: number, delayS: number, over: Partial<DeviceFunction> = {}): DeviceFunction =>
  ({ ...newFunction(id(name), '50', ranges), pickup, delayS, ...over }) as DeviceFunction;

/** An incoming with a slow relay, a board, a feeder with a quick one and a board behind it. */
function plant(
  incoming: readonly DeviceFunction[],
  feeder: readonly DeviceFunction[] = [delayed('f50', 2, 0.1)],
): Network {
  const b = new Builder({ arc: { ...defaultSettings.arc, longestS: 2 } });
  b.add('networkFeeder', 'N', {
    max: { given: 'current', ikKa: 12, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 },
  });
  b.add('bus', 'S', { nominalKv: 11 });
  b.add('bus', 'A', { nominalKv: 11 });
  b.add('bus', 'B', { nominalKv: 11 });
  b.add('line', 'L', { lengthKm: 0.2 });
  b.add('line', 'L0', { lengthKm: 0.1 });
  b.join('N', 'S', 'S', 'L0:0');
  const way = (n: string, from: string, to: string, functions: readonly DeviceFunction[], over: 'L' | null) => {
    b.add('switch', `Q${n}`, { openingTimeS: 0.05 });
    b.add('currentTransformer', `C${n}`, { primaryA: 400 });
    b.add('relay', `R${n}`, {
      inputs: [currentInput(id(`C${n}`))],
      circuits: [tripCircuit([id(`Q${n}`)])],
      functions: functions.map((fn) => ({ ...fn, input: currentInput(null).id })),
    });
    if (over) b.join(from, `Q${n}:0`, `Q${n}:1`, `C${n}:0`, `C${n}:1`, `${over}:0`, `${over}:1`, to);
    else b.join(from, `Q${n}:0`, `Q${n}:1`, `C${n}:0`, `C${n}:1`, to);
  };
  way('1', 'L0:1', 'A', incoming, null);
  way('2', 'A', 'B', feeder, 'L');
  return b.network();
}

const arcs = (network: Network, only: readonly ElementId[]): ArcRow[] =>
  finished(arcStudy(new Studies(network), [maximumSources], { compare: false, only }));
const at = (network: Network, bus: string) => decidingCase(arcs(network, [id(bus)])[0].worst!);
/** From the trip to the end of the current. */
const opensS = 0.05 + 0.015;

describe('light', () => {
  const afd = (watches: string[], pickup = 1.5) =>
    ({ ...familyNamed('light').fresh(id('afd'), 'AFD', null), pickup, watches: watches.map(id) }) as DeviceFunction;
  it('trips at the board that it watches, and nowhere else', () => {
    const network = plant([delayed('i50', 2, 0.6), afd(['A'])]);
    const own = at(network, 'A');
    expect(own.governing).toMatchObject({ device: 'R1', code: 'AFD' });
    expect(own.burnsS).toBeCloseTo(0.007 + opensS, 9);
    // Without it the delayed function decides.
    expect(at(plant([delayed('i50', 2, 0.6)]), 'A').burnsS).toBeCloseTo(0.6 + opensS, 9);
    expect(at(network, 'B').governing).toMatchObject({ device: 'R2', code: '50' });
  });
  it('waits for its release by current, and does without where none is asked for', () => {
    expect(at(plant([delayed('i50', 2, 0.6), afd(['A'], 20)]), 'A').burnsS).toBeCloseTo(0.007 + opensS, 9);
    const small = plant([delayed('i50', 2, 0.6), afd(['A'], 20)]);
    const weak = withElements(small, [{ ...small.elements.get(id('C1'))!, primaryA: 4000 } as never]);
    expect(at(weak, 'A').governing?.code).toBe('50');
    const free = withElements(plant([delayed('i50', 2, 0.6), afd(['A'], 0)]), [weak.elements.get(id('C1'))!]);
    expect(at(free, 'A').governing?.code).toBe('AFD');
  });
  it('on the cable side only where the switch is watched', () => {
    const opened = (watches: string[]) => {
      const network = plant([delayed('i50', 2, 0.6), afd(watches)]);
      const row = arcs(network, [id('A')]).find(({ spot }) => spot.lineSideOf === 'Q1')!;
      return row.worst!.full.openings.map(({ code }) => code);
    };
    // Its own breaker does not clear what lies before it.
    expect(opened(['A'])).toEqual([]);
    expect(opened(['A', 'Q1'])).toEqual([]);
    const free = (watches: string[]) => {
      const network = plant([delayed('i50', 2, 0.6), afd(watches, 0)]);
      return arcs(network, [id('A')]).find(({ spot }) => spot.lineSideOf === 'Q1')!.worst!.full.openings;
    };
    expect(free(['A'])).toEqual([]);
    expect(free(['A', 'Q1']).map(({ code }) => code)).toEqual(['AFD']);
  });
  it('sees a fault at the busbar in a trial too', () => {
    const network = plant([delayed('i50', 2, 0.6), afd(['A'])]);
    const trial = trialSchema.parse({
      kind: 'trial',
      id: 't',
      name: 't',
      faults: [{ type: 'shunt', kind: '3ph', element: 'A', terminal: 0 }],
    });
    const ran = runTrial(new Studies(network), trial, false);
    expect(ran.ok && ran.result.played.events.find(({ kind }) => kind === 'trip')).toMatchObject({
      device: 'R1',
      code: 'AFD',
      atS: 0.007,
    });
  });
});

describe('zone interlock', () => {
  const waiting = delayed('i50', 2, 0.6, { interlock: { from: [id('R2')], fastS: 0.05 } });
  it('trips at once where no device ahead has picked up, and holds back where one has', () => {
    const network = plant([waiting]);
    expect(at(network, 'A')).toMatchObject({ governing: { device: 'R1', code: '50 interlock' } });
    expect(at(network, 'A').burnsS).toBeCloseTo(0.05 + opensS, 9);
    // The feeder's relay says that the fault is beyond it.
    const beyond = at(network, 'B');
    expect(beyond.governing).toMatchObject({ device: 'R2', code: '50' });
    expect(beyond.openings.map(({ device }) => device)).toEqual(['R2']);
  });
  it('what is held back still trips after its own time when the one ahead does nothing', () => {
    const network = plant([waiting], [delayed('f50', 2, 1.5)]);
    const own = at(network, 'B');
    expect(own.governing).toMatchObject({ device: 'R1', code: '50' });
    expect(own.burnsS).toBeCloseTo(0.6 + opensS, 9);
  });
});

describe('maintenance settings', () => {
  const network = plant([delayed('i50', 2, 0.6), delayed('m50', 1.5, 0.02, { maintenance: true })]);
  it('are out of use until they are switched on, and only out of use', () => {
    const relay = network.elements.get(id('R1'))!;
    if (relay.kind !== 'relay') throw new Error('no relay');
    expect(deviceFrom(network, relay)!.functions.map(({ enabled }) => enabled)).toEqual([true, false]);
    expect(relay.functions.map(({ enabled }) => enabled)).toEqual([true, true]);
    expect(at(network, 'A').burnsS).toBeCloseTo(0.6 + opensS, 9);
    expect(at(inMaintenance(network), 'A').burnsS).toBeCloseTo(0.02 + opensS, 9);
    expect(inMaintenance(plant([delayed('i50', 2, 0.6)])).elements.size).toBe(network.elements.size);
  });
  it('the table is made with them where that is asked for', () => {
    const studies = new Studies(network);
    const cal = (maintenance: boolean) => {
      const table = finished(arcTable(studies, [maximumSources], { compare: false, only: [id('A')], maintenance }));
      return arcLines(network, table)[0].worst!.cal;
    };
    expect(cal(true)).toBeLessThan(0.2 * cal(false));
  });
});

describe('generators by stages', () => {
  const plantWith = (over: Partial<(typeof defaultSettings)['arc']>, machine: Record<string, unknown> = {}) => {
    const b = new Builder({ arc: { ...defaultSettings.arc, longestS: 1.5, ...over } });
    b.add('synchronousMachine', 'G', {
      ratedMva: 12,
      ratedKv: 11,
      xd2Percent: 15,
      xd1Percent: 25,
      xdPercent: 160,
      ...machine,
    } as never);
    b.add('bus', 'A', { nominalKv: 11 });
    b.join('G', 'A');
    return b.network();
  };
  const bolted = (machine: Record<string, unknown>) =>
    arcs(plantWith({ transientAfterS: null }, machine), [id('A')])[0].worst!.boltedKa;
  it('pass from the subtransient to the transient and the steady current at their times', () => {
    const network = plantWith({ transientAfterS: 0.1, steadyAfterS: 0.8 });
    const { full } = arcs(network, [id('A')])[0].worst!;
    expect(full.stages.map(({ fromS, toS }) => [fromS, toS])).toEqual([
      [0, 0.1],
      [0.1, 0.8],
      [0.8, 1.5],
    ]);
    const [first, second, third] = full.stages.map(({ boltedKa }) => boltedKa);
    expect(first).toBeCloseTo(bolted({}), 6);
    expect(second).toBeCloseTo(bolted({ xd2Percent: 25 }), 6);
    // The ceiling, 1.3 times the excitation of rated load |1 + j·1.6·(0.8 − j·0.6)|, behind xd: in rated currents, next to nothing of resistance.
    const ratedKa = 12 / (Math.sqrt(3) * 11);
    const emf = 1.3 * Math.hypot(1 + 1.6 * 0.6, 1.6 * 0.8);
    expect(third / ((ratedKa * emf) / 1.6)).toBeCloseTo(1, 2);
  });
  it('stay as they are where nothing is known, or nothing asked', () => {
    const stages = (over: Partial<(typeof defaultSettings)['arc']>, machine = {}) =>
      arcs(plantWith(over, machine), [id('A')])[0].worst!.full.stages.length;
    expect(stages({ transientAfterS: 0.1 }, { xd1Percent: null })).toBe(1);
    expect(stages({ transientAfterS: null })).toBe(1);
    const machine = {
      xd2Percent: 15,
      xd1Percent: 22,
      xdPercent: null,
      rotor: 'turbo',
      excitation: 'series1',
      powerFactor: 0.8,
    } as const;
    expect(reactanceAt(machine, 'steady')).toBe(22);
    expect(reactanceAt({ ...machine, xdPercent: 180, excitation: 'terminalFed' }, 'steady')).toBe(22);
  });
  it('energy is the sum over the stages, and no more than with the subtransient current throughout', () => {
    const energy = (over: Partial<(typeof defaultSettings)['arc']>) => arcs(plantWith(over), [id('A')])[0].worst!.full;
    const staged = energy({ transientAfterS: 0.1, steadyAfterS: 0.8 });
    expect(staged.stages.reduce((sum, each) => sum + each.energy, 0)).toBeCloseTo(staged.energy, 9);
    expect(staged.energy).toBeLessThan(energy({ transientAfterS: null }).energy);
    expect(builtInConditions).toHaveLength(2);
  });
});

describe('energies as checks', () => {
  const judged = (findings: 'quiet' | 'finding', limitCal: number) => {
    const network = plant([delayed('i50', 2, 0.6)]);
    const settings = network.elements.get(settingsId)!;
    if (settings.kind !== 'projectSettings') throw new Error('no settings');
    const asked = withElements(network, [{ ...settings, arc: { ...settings.arc, findings, limitCal } }]);
    return { asked, run: checked(new Studies(asked), [maximumSources], ['protection.arcEnergy']) };
  };
  it('are told where the project asks for it, each with what ends the arc', () => {
    expect(judged('quiet', 0.1).run.checks).toEqual([]);
    const { run, asked } = judged('finding', 1);
    const own = run.checks.find(({ subject }) => subject === 'A')!;
    expect(own).toMatchObject({ verdict: 'short', bound: 1, unit: 'cal/cm²' });
    expect(own.message).toContain('R1, 50');
    expect(own.value).toBeCloseTo(at(asked, 'A').energy / 4.184, 9);
    expect(judged('finding', 1000).run.checks.every(({ verdict }) => verdict === 'holds')).toBe(true);
    expect(workingOf(new Studies(asked), [maximumSources], own)!.sections[0].steps.at(-1)!.result.value).toBe(
      own.value,
    );
  });
  it('a run that goes on says what a fresh one says', () => {
    const { asked } = judged('finding', 1);
    const checker = new Checker(rules.filter(({ id: rule }) => rule === 'protection.arcEnergy'));
    const first = new Studies(asked);
    finished(checker.run(first, [maximumSources]));
    const relay = asked.elements.get(id('R1'))!;
    if (relay.kind !== 'relay') throw new Error('no relay');
    const quick = { ...relay, functions: relay.functions.map((fn) => ({ ...fn, delayS: 0.1 }) as DeviceFunction) };
    const changed = withElements(asked, [quick]);
    const next = new Studies(changed, { studies: first, changed: [relay.id] });
    const went = finished(checker.run(next, [maximumSources])).checks;
    expect(went).toEqual(checked(new Studies(changed), [maximumSources], ['protection.arcEnergy']).checks);
  });
});
