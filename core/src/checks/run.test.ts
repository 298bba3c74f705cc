import { describe, expect, it } from 'vitest';
import { applyChanges, type Change } from '../model/changes';
import { elementId } from '../model/fields';
import { find, networkOf, withElements, type Network } from '../model/network';
import { sheetContent } from '../sheets/sheet';
import { demoNetwork } from '../test/demo';
import { currentInput, tripCircuit } from '../model/protection';
import { deviceOf } from '../protection/device';
import type { OvercurrentFunction } from '../protection/overcurrent/schema';
import { Studies } from '../studies/studies';
import { findings } from './run';
import { sensitivities } from './settings/sensitivity';

const codes = (network: Network) => findings(new Studies(network)).map((problem) => problem.code);

function changed(change: (network: Network) => Change): Network {
  const network = demoNetwork();
  const applied = applyChanges(network, [change(network)]);
  if (!applied.ok) throw new Error(applied.problems[0].message);
  return applied.network;
}

const relay = (network: Network) => find(network, 'relay', elementId('bra-q32-relay'))!;

describe('findings', () => {
  it('of the demo are what it shows on purpose: a relay that is too quick, one that looks the wrong way, zones that a parallel line shortens and, earthed, lengthens, ratings short and marginal, breakers that no relay trips yet', () => {
    const found = findings(new Studies(demoNetwork()));
    const told = (severity: string) =>
      found.filter((each) => each.severity === severity).map(({ code, element }) => `${code} ${element}`);
    const errors = told('error');
    expect(errors.filter((each) => !each.startsWith('grading.short'))).toEqual([
      'rating.making bra-f51',
      'rating.breaking bra-f51',
      'rating.conductor dosing-cable',
      'setting.polarity bra-q02-relay',
      'setting.polarity bra-q02-relay',
      'setting.zone1 cau-q01-relay',
      'setting.zone1 cau-q02-relay',
      'setting.zone1 fer-q01-relay',
      'setting.zone2 fer-q01-relay',
      'setting.zone1 fer-q02-relay',
      'setting.zone2 fer-q02-relay',
      'trial.verdict fer-bra-2',
      'circuits.disconnection bra-f81',
      'grading.blind chart-pair',
    ]);
    // Every margin that is short is one above which the same relay stands.
    const short = found.filter(({ code }) => code === 'grading.short');
    expect(short.length).toBeGreaterThan(3);
    for (const { message } of short) expect(message).toMatch(/→ BRA Q21 relay, /);
    expect(told('warning')).toEqual([
      'protection.none fer-q09',
      'rating.making bra-q37',
      'rating.service bra-f51',
      'rating.peak bra-11-a',
      'rating.shortTime bra-11-a',
      'rating.peak bra-11-b',
      'rating.shortTime bra-11-b',
      'rating.shortTime bra-q37',
      'ct.dimensioning cau-ct01',
      'ct.dimensioning cau-ct01',
      'ct.dimensioning cau-ct02',
      'ct.dimensioning cau-ct02',
      'setting.direction bra-q21-relay',
      'setting.direction bra-q21-relay',
      'setting.direction bra-q22-relay',
      'setting.direction bra-q22-relay',
      'setting.direction fer-q21-relay',
      'setting.zoneResistance fer-q01-relay',
      'setting.zoneResistance fer-q02-relay',
      'setting.zoneResistance tol-q01-relay',
    ]);
    expect(new Set(told('assumed').map((each) => each.split(' ')[0]))).toEqual(new Set(['rating.unknown']));
  });
  it('of the demo leave no margin short once its two wrong settings are put right, as the guided tour says', () => {
    const network = demoNetwork();
    const [quick, turned] = ['bra-q21-relay', 'bra-q02-relay'].map((id) => find(network, 'relay', elementId(id))!);
    const [first, ...rest] = quick.functions as OvercurrentFunction[];
    const [current, ...inputs] = turned.inputs;
    const right = withElements(network, [
      { ...quick, functions: [{ ...first, timeMultiplier: 0.09 }, ...rest] },
      { ...turned, inputs: [{ ...current, reversed: false }, ...inputs] },
    ]);
    const wrong = findings(new Studies(right)).filter(({ code }) => /^(grading\.|setting\.polarity)/.test(code));
    expect(wrong).toEqual([]);
  });
  it('tell of a relay without CT, without breaker, without function', () => {
    const loose = changed((network) => ({
      op: 'update',
      element: { ...relay(network), inputs: [currentInput(null)], circuits: [tripCircuit([])], functions: [] },
    }));
    expect(codes(loose)).toEqual(
      expect.arrayContaining(['relay.ct', 'relay.trips', 'relay.functions', 'grading.unknown']),
    );
  });
  it('tell of a setting that the device does not have', () => {
    const off = changed((network) => {
      const [first, ...rest] = relay(network).functions;
      return {
        op: 'update',
        element: {
          ...relay(network),
          functions: [{ ...(first as OvercurrentFunction), timeMultiplier: 0.2633 }, ...rest],
        },
      };
    });
    expect(codes(off)).toContain('setting.step');
  });
  it('tell of a relay that hardly sees its far end', () => {
    const deaf = changed((network) => {
      const [first, ...rest] = relay(network).functions;
      return {
        op: 'update',
        element: { ...relay(network), functions: [{ ...(first as OvercurrentFunction), pickup: 5 }, ...rest] },
      };
    });
    expect(codes(deaf)).toContain('setting.sensitivity');
  });
  it('tell of an open breaker that cuts the supply', () => {
    const open = changed((network) => ({
      op: 'update',
      element: { ...find(network, 'switch', elementId('bra-q32'))!, closed: false },
    }));
    expect(codes(open)).toContain('supply.none');
  });
});

describe('a sheet', () => {
  const studies = new Studies(demoNetwork());
  const sheet = sheetContent(studies, elementId('bra-q32-relay'))!;
  it('has settings in relay terms, primary and secondary amperes', () => {
    expect(sheet.functions[0]).toMatchObject({
      code: '51',
      pickupIn: 1,
      primaryA: 150,
      secondaryA: 1,
      timeMultiplier: 0.26,
      delayS: null,
    });
    expect(sheet.functions[1]).toMatchObject({ code: '50', primaryA: 2100, delayS: 0.05, timeMultiplier: null });
  });
  it('has the figures used, the margins with both neighbours, and a chart with its own curve', () => {
    expect(sheet.faults.filter((fault) => fault.conditionId === 'maximum').map((fault) => fault.kind)).toEqual([
      '3ph',
      '2ph',
      '2phE',
      '1ph',
    ]);
    expect(sheet.margins.map((margin) => margin.upstream)).toEqual(
      expect.arrayContaining(['BRA Q32 relay', 'BRA Q21 relay']),
    );
    expect(sheet.chart.map((chart) => chart.measured)).toEqual(['phase', 'earth']);
    for (const chart of sheet.chart) expect(chart.curves.filter((curve) => curve.own)).toHaveLength(1);
    expect(
      sensitivities(studies, deviceOf(studies.network, elementId('bra-q32-relay'))!, studies.conditions)[0].factor,
    ).toBeCloseTo(sheet.sensitivities[0].factor, 6);
  });
  it('is plain data: it survives JSON unchanged, so that its digest means something', () => {
    expect(JSON.parse(JSON.stringify(sheet))).toEqual(sheet);
  });
  it('does not exist for what is no relay', () => {
    expect(sheetContent(studies, elementId('bra-t1'))).toBeNull();
    expect(sheetContent(new Studies(networkOf([])), elementId('x'))).toBeNull();
  });
});
