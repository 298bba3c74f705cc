/** Earth faults of a network: at stations and towers, over conditions, with what is tried, copied into a study of its own, judged, reported. */
import { describe, expect, it } from 'vitest';
import { checked } from '../checks/run';
import { faultAtPlace } from '../faults/iec60909/study';
import { solidFault } from '../faults/kinds';
import { magnitude } from '../linear/complex';
import { maximumSources } from '../model/condition';
import { usualEarthSettings } from '../model/earthing';
import { elementId, type ElementId } from '../model/fields';
import { find, networkOf, ofKind, settingsOf, withElements } from '../model/network';
import { earthReport } from '../reports/earthReturn';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { radialEarth } from '../test/earthNetwork';
import { expectFollowed } from '../test/followed';
import { finished } from '../working/steps';
import { copiedStudy, turnedPath } from './free';
import { earthCase, type EarthCase } from './fromNetwork';
import { permissibleTouchV, tolerable } from './grids';
import { borneA } from './heat';
import { profileRows } from './profiles';
import {
  caseOf,
  earthAlong,
  earthDetail,
  earthStudy,
  faultBuses,
  touchLimit,
  verdictOf,
  withTrial,
  type EarthDetail,
  type EarthQuery,
} from './study';
import { solveEarth } from './system';
import { earthWorking } from './working';

const id = elementId;
const atB: EarthQuery = {
  of: 'network',
  condition: maximumSources.id,
  place: { at: 'bus', bus: id('B_110') },
  kind: '1ph',
};
const detailOf = (studies: Studies, query: EarthQuery): EarthDetail => {
  const found = earthDetail(studies.network, caseOf(studies, query));
  if (!found.ok) throw new Error(found.problem);
  return found.detail;
};
const caseAt = (studies: Studies, query: Extract<EarthQuery, { of: 'network' }> = atB as never): EarthCase => {
  const found = earthCase(studies, query.condition, query.place, query.kind);
  if (!found.ok) throw new Error(found.problem);
  return found.case;
};
const demo = new Studies(demoNetwork());

describe('faults at towers', () => {
  it('carry what the network gives there, from both sides, and nothing is lost', () => {
    const studies = new Studies(radialEarth({ towers: true }));
    for (const tower of [1, 17, 39]) {
      const { system, place } = caseAt(studies, {
        ...atB,
        place: { at: 'tower', line: id('L'), tower, hubTerminal: 1 },
      } as never);
      expect(system.fault).toEqual({ line: 'L', tower: 40 - tower });
      expect(place).toMatchObject({ at: 'line', fraction: expect.closeTo(tower / 40, 9) });
      const fault = faultAtPlace(studies.max, place!, solidFault('1ph'));
      if (!fault.ok) throw new Error('no fault');
      const answer = solveEarth(system, 'series');
      expect(magnitude(answer.total) / fault.fault.ikA).toBeCloseTo(1, 6);
    }
  });
  it('seen from one station or from the other are the same fault', () => {
    const query = (hubTerminal: 0 | 1): EarthQuery => ({
      of: 'network',
      condition: maximumSources.id,
      place: { at: 'tower', line: id('fer-mar'), tower: 30, hubTerminal },
      kind: '1ph',
    });
    const whole = withElements(demo.network, [
      { ...settingsOf(demo.network), earthReturn: { ...usualEarthSettings, farther: 20 } },
    ]);
    const studies = new Studies(whole);
    const [p, q] = [detailOf(studies, query(0)), detailOf(studies, query(1))];
    const tower = ({ profiles, fault }: EarthDetail) =>
      profiles.find(({ line }) => line === 'fer-mar')!.volts[fault!.tower];
    expect(tower(p) / tower(q)).toBeCloseTo(1, 6);
    const rise = (detail: EarthDetail, name: string) =>
      detail.names[detail.hub] === name
        ? detail.figures.riseV
        : detail.figures.stations.find((each) => each.name === name)!.riseV;
    for (const name of ['FER', 'MAR', 'CAU']) expect(rise(p, name) / rise(q, name)).toBeCloseTo(1, 6);
  });
  it('moved along a line come near those in its stations at both ends', () => {
    const studies = new Studies(radialEarth({ towers: true }));
    const answer = finished(
      earthAlong(studies, { of: 'network', condition: maximumSources.id, line: id('L'), hubTerminal: 0, kind: '1ph' }),
    );
    if (!answer.ok) throw new Error(answer.problem);
    expect(answer.rows.map(({ tower }) => tower)).toEqual(Array.from({ length: 39 }, (_, k) => k + 1));
    // The current falls with the distance from the only source.
    answer.rows.reduce((before, row) => (expect(row.faultA).toBeLessThan(before.faultA), row));
    const far = answer.rows.at(-1)!;
    expect(far.farV).toBeGreaterThan(answer.rows[0].farV);
    const nowhere = finished(
      earthAlong(studies, { of: 'network', condition: maximumSources.id, line: id('N'), hubTerminal: 0, kind: '1ph' }),
    );
    expect(nowhere.ok).toBe(false);
  });
  it('refuse a tower that is not there', () => {
    const found = earthCase(new Studies(radialEarth({ towers: true })), maximumSources.id, {
      at: 'tower',
      line: id('L'),
      tower: 40,
      hubTerminal: 0,
    });
    expect(found).toMatchObject({ ok: false, problem: 'L has no tower 40' });
  });
});

