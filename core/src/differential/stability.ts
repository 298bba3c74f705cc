/**
 * What a differential function makes of the largest through-fault when current transformers saturate: their secondary currents step by step with full offset, the part of rated
 * frequency of every half period, and the point that these make in the plane. The largest current that it bears is found by making the fault larger until it trips.
 */
import { angle, magnitude, scale, type Complex } from '../linear/complex';
import type { ElementId } from '../model/fields';
import { find, settingsOf, type Network } from '../model/network';
import type { State } from '../model/state';
import { solidFault, type FaultKind } from '../faults/kinds';
import type { Place } from '../faults/solution/solve';
import type { Device } from '../protection/device';
import { inputOf } from '../protection/device';
import type { DeviceSeen, SeenCurrents, ThreePhasors } from '../protection/family';
import { characteristicOf, nearestSides, pointsOf } from '../protection/differential/measured';
import { thresholdAt } from '../protection/differential/characteristic';
import type { DifferentialFunction } from '../protection/differential/schema';
import { seenUnder } from '../protection/seen';
import { fundamental, offsetCurrent, saturated } from '../ratings/ctSaturation';
import type { Studies } from '../studies/studies';
import { coreOf, remanenceOf, type KnownCore } from './core';

export interface Trace {
  readonly timeS: number;
  /** Nearest element to its trip. */
  readonly operating: number;
  readonly restraining: number;
  readonly threshold: number;
}

export interface Stability {
  readonly place: Place;
  readonly kind: FaultKind;
  readonly faultA: number;
  /** Of the primary current there, in seconds. */
  readonly tpS: number;
  /** Point after point while the cores saturate. */
  readonly track: readonly Trace[];
  /** Largest operating over threshold on the way. */
  readonly multiple: number;
  readonly holds: boolean;
  /** When the first core saturates, in seconds; null: none does. */
  readonly saturationS: number | null;
  /** Largest through-fault that is borne, in amperes; null where even a hundredth is not, Infinity up to a hundred times. */
  readonly bearsA: number | null;
  /** Current transformers whose data are missing: taken as ideal. */
  readonly unknown: readonly ElementId[];
  readonly assumed: readonly string[];
}

/** Looked at for so long, in seconds. */
const watchedS = 0.1;
const stepS = 1e-4;

interface Wave {
  readonly samples: Float64Array;
  readonly saturationS: number | null;
}

interface Input {
  readonly id: string;
  readonly core: KnownCore | null;
  readonly remanenceWb: number;
  readonly phases: ThreePhasors;
}

/** Null where the fault cannot be computed or a current is not known. */
export function stabilityAt(
  studies: Studies,
  state: State,
  device: Device,
  fn: DifferentialFunction,
  place: Place,
  kind: FaultKind,
): Stability | null {
  if (fn.scheme === 'highImpedance') return null;
  const { network } = studies;
  const study = studies.iec60909(state);
  const [seen] = seenUnder(study, place, [solidFault(kind)], [device]);
  const own = seen?.devices[0];
  if (!seen || !own) return null;
  const { frequencyHz } = settingsOf(network);
  const { z1, ikA } = seen.fault;
  const tpS = z1.re > 0 ? z1.im / (2 * Math.PI * frequencyHz * z1.re) : 0.1;
  const inputs = inputsIn(network, device, fn, own, frequencyHz);
  const unknown = [...new Set(inputs.flatMap(({ id, core }) => (core ? [] : [throughOf(device, id)])))];
  const assumed = [...new Set(inputs.flatMap(({ core }) => core?.assumed ?? []))];
  // Cores of one kind that saturate alike cancel: what is left in one of them alone is the worst.
  const remanent = inputs.filter(({ remanenceWb }) => remanenceWb > 0);
  const variants = [
    inputs.map((each) => ({ ...each, remanenceWb: 0 })),
    ...remanent.map((one) => inputs.map((each) => (each === one ? each : { ...each, remanenceWb: 0 }))),
  ];
  const play = (times: number) =>
    variants
      .map((each) => track(device, fn, own, each, { times, tpS, frequencyHz }))
      .reduce((p, q) => (q.multiple > p.multiple ? q : p));
  const first = play(1);
  return {
    place,
    kind,
    faultA: ikA,
    tpS,
    ...first,
    holds: first.multiple <= 1,
    bearsA: largestBorne((times) => play(times).multiple <= 1, ikA),
    unknown,
    assumed,
  };
}

