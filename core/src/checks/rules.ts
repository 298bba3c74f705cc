/** All rules, in the order in which findings are told. A new one is a file and a line here. */
import type { Rule } from './check';
import { assemblyRule } from './data/assembly';
import { assumedRule } from './data/assumed';
import { openTerminalsRule } from './data/openTerminals';
import { ratedVoltageRule } from './data/ratedVoltage';
import { zeroSequenceRule } from './data/zeroSequence';
import { directNetworkRule } from './direct/network';
import { directBreakingRule, directVoltageRule } from './direct/service';
import { accuracyLimitRule } from './equipment/accuracyLimit';
import { adequacyRule } from './equipment/adequacy';
import { breakingRule } from './equipment/breaking';
import { makingRule } from './equipment/making';
import { ratedCurrentRule } from './equipment/ratedCurrent';
import { shortTimeRule } from './equipment/shortTime';
import { unknownRule } from './equipment/unknown';
import { withstandRule } from './equipment/withstand';
import { foundPairsRule } from './grading/found';
import { pairsRule } from './grading/pairs';
import { statementsRule } from './lines/statements';
import { convergenceRule } from './load/convergence';
import { loadingRule } from './load/loading';
import { voltageRule } from './load/voltage';
import { circuitsRule } from './lowVoltage/circuits';
import { arcEnergyRule } from './protection/arcEnergy';
import { earthRiseRule } from './protection/earthRise';
import { relayPartsRule } from './protection/relayParts';
import { trialsRule } from './protection/trials';
import { unprotectedRule } from './protection/unprotected';
import { damageRule } from './settings/damage';
import { differentialRule } from './settings/differential';
import { distanceRule } from './settings/distance';
import { directionRule } from './settings/direction';
import { originRule } from './settings/origin';
import { loadRule } from './settings/load';
import { overloadRule } from './settings/overload';
import { sensitivityRule } from './settings/sensitivity';
import { stepsRule } from './settings/steps';
import { zonesRule } from './settings/zones';

export const rules: readonly Rule[] = [
  assemblyRule,
  zeroSequenceRule,
  openTerminalsRule,
  ratedVoltageRule,
  directNetworkRule,
  directVoltageRule,
  directBreakingRule,
  makingRule,
  breakingRule,
  ratedCurrentRule,
  withstandRule,
  shortTimeRule,
  accuracyLimitRule,
  adequacyRule,
  convergenceRule,
  voltageRule,
  loadingRule,
  unprotectedRule,
  assumedRule,
  unknownRule,
  relayPartsRule,
  stepsRule,
  sensitivityRule,
  loadRule,
  directionRule,
  zonesRule,
  distanceRule,
  differentialRule,
  statementsRule,
  trialsRule,
  arcEnergyRule,
  earthRiseRule,
  circuitsRule,
  originRule,
  damageRule,
  overloadRule,
  pairsRule,
  foundPairsRule,
];

export const ruleNamed = (id: string): Rule | undefined => rules.find((rule) => rule.id === id);
