/** One group of benchmarks; the runner starts each in a process of its own, so that none works in another's heap. */
import { arc } from './arc';
import { checks, conditions } from './checks';
import { circuits } from './circuits';
import { demo } from './demo';
import { earth } from './earth';
import { exchange } from './exchange';
import { kernel } from './kernel';
import { reach } from './reach';
import { flows, studies, sweeps } from './studies';
import { trials } from './trials';

const groups: Readonly<Record<string, () => void | Promise<void>>> = {
  kernel,
  studies: () => studies([500, 10_000]),
  large: () => studies([100_000]),
  flows,
  sweeps,
  demo,
  checks,
  conditions,
  reach,
  trials,
  arc,
  earth,
  circuits,
  exchange,
};

await groups[process.argv[2]]();
