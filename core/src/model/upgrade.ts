/**
 * Elements as earlier versions wrote them, in today's form: project files, stored rows, the history and clipboards are read through this one place.
 * Paths of return of lines were one stretch of towers.
 * Format 1 to 2: a relay measured at one current transformer and tripped a list of breakers; now it has inputs, functions of families, and trip circuits.
 */

import { usualPath, usualStretch } from './earthing';

type Raw = Record<string, unknown>;

/** What a relay of format 1 measured at and tripped, under these names in format 2. */
export const firstInput = 'ct';
export const firstCircuit = 'trip';

const earlierRelayFields = ['ct', 'towards', 'trips'] as const;

/** Today's form of an element; the element itself where it has it already. Anything that is no element is left for the schema to refuse. */
export function upgradedElement(raw: unknown): unknown {
  if (typeof raw !== 'object' || raw === null) return raw;
  const { kind } = raw as Raw;
  return kind === 'relay' ? upgradedRelay(raw as Raw) : kind === 'line' ? upgradedLine(raw as Raw) : raw;
}

/** A path of return with a tower, a span and a footing, and nothing else. */
function upgradedLine(line: Raw): Raw {
  const path = line.returnPath;
  if (typeof path !== 'object' || path === null || 'stretches' in path || !('spanM' in path)) return line;
  const { tower = null, spanM, footingOhm = null } = path as Raw;
  return { ...line, returnPath: { ...usualPath, stretches: [{ ...usualStretch, tower, spanM, footingOhm }] } };
}

function upgradedRelay(relay: Raw): Raw {
  const functions = Array.isArray(relay.functions) ? (relay.functions as unknown[]) : undefined;
  const earlier = earlierRelayFields.some((field) => field in relay) || functions?.some(isEarlierFunction);
  if (!earlier) return relay;
  const { ct, towards, trips, ...rest } = relay;
  // A change of format 1 may lie on top of an element of format 2: what it says replaces the first input and the first circuit.
  const [input, ...inputs] = Array.isArray(relay.inputs) ? (relay.inputs as Raw[]) : [];
  const [circuit, ...circuits] = Array.isArray(relay.circuits) ? (relay.circuits as Raw[]) : [];
  return {
    ...rest,
    inputs: [
      {
        id: firstInput,
        type: 'current',
        element: null,
        towards: 1,
        reversed: false,
        ...input,
        ...('ct' in relay && { element: ct }),
        ...(towards !== undefined && { towards }),
      },
      ...inputs,
    ],
    circuits: [
      { id: firstCircuit, name: 'Trip', breakers: [], ...circuit, ...(trips !== undefined && { breakers: trips }) },
      ...circuits,
    ],
    ...(functions && { functions: functions.map(upgradedFunction) }),
  };
}

const isEarlierFunction = (fn: unknown): fn is Raw => typeof fn === 'object' && fn !== null && !('family' in fn);

/** All functions of format 1 were overcurrent functions at the one current transformer. */
const upgradedFunction = (fn: unknown): unknown =>
  isEarlierFunction(fn) ? { family: 'overcurrent', input: firstInput, circuits: [], ...fn } : fn;