const throughOf = (device: Device, id: string): ElementId => device.inputs.find((input) => input.id === id)!.through;

function inputsIn(
  network: Network,
  device: Device,
  fn: DifferentialFunction,
  seen: DeviceSeen,
  frequencyHz: number,
): Input[] {
  return device.inputs
    .filter(({ id }) => fn.sides.some(({ input }) => input === id))
    .flatMap(({ id, through, star }): Input[] => {
      const phases = seen[id]?.vectors?.currents;
      if (!phases) return [];
      const ct = star ? null : find(network, 'currentTransformer', through);
      const core = ct ? coreOf(ct, frequencyHz) : null;
      return [{ id, core, remanenceWb: ct && core ? remanenceOf(ct, core) : 0, phases }];
    });
}

interface Played {
  readonly track: readonly Trace[];
  readonly multiple: number;
  readonly saturationS: number | null;
}

function track(
  device: Device,
  fn: DifferentialFunction,
  seen: DeviceSeen,
  inputs: readonly Input[],
  { times, tpS, frequencyHz }: { readonly times: number; readonly tpS: number; readonly frequencyHz: number },
): Played {
  const periodS = 1 / frequencyHz;
  const waves = new Map(
    inputs.map((input) => [
      input.id,
      input.phases.map((phasor) => wave(input, scale(phasor, times), tpS, frequencyHz)),
    ]),
  );
  const measuring = inputOf(device, fn.input).id;
  const points: Trace[] = [];
  let multiple = 0;
  for (let from = 0; from + periodS <= watchedS + 1e-9; from += periodS / 2) {
    const shown = Object.fromEntries(
      Object.entries(seen).map(([id, each]): [string, SeenCurrents] => {
        const own = waves.get(id);
        if (!own || !each.vectors) return [id, each];
        const currents = own.map(({ samples }) =>
          fundamental(samples, stepS, frequencyHz, from),
        ) as unknown as ThreePhasors;
        return [id, { ...each, phaseA: Math.max(...currents.map(magnitude)), vectors: { ...each.vectors, currents } }];
      }),
    );
    const sides = nearestSides(fn, { ...shown[measuring], inputs: shown });
    if (!sides) break;
    const found = pointsOf(fn, sides).filter(({ element }) => element === 'phase');
    if (found.length === 0) break;
    const worst = found.reduce((p, q) => (q.operating / q.threshold > p.operating / p.threshold ? q : p));
    const threshold = thresholdAt(characteristicOf(fn), worst.restraining);
    points.push({ timeS: from + periodS, operating: worst.operating, restraining: worst.restraining, threshold });
    multiple = Math.max(multiple, worst.operating / threshold);
  }
  const saturations = [...waves.values()].flat().flatMap(({ saturationS }) => saturationS ?? []);
  return { track: points, multiple, saturationS: saturations.length > 0 ? Math.min(...saturations) : null };
}

/** Secondary current of one phase, as primary amperes: with full offset of whichever sign its angle gives. */
function wave({ core, remanenceWb }: Input, phasor: Complex, tpS: number, frequencyHz: number): Wave {
  const size = magnitude(phasor);
  const count = Math.ceil(watchedS / stepS) + 1;
  if (size < 1e-6) return { samples: new Float64Array(count), saturationS: null };
  // −√2·I·cos(ωt + θ) of the formula is the current of this angle when θ = arg + π.
  const inceptionRad = angle(phasor) + Math.PI;
  const current = offsetCurrent({ symmetricalA: size, tpS, inceptionRad, frequencyHz });
  if (!core) {
    const samples = Float64Array.from({ length: count }, (_, k) => current(k * stepS));
    return { samples, saturationS: null };
  }
  const sign = Math.cos(inceptionRad) >= 0 ? 1 : -1;
  const found = saturated(core, current, watchedS, { remanenceWb: sign * remanenceWb, stepS });
  return { samples: found.secondaryA.map((each) => each * core.ratio), saturationS: found.saturationS };
}

function largestBorne(bears: (times: number) => boolean, faultA: number): number | null {
  let [low, high] = [0.01, 1];
  if (!bears(low)) return null;
  while (high < 100 && bears(high)) [low, high] = [high, 2 * high];
  if (high >= 100) return Infinity;
  while (high - low > 0.01 * high) {
    const middle = (low + high) / 2;
    if (bears(middle)) low = middle;
    else high = middle;
  }
  return low * faultA;
}
