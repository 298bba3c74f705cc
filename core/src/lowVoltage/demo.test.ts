/** The demo's board at Brackwater: a dozen circuits, one of which is too long. */
import { describe, expect, it } from 'vitest';
import { elementId as id } from '../model/fields';
import { find, withElements } from '../model/network';
import { clearingOf } from '../duty/clearing';
import { maximumSources, minimumSources } from '../model/condition';
import { inState } from '../model/state';
import { faultAtPlace, terminalPlace } from '../faults/iec60909/study';
import { solidFault } from '../faults/kinds';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { finished } from '../working/steps';
import { proposedFor } from './propose';
import { caseOfKey, circuitTable } from './study';

const network = demoNetwork();
const studies = new Studies(network);
const table = finished(circuitTable(studies, studies.conditions, id('bra-db1')));

describe('the board of the filter gallery', () => {
  it('has a dozen circuits, of which one is cut off too late', () => {
    expect(table.rows).toHaveLength(12);
    expect(table.rows.filter(({ verdict }) => verdict !== 'holds').map(({ key, binding }) => [key, binding])).toEqual([
      ['bra-f81', 'disconnection'],
    ]);
    expect(table.boards).toMatchObject([{ board: 'bra-db1', fedBy: 'bra-f72', circuits: 12 }]);
    expect(table.boards[0].unbalance).toBeLessThan(0.05);
  });
  it('its currents are those of the engine at the terminals', () => {
    for (const row of table.rows)
      for (const [figure, kind, factor] of [
        [row.endEarth!, '1ph', 1],
        ...(row.isSinglePhase ? [] : ([[row.endShort!, '2ph', 1]] as const)),
      ] as const) {
        const study = studies.iec60909({ condition: figure.condition });
        const fault = faultAtPlace(study, terminalPlace(figure.end), solidFault(kind));
        expect(fault.ok && figure.ampere / (factor * fault.fault.ikA)).toBeCloseTo(1, 9);
      }
  });
  it('and its times those that clearing finds by what each device sees', () => {
    const rows = table.rows.filter(({ cleared, endEarth }) => cleared.timeS !== null && endEarth);
    expect(rows.length).toBeGreaterThan(8);
    for (const row of rows) {
      const times = [maximumSources, minimumSources].map((condition) => {
        const study = studies.iec60909(inState(condition));
        const at = { element: row.cables[0].element, terminal: 0 };
        return clearingOf(network, study, at, terminalPlace(row.ends[0]), '1ph').timeS;
      });
      expect(Math.max(...times)).toBeLessThanOrEqual(row.cleared.timeS! * (1 + 1e-9));
      expect(Math.max(...times)).toBeGreaterThan(row.cleared.timeS! * 0.9);
    }
  });
  it('is right with what is proposed', () => {
    const proposal = proposedFor(network, caseOfKey(studies, studies.conditions, id('bra-f81'))!, {
      section: true,
      device: true,
    });
    expect(proposal.options[0]).toMatchObject({ sectionMm2: 4, device: 'gG 20 A', left: [] });
    expect(proposal.longestM).toBeGreaterThan(50);
    expect(proposal.longestM).toBeLessThan(60);
    const next = new Studies(withElements(network, proposal.options[0].elements));
    const after = finished(circuitTable(next, next.conditions, id('bra-db1')));
    expect(after.rows.every(({ verdict }) => verdict === 'holds')).toBe(true);
  });
  it('a shorter cable helps as well, a rating of the switch changes nothing else', () => {
    const line = find(network, 'line', id('bra-w81'))!;
    const next = new Studies(withElements(network, [{ ...line, lengthKm: 0.05 }]), { studies, changed: [line.id] });
    const row = finished(circuitTable(next, next.conditions, id('bra-db1'))).rows.find(({ key }) => key === 'bra-f81')!;
    expect(row.verdict).toBe('holds');
  });
});
