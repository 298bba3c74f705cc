/** Zones and planes of a device, as data to be drawn. */
import { farEnds } from '../protection/zone';
import { toSecondary } from '../protection/distance/loops';
import { characteristicOf } from '../protection/differential/measured';
import { inputOf, type Device } from '../protection/device';
import { familyOf } from '../protection/registry';
import { planeStudy } from '../differential/plane';
import { placeIn } from '../faults/names';
import { zero } from '../linear/complex';
import { lineOhm } from '../reach/circuits';
import { storedRegions } from '../reach/region';
import type { Studies } from '../studies/studies';
import { finished } from '../working/steps';
import type { SheetPlane, SheetZones } from './content';

export function sheetZones(studies: Studies, device: Device): SheetZones[] {
  const { voltageAt } = device;
  if (!voltageAt) return [];
  const line = farEnds(studies.max, device)
    .flatMap(({ element }) => lineOhm(studies.max.assembly, element) ?? [])
    .at(0);
  return device.functions.flatMap((fn) => {
    const input = inputOf(device, fn.input);
    if (fn.family !== 'distance' || !fn.enabled || !input) return [];
    const secondary = toSecondary(input.rating, { primaryKv: voltageAt.ratedKv, secondaryV: voltageAt.secondaryV });
    return (['phase', 'earth'] as const).map((loops): SheetZones => ({
      code: familyOf(fn).code(fn),
      loops,
      regions: storedRegions(fn, secondary, loops === 'earth').map(({ zone, outline }) => ({ zone, outline })),
      line: line ? [zero, line] : [],
    }));
  });
}

/** Of each place and kind the condition in which its fault lies nearest to the line between operating and not. */
export function sheetPlanes(studies: Studies, device: Device): SheetPlane[] {
  return device.functions.flatMap((fn) => {
    if (fn.family !== 'differential' || !fn.enabled || fn.scheme === 'highImpedance') return [];
    const { points } = finished(planeStudy(studies, studies.conditions, device, fn));
    const nearest = new Map<string, { readonly of: (typeof points)[number]; readonly distance: number }>();
    for (const point of points) {
      if (point.faultA <= 1) continue;
      const key = JSON.stringify([point.where, point.place, point.kind]);
      const distance = Math.abs(Math.log(Math.max(point.multiple, 1e-6)));
      const known = nearest.get(key);
      if (!known || distance < known.distance) nearest.set(key, { of: point, distance });
    }
    return [
      {
        code: familyOf(fn).code(fn),
        limits: characteristicOf(fn),
        unrestrained: fn.unrestrained,
        points: [...nearest.values()].flatMap(({ of }) => {
          const decisive = of.points
            .filter(({ element }) => element === 'phase')
            .reduce<(typeof of.points)[number] | null>(
              (p, q) => (p && p.operating / p.threshold >= q.operating / q.threshold ? p : q),
              null,
            );
          return decisive
            ? [
                {
                  where: of.where,
                  place: placeIn(studies.network, of.place),
                  kind: of.kind,
                  operating: decisive.operating,
                  restraining: decisive.restraining,
                  trips: of.trips,
                },
              ]
            : [];
        }),
      },
    ];
  });
}
