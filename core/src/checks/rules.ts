/** All rules, in the order in which findings are told. A new one is a file and a line here. */
import type { Rule } from './check';
import { assemblyRule } from './data/assembly';
import { assumedRule } from './data/assumed';
import { openTerminalsRule } from './data/openTerminals';
import { ratedVoltageRule } from './data/ratedVoltage';
import { zeroSequenceRule } from './data/zeroSequence';
import { breakingCapacityRule } from './equipment/breakingCapacity';
import { ratedCurrentRule } from './equipment/ratedCurrent';
import { withstandRule } from './equipment/withstand';
import { pairsRule } from './grading/pairs';
import { relayPartsRule } from './protection/relayParts';
import { unprotectedRule } from './protection/unprotected';
import { sensitivityRule } from './settings/sensitivity';
import { stepsRule } from './settings/steps';

export const rules: readonly Rule[] = [
  assemblyRule,
  zeroSequenceRule,
  openTerminalsRule,
  ratedVoltageRule,
  breakingCapacityRule,
  ratedCurrentRule,
  withstandRule,
  unprotectedRule,
  assumedRule,
  relayPartsRule,
  stepsRule,
  sensitivityRule,
  pairsRule,
];

export const ruleNamed = (id: string): Rule | undefined => rules.find((rule) => rule.id === id);
