/** Contributions and flows of a fault found by the equivalent voltage source. */
import type { ElementId } from '../../model/fields';
import type { SequenceCurrents } from '../../sequence/components';
import {
  contributionsOf,
  elementFlowsOf,
  throughElementOf,
  type Contribution,
  type ElementFlow,
} from '../solution/contributions';
import type { TerminalCurrents } from '../solution/flows';
import { faultFlows, stateOf, type Fault } from './study';

export const contributions = (fault: Fault, flows: TerminalCurrents = faultFlows(fault)): Contribution[] =>
  contributionsOf(stateOf(fault), flows);

export const elementFlows = (fault: Fault, flows: TerminalCurrents = faultFlows(fault)): ElementFlow[] =>
  elementFlowsOf(stateOf(fault), flows);

export const throughElement = (fault: Fault, flows: TerminalCurrents, element: ElementId): SequenceCurrents | null =>
  throughElementOf(stateOf(fault), flows, element);

export type { Contribution, ElementFlow };
