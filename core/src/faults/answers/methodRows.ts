/** One fault by one method: its row of the table, and the rest when somebody looks into it. */
import { magnitude } from '../../linear/complex';
import type { ElementId } from '../../model/fields';
import { settingsOf } from '../../model/network';
import type { Problem } from '../../model/problem';
import { terminalKey } from '../../model/topology';
import type { Assembly } from '../../assembly/assemble';
import type { SequenceValues } from '../../sequence/components';
import { breakerClasses } from '../c37/factors';
import { c37Fault, type C37Kind, type C37Study } from '../c37/study';
import { c37Working } from '../c37/working';
import { largestPhase, type FaultState } from '../solution/contributions';
import { carryingElements, type Working } from '../solution/elementSections';
import { nodeVoltages, terminalCurrents, type TerminalCurrents } from '../solution/flows';
import { breakingCurrent } from '../iec60909/breaking';
import { steadyCurrent } from '../iec60909/steady';
import {
  faultAtPlace,
  faultFlows,
  solutionOf,
  stateOf,
  voltagesDuring,
  type Fault,
  type Iec60909Study,
} from '../iec60909/study';
import { thermalCurrent } from '../iec60909/thermal';
import { faultWorking } from '../iec60909/working';
import type { FaultQuery, FaultRow, Figures } from './query';
import { solveDisturbances, type DisturbanceResult, type Place, type Prefault } from '../solution/solve';
import {
  currentsDuring,
  superpositionFault,
  voltagesDuring as superposedVoltages,
  type SuperpositionStudy,
} from '../superposition/study';
import { superpositionWorking } from '../superposition/working';

const defaultBreaker = breakerClasses[1];

export interface More {
  readonly state: FaultState;
  readonly flows: TerminalCurrents;
  voltages(node: number): SequenceValues;
  working(): Working | null;
}

export type Common = Pick<FaultRow, 'place' | 'name' | 'kind' | 'method' | 'faultCase'>;
const noProblems: readonly Problem[] = [];

/** Field by field: spreading would take longer than the fault itself in a table of a hundred thousand rows. */
export const rowFrom = (
  { place, name, kind, method, faultCase }: Common,
  nominalKv: number,
  result: Figures | null,
  problems = noProblems,
): FaultRow => ({ place, name, nominalKv, kind, method, faultCase, result, problems });

export type Refused = (problems: readonly Problem[]) => { row: FaultRow };

export const problem = (code: string, message: string, element?: ElementId): Problem => ({
  severity: 'warning',
  code,
  message,
  element,
});

export function solveIec(study: Iec60909Study, place: Place, query: FaultQuery, common: Common, refused: Refused) {
  const result = faultAtPlace(study, place, query);
  if (!result.ok) return refused(result.problems);
  const { fault } = result;
  const row = rowFrom(common, fault.nominalKv, iecFigures(fault, query));
  const more = (): More => {
    const solution = solutionOf(fault);
    return {
      state: stateOf(fault),
      flows: faultFlows(fault, solution),
      voltages: (node) => voltagesDuring(fault, node, solution),
      working: () => faultWorking(fault, query),
    };
  };
  return { row, more };
}

function iecFigures(fault: Fault, { breakingS = null, durationS = null }: FaultQuery): Figures {
  const breaking = breakingS === null ? null : breakingCurrent(fault, breakingS);
  const steady = breakingS === null && durationS === null ? null : steadyCurrent(fault);
  const thermal =
    durationS === null || fault.ikA === 0
      ? null
      : thermalCurrent(
          fault.ikA,
          fault.kappa,
          steady && steady.maxA > 0 ? fault.ikA / steady.maxA : 1,
          settingsOf(fault.study.assembly.network).frequencyHz,
          durationS,
        );
  const { ikA, phases, earthA, ipA, kappa, rOverX, powerVa, z1, z2, z0, cFactor, sourceV } = fault;
  return {
    ikA,
    phases,
    earthA,
    ipA,
    kappa,
    xOverR: rOverX > 0 ? 1 / rOverX : null,
    powerVa,
    z1,
    z2,
    z0,
    cFactor,
    sourceV,
    ibA: breaking?.ibA ?? null,
    ibRule: breaking?.rule ?? null,
    idcA: breaking?.idcA ?? null,
    ibAsymmetricalA: breaking?.asymmetricalA ?? null,
    steady: steady && { maxA: steady.maxA, minA: steady.minA, rule: steady.rule },
    ithA: thermal?.ithA ?? null,
    jouleIntegral: thermal?.jouleIntegral ?? null,
    c37: null,
  };
}

