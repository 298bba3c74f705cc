/** Profiles along lines as a table: a row for every position, for files and reports. */
import type { EarthDetail } from './study';

export interface ProfileTable {
  readonly columns: readonly { readonly key: string; readonly head: string }[];
  readonly rows: readonly Readonly<Record<string, string | number | null>>[];
}

/** Wire currents stand in the row of the position that their span begins at. */
export function profileRows({ profiles, names }: Pick<EarthDetail, 'profiles' | 'names'>): ProfileTable {
  const wires = [...new Set(profiles.flatMap((profile) => profile.wires.map(({ name }) => name)))];
  const columns = [
    { key: 'line', head: 'line' },
    { key: 'position', head: 'position' },
    { key: 'place', head: 'place' },
    { key: 'km', head: 'km' },
    { key: 'footing', head: 'footing Ω' },
    { key: 'volts', head: 'potential V' },
    { key: 'degrees', head: 'angle °' },
    { key: 'ampere', head: 'into earth A' },
    ...wires.flatMap((wire) => [
      { key: `${wire} A`, head: `${wire} A` },
      { key: `${wire} °`, head: `${wire} °` },
    ]),
  ];
  const rows = profiles.flatMap((profile) =>
    profile.km.map((km, k) => {
      const last = profile.km.length - 1;
      const place =
        k === 0
          ? names[profile.from]
          : k === last
            ? names[profile.to]
            : profile.isTower[k]
              ? `tower ${k}`
              : `joint ${k}`;
      return {
        line: profile.name,
        position: k,
        place,
        km,
        footing: profile.footingOhm[k],
        volts: profile.volts[k],
        degrees: profile.degrees[k],
        ampere: profile.towerA[k],
        ...Object.fromEntries(
          profile.wires.flatMap(({ name, ampere, degrees }) => [
            [`${name} A`, ampere[k] ?? null],
            [`${name} °`, degrees[k] ?? null],
          ]),
        ),
      };
    }),
  );
  return { columns, rows };
}
