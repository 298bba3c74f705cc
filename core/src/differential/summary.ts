/** All differential functions of a project in one row each, for a table. */
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { devicesOf } from '../protection/device';
import { familyOf } from '../protection/registry';
import type { Studies } from '../studies/studies';
import { within } from '../working/steps';
import { planeStudy, type PlanePoint } from './plane';

export interface DifferentialRow {
  readonly device: ElementId;
  readonly fn: ElementId;
  readonly code: string;
  readonly sides: number;
  /** What it protects, in part. */
  readonly elements: readonly ElementId[];
  readonly turned: number;
  readonly weakest: PlanePoint | null;
  readonly nearest: PlanePoint | null;
  readonly tapped: PlanePoint | null;
  /** Smallest solid fault current that every place and kind inside can fall to and still be seen, in amperes. */
  readonly seesFromA: number | null;
}

/** Yields the share that is done. */
export function* differentialRows(
  studies: Studies,
  conditions: readonly Condition[],
): Generator<number, readonly DifferentialRow[]> {
  const all = devicesOf(studies.network).flatMap((device) =>
    device.functions.flatMap((fn) => (fn.family === 'differential' && fn.enabled ? [{ device, fn }] : [])),
  );
  const rows: DifferentialRow[] = [];
  for (const [k, { device, fn }] of all.entries()) {
    const study = yield* within(planeStudy(studies, conditions, device, fn), k / all.length, 1 / all.length);
    const { region, points, weakest, nearest, tapped } = study;
    const { elements, turned } = region;
    const least = points.flatMap(({ leastA }) => leastA ?? []);
    rows.push({
      device: device.id,
      fn: fn.id,
      code: familyOf(fn).code(fn),
      sides: fn.sides.length,
      elements: elements.filter((id) => protectedKinds.has(studies.network.elements.get(id)?.kind ?? '')),
      turned: turned.length,
      weakest,
      nearest,
      tapped,
      seesFromA: least.length > 0 ? Math.max(...least) : null,
    });
  }
  return rows;
}

const protectedKinds = new Set([
  'line',
  'transformer',
  'threeWindingTransformer',
  'bus',
  'synchronousMachine',
  'asynchronousMotor',
]);
