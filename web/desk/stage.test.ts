/** Which stage looks after a finding. */
import { afterEach, describe, expect, it } from 'vitest';
import { registerStages, stageOwning, type Stage } from './stage';

const stage = (id: string, ...owns: string[]): Stage => ({ id, title: id, group: 'Protect', Bench: () => null, owns });
afterEach(() => registerStages([]));

describe('findings', () => {
  it('belong to the stage that names them most closely, whichever comes first', () => {
    const stages = [stage('network'), stage('grading', 'grading.', 'setting.'), stage('reach', 'setting.zone')];
    for (const order of [stages, [stages[0], stages[2], stages[1]]]) {
      registerStages(order);
      expect(stageOwning('setting.zone2').id).toBe('reach');
      expect(stageOwning('setting.direction').id).toBe('grading');
      expect(stageOwning('data.missing').id).toBe('network');
    }
  });
});
