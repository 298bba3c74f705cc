import { describe, expect, it } from 'vitest';
import { maximumSources } from '@mesura/core/model/condition';
import { elementId } from '@mesura/core/model/fields';
import { demoNetwork } from '@mesura/core/test/demo';
import { CoreService } from '../../workers/coreService';
import { queriesOf } from './queries';
import { plainSetup } from './state';

const service = new CoreService();
service.load([...demoNetwork().elements.values()]);

describe('faults along a line', () => {
  it.each(['3ph', '1ph'] as const)('%s: from the current at one end to that at the other, evenly spread', (kind) => {
    const { study, fault } = queriesOf({ ...plainSetup, kind }, maximumSources.id);
    const rows = service.faultsAlong(study, fault, elementId('fer-pen'));
    const at = (terminal: number) =>
      service.faultDetail(study, fault, { at: 'terminal', element: elementId('fer-pen'), terminal }).row.result!.ikA;
    expect(rows).toHaveLength(51);
    expect(rows[0].result!.ikA / at(0)).toBeCloseTo(1, 4);
    expect(rows[50].result!.ikA / at(1)).toBeCloseTo(1, 4);
    expect(rows[25].place).toMatchObject({ at: 'line', fraction: 0.5 });
    const middle = service.faultDetail(study, fault, { at: 'line', element: elementId('fer-pen'), fraction: 0.5 });
    expect(rows[25].result!.ikA).toBeCloseTo(middle.row.result!.ikA, 6);
  });
  it('what is no line says so at every place', () => {
    const { study, fault } = queriesOf(plainSetup, maximumSources.id);
    const rows = service.faultsAlong(study, fault, elementId('bra-t1'));
    expect(rows.every((row) => row.result === null && row.problems.length > 0)).toBe(true);
  });
});
