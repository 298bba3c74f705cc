/** The largest value of a smooth function over a stretch of time, of either sign. */

export interface Extreme {
  readonly t: number;
  /** With its sign. */
  readonly value: number;
}

/** Looked for at `samples` places, then narrowed down by golden section. */
export function highest(of: (t: number) => number, until: number, samples = 240): Extreme {
  const step = until / samples;
  let at = 0;
  for (let k = 0; k <= samples; k++) if (Math.abs(of(k * step)) > Math.abs(of(at * step))) at = k;
  let [low, high] = [Math.max(at - 1, 0) * step, Math.min(at + 1, samples) * step];
  const golden = (Math.sqrt(5) - 1) / 2;
  for (let k = 0; k < 60; k++) {
    const width = golden * (high - low);
    if (Math.abs(of(high - width)) < Math.abs(of(low + width))) low = high - width;
    else high = low + width;
  }
  const t = (low + high) / 2;
  return { t, value: of(t) };
}
