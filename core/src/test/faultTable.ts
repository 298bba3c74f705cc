/** Fault figures of all buses from one study, for tests and benchmarks. */
import type { Bus } from '../model/switching';
import { ofKind } from '../model/network';
import type { Problem } from '../model/problem';
import { solidFault, type FaultKind } from '../faults/kinds';
import { faultAtPlace, terminalPlace, type Fault, type Iec60909Study } from '../faults/iec60909/study';

export interface TableRow {
  readonly name: string;
  readonly bus: Bus;
  readonly result: Fault | null;
  readonly problems: readonly Problem[];
}

export const faultTable = (study: Iec60909Study, kind: FaultKind): TableRow[] =>
  ofKind(study.assembly.network, 'bus').map((bus) => {
    const result = faultAtPlace(study, terminalPlace(bus.id), solidFault(kind));
    return result.ok
      ? { name: bus.name, bus, result: result.fault, problems: [] }
      : { name: bus.name, bus, result: null, problems: result.problems };
  });