describe('the demo', () => {
  const table = finished(earthStudy(demo, [maximumSources]));
  it('has a row for every level at which lines bring something, and names what is not given', () => {
    expect(table.rows.map(({ bus }) => bus).sort()).toEqual([
      'bra-33',
      'cau-132',
      'fer-132',
      'fer-33-a',
      'mar-132',
      'tol-132',
    ]);
    expect(table.without.map(({ name }) => name)).toContain('PEN');
    // Where lines meet and nothing else, nothing is missing.
    expect(table.without.map(({ name }) => name)).not.toContain('QUE tee');
    expect(faultBuses(demo.network).length).toBeGreaterThan(table.rows.length);
  });
  it('the fault lasts as long as the protection needs', () => {
    const { time } = table.rows.find(({ bus }) => bus === 'mar-132')!;
    // The second zones of the distance relays.
    expect(time).toMatchObject({ by: 'protection', timeS: expect.closeTo(0.455, 6) });
    const chosen = withElements(demo.network, [
      { ...settingsOf(demo.network), earthReturn: { ...usualEarthSettings, durationS: 0.2 } },
    ]);
    const [row] = finished(earthStudy(new Studies(chosen), [maximumSources])).rows;
    expect(row.time).toEqual({ timeS: 0.2, device: null, by: 'chosen' });
  });
  it('lines on common towers share their shield wire: one by itself would find a second one', () => {
    const split = (network = demo.network) =>
      detailOf(new Studies(network), { ...atB, place: { at: 'bus', bus: id('fer-132') } } as EarthQuery).figures.split;
    const second = find(demo.network, 'line', id('cau-fer-2'))!;
    const apart = withElements(demo.network, [
      { ...second, returnPath: find(demo.network, 'line', id('cau-fer-1'))!.returnPath },
    ]);
    expect(split(apart)).toBeLessThan(split());
  });
  it('more lines around change little at the faulted station', () => {
    const split = (farther: number) => {
      const network = withElements(demo.network, [
        { ...settingsOf(demo.network), earthReturn: { ...usualEarthSettings, farther } },
      ]);
      return detailOf(new Studies(network), { ...atB, place: { at: 'bus', bus: id('fer-132') } } as EarthQuery).figures
        .split;
    };
    expect(Math.abs(split(20) / split(0) - 1)).toBeLessThan(0.03);
  });
  it('a working that can be followed by hand', () => {
    for (const { bus } of table.rows) {
      const { found, time } = caseOf(demo, { ...atB, place: { at: 'bus', bus } } as EarthQuery);
      if (!found.ok) throw new Error(found.problem);
      const sections = earthWorking(demo.network, found.case, time);
      expectFollowed(sections, bus);
      expect(sections.length).toBeGreaterThan(4);
    }
  });
  it('the study by hand: closed forms come near the whole system', () => {
    const study = ofKind(demo.network, 'earthStudy')[0];
    const { found, time } = caseOf(demo, { of: 'study', study: study.id, fault: null });
    if (!found.ok) throw new Error(found.problem);
    const sections = earthWorking(demo.network, found.case, time);
    expectFollowed(sections, study.name);
    const all = sections
      .flatMap(({ steps }) => steps)
      .filter(({ result }) => result.symbol === 'IG')
      .map(({ result }) => result.value as { re: number; im: number });
    expect(all).toHaveLength(2);
    expect(magnitude(all[0]) / magnitude(all[1])).toBeCloseTo(1, 3);
    // By hand with Carson's limit for low heights: docs/methods/earth-return.md.
    const { figures, currents } = detailOf(demo, { of: 'study', study: study.id, fault: null });
    expect(figures.gridA / 2050).toBeCloseTo(1, 2);
    expect(figures.riseV / 861).toBeCloseTo(1, 2);
    for (const { reduction, found: half } of currents) expect(half! / reduction).toBeCloseTo(1, 2);
  });
  it('a report with every station, profiles in the workbook and workings', () => {
    const report = finished(earthReport(demo, [maximumSources], '1ph'));
    const stations = report.sections.find(({ title }) => title === 'Stations')!;
    expect(stations.table!.rows).toHaveLength(6);
    expect(stations.table!.rows.every(({ cells }) => cells.length === stations.table!.columns.length)).toBe(true);
    expect(report.sections.filter(({ workbookOnly }) => workbookOnly)).toHaveLength(7);
    expect(report.sections.at(-1)!.workings).toHaveLength(7);
    expect(report.sections.flatMap(({ text = [] }) => text).join(' ')).toContain('The earthing is not given of:');
  });
});