const nothingMore = {
  kappa: null,
  cFactor: null,
  ibA: null,
  ibRule: null,
  idcA: null,
  ibAsymmetricalA: null,
  steady: null,
  ithA: null,
  jouleIntegral: null,
} as const;

export function solveC37(study: C37Study, place: Place, query: FaultQuery, common: Common, refused: Refused) {
  const { breaker = defaultBreaker } = query;
  const plain = magnitude(query.phaseOhm) === 0 && magnitude(query.earthOhm) === 0;
  if (place.at !== 'terminal' || query.kind === '2phE' || !plain)
    return refused([
      problem(
        'fault.method',
        'IEEE C37.010 duties are for solid three-, two- and single-phase faults at buses',
        place.element,
      ),
    ]);
  const result = c37Fault(study, place.element, place.terminal, query.kind as C37Kind, breaker);
  if (!result.ok) return refused(result.problems);
  const { fault } = result;
  const { firstCycle } = fault;
  const figures: Figures = {
    ...nothingMore,
    ikA: firstCycle.symmetricalA,
    phases: null,
    earthA: fault.kind === '1ph' ? firstCycle.symmetricalA : 0,
    ipA: firstCycle.peakA,
    xOverR: firstCycle.xOverR,
    powerVa: fault.kind === '3ph' ? Math.sqrt(3) * fault.nominalKv * 1000 * firstCycle.symmetricalA : null,
    z1: null,
    z2: null,
    z0: null,
    sourceV: fault.sourceV,
    c37: fault,
  };
  const row = rowFrom(common, fault.nominalKv, figures);
  const more = (): More => {
    // Shares and flows from the complex first-cycle network; the duty itself from the separate ones.
    const { assembly } = study.networks.firstCycle;
    const prefault: Prefault = {
      voltageAt: (node) => ({ re: (fault.sourceV * assembly.level[node]) / assembly.level[fault.node], im: 0 }),
      currentInto: () => ({ re: 0, im: 0 }),
    };
    const solved = solveDisturbances(assembly, prefault, [{ type: 'shunt', place, ...query }]);
    if (!solved.ok) throw new Error(solved.problems[0].message);
    const { solution } = solved;
    const state = stateFrom(assembly, place, solved.results[0]);
    const flows = terminalCurrents(assembly, solution);
    return {
      state,
      flows,
      voltages: (node) => nodeVoltages(assembly, solution, node, prefault.voltageAt(node)),
      working: () => c37Working(study, place.element, fault, breaker, carryingElements(state, flows)),
    };
  };
  return { row, more };
}

export function solveSuperposed(
  study: SuperpositionStudy,
  place: Place,
  query: FaultQuery,
  common: Common,
  refused: Refused,
) {
  const result = superpositionFault(study, [{ type: 'shunt', place, ...query }]);
  if (!result.ok) return refused(result.problems);
  const [own] = result.fault.results;
  const { topology } = study.assembly;
  const nominalKv = topology.nodes[own.node].nominalKv ?? 0;
  const ikA = largestPhase(own.phases);
  const figures: Figures = {
    ...nothingMore,
    ikA,
    phases: own.phases,
    earthA: magnitude(own.phases.residual),
    ipA: null,
    xOverR: null,
    powerVa: query.kind === '3ph' ? Math.sqrt(3) * nominalKv * 1000 * ikA : null,
    z1: null,
    z2: null,
    z0: null,
    sourceV: magnitude(study.prefault.voltageAt(own.node)),
    c37: null,
  };
  const row = rowFrom(common, nominalKv, figures);
  const more = (): More => {
    const state = stateFrom(study.assembly, place, own);
    const flows = currentsDuring(result.fault);
    return {
      state,
      flows,
      voltages: (node) => superposedVoltages(result.fault, node),
      working: () => superpositionWorking(study, place, query, carryingElements(state, flows)),
    };
  };
  return { row, more };
}

const stateFrom = (assembly: Assembly, place: Place, own: DisturbanceResult): FaultState => ({
  assembly,
  faultCase: assembly.faultCase,
  place,
  node: own.node,
  at: place.at === 'terminal' ? terminalKey(place.element, place.terminal) : null,
  components: own.current,
});
