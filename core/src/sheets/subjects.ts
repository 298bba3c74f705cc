/** All that a project has sheets of. */
import { alternating } from '../model/directPart';
import { ofKind, type Network } from '../model/network';
import { nameIn } from '../model/network';
import { stationOf } from '../model/stations';
import { deviceKindTitles, devicesOf } from '../protection/device';
import type { Subject } from './content';

export interface SubjectCard extends Subject {
  readonly name: string;
  /** "Relay", "Fuse", "Line package", "Arc label". */
  readonly type: string;
  readonly station: string;
}

/** Under which name a subject's sheets are kept: places of arcs may be called as a device is. */
export const subjectKey = ({ kind, id }: Subject): string => (kind === 'arcLabel' ? `arc:${id}` : id);

/** Devices, then line packages, then the busbars that arc labels are for; those of switches' line sides come with the table of arcs. */
export function subjectsOf(
  network: Network,
  arcPlaces: readonly { readonly key: string; readonly name: string }[] = [],
): SubjectCard[] {
  const ac = alternating(network);
  const station = (id: Parameters<typeof stationOf>[1]) => stationOf(ac, id)?.name ?? '';
  return [
    ...devicesOf(ac).map(({ id, name, kind, element }): SubjectCard => ({
      kind: 'device',
      id,
      name,
      type: (element.kind === 'relay' && element.device) || deviceKindTitles[kind],
      station: station(id),
    })),
    ...ofKind(network, 'linePackage').map(({ id, name, line }): SubjectCard => ({
      kind: 'linePackage',
      id,
      name,
      type: 'Line package',
      station: nameIn(network, line),
    })),
    ...arcPlaces.map(({ key, name }): SubjectCard => ({
      kind: 'arcLabel',
      id: key,
      name,
      type: 'Arc label',
      station: station(key.split(' ')[0] as Parameters<typeof stationOf>[1]),
    })),
  ];
}
