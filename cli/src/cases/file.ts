/** Files of reference cases: what their cases are, and which kind of case is computed how. A new kind is a file beside this one and a line here. */
import { basename, dirname, join } from 'node:path';
import { Studies } from '@mesura/core/studies/studies';
import { networkFrom, type Read } from '../command';
import { Refusal } from '../options';
import { answerPairs, type Ask } from './answer';
import { arcKinds } from './arc';
import { compared, pairsOf, type Compared, type Inputs, type Pair, type ReferenceCase } from './case';
import { ampacityPairs, circuitPairs } from './circuits';
import { courseKinds } from './course';
import { differentialNetworkKinds, differentialPairs } from './differential';
import { distanceKinds, type NetworkKind, type Open } from './distance';
import { earthPairs } from './earth';
import { gridKinds } from './grids';
import { formulaPairs } from './formulas';
import { linePackageKinds } from './linePackage';
import { loadCases } from './load';
import { loadability } from './loadability';
import { marginKinds } from './margins';
import { networkCase } from './networks';
import { protectionKinds } from './protection';
import { ratingKinds } from './ratings';
import { reachKinds } from './reach';
import { solvedCase } from './solvedCase';
import { trialPairs } from './trials';

type Computed = (inputs: Record<string, number>, given: Inputs) => unknown;

/** By the kind that a case gives. */
const kinds: Readonly<Record<string, Computed>> = {
  ...ratingKinds,
  ...courseKinds,
  ...protectionKinds,
  ...marginKinds,
  ...arcKinds,
  ...gridKinds,
};

/** By the kind, on a network of their own. */
const networkKinds: Readonly<Record<string, NetworkKind>> = {
  ...distanceKinds,
  ...reachKinds,
  ...linePackageKinds,
  ...differentialNetworkKinds,
};

/** All figures of the cases in a file. Refusals: no JSON, no list of cases. */
export function comparisons(path: string, read: Read, ask: Ask): Compared[] {
  const solved = solvedCase(path, read);
  if (solved) return solved;
  const data = dataIn(path, read);
  const whole = loadCases(data);
  if (whole) return whole.flatMap((each) => each.pairs.map((pair) => compared(each.of, pair)));
  const opened = new Map<string, Studies>();
  const open: Open = (project) => {
    let studies = opened.get(project);
    if (!studies) opened.set(project, (studies = new Studies(networkFrom(join(dirname(path), project), read))));
    return studies;
  };
  return casesIn(data, path).flatMap((each) => pairs(each, path, ask, open).map((pair) => compared(each, pair)));
}

function pairs(each: ReferenceCase, path: string, ask: Ask, open: Open): Pair[] {
  const { kind, calc, inputs, expected } = each;
  const onNetwork = kind === undefined ? undefined : networkKinds[kind];
  if (onNetwork && inputs) return onNetwork(inputs, expected, open);
  // "criterion 3a, mho": a name for every criterion and shape.
  const computed =
    kind === undefined
      ? undefined
      : /^criterion \w+, /.test(kind)
        ? (_: unknown, given: Inputs) => loadability(given)
        : kinds[kind];
  if (computed && inputs) return pairsOf(expected, computed(inputs as Record<string, number>, inputs));
  return (
    earthPairs(each) ??
    circuitPairs(each) ??
    ampacityPairs(each) ??
    differentialPairs(kind, inputs, expected, each.tolerance) ??
    answerPairs(each, path, ask) ??
    formulaPairs(each) ??
    networkCase(each) ??
    trialPairs(each, open) ?? [{ figure: calc ?? kind ?? '', expected: null, computed: undefined }]
  );
}

function dataIn(path: string, read: Read): object {
  try {
    return (JSON.parse(read(path)) ?? {}) as object;
  } catch (error) {
    throw new Refusal(1, `${path} cannot be read: ${(error as Error).message}`);
  }
}

/** A file of another form is one case that is not computed yet. */
function casesIn(data: object, path: string): readonly ReferenceCase[] {
  const { cases, about } = data as { cases?: unknown; about?: unknown };
  if (Array.isArray(cases)) return cases as ReferenceCase[];
  if (about !== undefined) return [{ id: basename(path, '.json') }];
  throw new Refusal(1, `${path} holds no list of cases`);
}
