/** The core's public face. Deeper parts can be had by their path, `@mesura/core/model/network`. */
export * from './model/fields';
export * from './model/element';
export * from './model/network';
export * from './model/problem';
export * from './model/changes';
export * from './model/topology';
export type * from './model/sources';
export type * from './model/branches';
export type * from './model/switching';
export type * from './model/protection';
export { faultKinds, faultKindTitles, needsZeroSequence, type FaultKind } from './faults/kinds';
export { toPhases, type PhaseCurrents } from './sequence/components';
export { iec60909Study, faultAt, type Fault, type Iec60909Study } from './faults/iec60909/study';
export { contributions, elementFlows, type Contribution, type ElementFlow } from './faults/iec60909/contributions';
export { faultWorking } from './faults/iec60909/working';
export type { Working } from './faults/solution/elementSections';
export {
  FaultEngine,
  type FaultRow,
  type Figures,
  type FaultDetail,
  type PlaceQuery,
  type StudyQuery,
} from './studies/engine';
export { loadFlow, type LoadFlow } from './flow/loadFlow';
export { altered, networkIn, type State } from './model/state';
export { maximumSources, minimumSources, type Alterations, type Condition } from './model/condition';
export { Studies } from './studies/studies';
export type { FaultCase } from './sequence/stamp';
export * from './formats/project/project';
export { csv } from './formats/tables/csv';
export { sheetContent } from './sheets/sheet';
export type { SheetContent } from './sheets/content';
export { checked, Checker, findings, findingsOf, workingOf, type Run } from './checks/run';
export type { Check } from './checks/check';
