/** How functions come to their trip while the current changes: by the share of their time that passes. */
import type { Progress } from './family';

/** `timeS`: to the trip at this current, from rest; Infinity where it does not operate. The share that was gone is kept. */
export function travelled(before: Progress, timeS: number, seconds: number): Progress {
  if (before.tripped || timeS === Infinity) return before;
  const share = timeS <= 0 ? 1 : Math.min(1, before.share + seconds / timeS);
  // The last step may end a rounding error short of the trip.
  return { ...before, share, tripped: share >= 1 - 1e-12 };
}