describe('what if, copies, judgement', () => {
  const studies = new Studies(radialEarth({ towers: true }));
  it('a better grid takes more of the current and rises less', () => {
    const own = caseAt(studies);
    const at = (ohm: number) => {
      const { system } = withTrial(own, { stations: { [own.system.hub.name]: ohm }, footings: {} });
      const answer = solveEarth(system, 'series');
      return { grid: magnitude(answer.gridCurrent), rise: magnitude(answer.potentials[system.hub.name]) };
    };
    expect(at(0.2).grid).toBeGreaterThan(at(0.8).grid);
    expect(at(0.2).rise).toBeLessThan(at(0.8).rise);
    const factor = (by: number) =>
      magnitude(solveEarth(withTrial(own, { stations: {}, footings: { L: by } }).system, 'series').gridCurrent);
    expect(factor(3)).toBeGreaterThan(factor(1));
    expect(factor(1)).toBeCloseTo(magnitude(solveEarth(own.system, 'series').gridCurrent), 9);
  });
  it('a copy without the network computes the same', () => {
    const own = caseAt(studies);
    let n = 0;
    const copy = copiedStudy(studies.network, own, {
      id: id('copy'),
      name: 'Copy',
      durationS: 0.4,
      newId: () => id(`n${n++}`),
    });
    const both = new Studies(withElements(studies.network, [copy]));
    const [p, q] = [detailOf(studies, atB), detailOf(both, { of: 'study', study: copy.id, fault: null })];
    expect(q.figures.split / p.figures.split).toBeCloseTo(1, 3);
    expect(q.figures.touch.seconds).toBe(0.4);
    expect(turnedPath(turnedPath(copy.lines[0].path))).toEqual(copy.lines[0].path);
  });
  it('a study says what does not fit', () => {
    const study = ofKind(demo.network, 'earthStudy')[0];
    const ask = (changed: Partial<typeof study>, fault: { line: string; tower: number } | null = null) =>
      caseOf(new Studies(withElements(demo.network, [{ ...study, ...changed }])), {
        of: 'study',
        study: study.id,
        fault,
      }).found;
    expect(ask({ lines: [] })).toMatchObject({ ok: false, problem: expect.stringContaining('no line ends in') });
    expect(ask({ stations: [] })).toMatchObject({ ok: false, problem: expect.stringContaining('ends at no station') });
    expect(ask({}, { line: study.lines[0].id, tower: 900 })).toMatchObject({
      ok: false,
      problem: expect.stringContaining('no tower 900'),
    });
    expect(ask({}, { line: study.lines[0].id, tower: 9 })).toMatchObject({ ok: true });
    expect(caseOf(demo, { of: 'study', study: 'gone' as ElementId, fault: null }).found.ok).toBe(false);
  });
  it('people bear less the longer it lasts; gravel lets them bear more', () => {
    const limit = (touch: 'en50522' | 'ieee50' | 'ieee70', seconds: number, ohmM = 0) =>
      touchLimit({ ...usualEarthSettings, touch }, seconds, { ohmM, thicknessM: ohmM > 0 ? 0.1 : 0, soilOhmM: 100 });
    expect(limit('en50522', 0.5)).toMatchObject({
      touchV: permissibleTouchV(0.5),
      metV: 2 * permissibleTouchV(0.5),
      measuresV: 4 * permissibleTouchV(0.5),
    });
    expect(limit('ieee50', 0.5).touchV).toBeCloseTo(tolerable(100, 0, 0, 0.5).touch50V, 9);
    expect(limit('ieee70', 0.5).touchV).toBeGreaterThan(limit('ieee50', 0.5).touchV);
    expect(limit('ieee50', 0.5, 3000).touchV).toBeGreaterThan(2 * limit('ieee50', 0.5).touchV);
    const own = limit('en50522', 0.5);
    expect([own.metV, own.metV + 1, own.measuresV! + 1].map((volts) => verdictOf(volts, own))).toEqual([
      'met',
      'measures',
      'prove',
    ]);
    const wire = { name: 'w', sectionMm2: 80, metal: 'aluminium', kind: 'bare' } as const;
    expect(borneA(wire, 1)! / borneA(wire, 4)!).toBeCloseTo(2, 9);
    expect(borneA({ ...wire, sectionMm2: null }, 1)).toBeNull();
  });
  it('findings where the project asks for them, and none where all is met', () => {
    const found = (settings: object) => {
      const network = radialEarth({ towers: true, settings: { durationS: 0.5, findings: 'finding', ...settings } });
      return checked(new Studies(network), undefined, ['protection.earthRise']).checks;
    };
    const of = (checks: ReturnType<typeof found>, code: string) =>
      checks.find((each) => each.code === code && each.subject === 'B_110');
    expect(found({ findings: 'quiet' })).toEqual([]);
    const rise = of(found({}), 'earthReturn.touch')!;
    expect(rise.value).toBeGreaterThan(0);
    expect(of(found({ limitV: rise.value! / 2 }), 'earthReturn.limit')!.verdict).toBe('short');
    expect(of(found({ limitV: rise.value! * 2 }), 'earthReturn.limit')!.verdict).toBe('holds');
    expect(of(found({}), 'earthReturn.limit')).toBeUndefined();
    expect(of(found({ towerLimitV: 1 }), 'earthReturn.tower')!.verdict).toBe('short');
  });
  it('the voltage between an open end of a wire and its station, and a wire that is too thin, are found', () => {
    const network = radialEarth({
      towers: true,
      path: { openTo: ['shield wire'] },
      settings: { durationS: 1, findings: 'finding' },
    });
    const { figures } = detailOf(new Studies(network), atB);
    // Open at the faulted station: all of the current goes into its grid, and the wire stands against the whole rise.
    expect(figures.split).toBeCloseTo(1, 9);
    expect(figures.openEnd).toMatchObject({ line: 'L', wire: 'shield wire' });
    expect(figures.openEnd!.volts).toBeGreaterThan(0.5 * figures.riseV);
    expect(detailOf(studies, atB).figures.openEnd).toBeNull();
    expect(figures.hottest).toBeNull();
    const tower = find(studies.network, 'tower', id('T'))!;
    const wireOf = (sectionMm2: number) => {
      const made = radialEarth({ towers: true, settings: { durationS: 1, findings: 'finding' } });
      const conductors = tower.conductors.map((each) => (each.circuit === 0 ? { ...each, sectionMm2 } : each));
      const { checks } = checked(new Studies(withElements(made, [{ ...tower, conductors }])), undefined, [
        'protection.earthRise',
      ]);
      return checks.find(({ code, subject }) => code === 'earthReturn.wire' && subject === 'B_110')!;
    };
    expect(wireOf(3).verdict).toBe('short');
    expect(wireOf(300).verdict).toBe('holds');
    expect(wireOf(300).value).toBeCloseTo(wireOf(3).value!, 9);
  });
  it('profiles have a row for every position, wires where their spans begin', () => {
    const { columns, rows } = profileRows(detailOf(studies, atB));
    expect(rows).toHaveLength(41);
    expect(rows[0]).toMatchObject({ line: 'L', position: 0, place: 'B', footing: null });
    expect(rows.at(-1)).toMatchObject({ place: 'A', 'shield wire A': null });
    expect(rows[5]['shield wire A']).toBeGreaterThan(0);
    expect(columns.map(({ head }) => head)).toContain('shield wire A');
  });
  it('a station without earthing that delivers current is told', () => {
    const network = studies.network;
    const { stationEarthing: _, ...bare } = find(network, 'bus', id('A_110'))!;
    const others = [...network.elements.values()].filter((each) => each.id !== bare.id);
    const { remarks } = caseAt(new Studies(networkOf([...others, bare])));
    expect(remarks.join()).toContain('the earthing of A is not given, though it delivers current');
    // Without any wire nothing at all joins it to earth: no potential is made up.
    const adrift = radialEarth();
    const { stationEarthing: _own, ...plain } = find(adrift, 'bus', id('A_110'))!;
    const rest = [...adrift.elements.values()].filter((each) => each.id !== plain.id);
    const { figures, profiles, remarks: told } = detailOf(new Studies(networkOf([...rest, plain])), atB);
    expect(figures.stations).toEqual([]);
    expect(profiles).toEqual([]);
    expect(told.join()).toContain('its potential is not known');
    expect(figures.split).toBeCloseTo(1, 9);
  });
});
