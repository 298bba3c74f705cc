/** A network with one line to a station that has no source, for tests of currents through earth. */
import { usualEarthSettings, usualPath, usualStretch, type EarthSettings, type ReturnPath } from '../model/earthing';
import { elementId as id } from '../model/fields';
import { Builder } from './network';

export const typed = (rOhm: number, xOhm = 0) => ({ rOhm, xOhm, electrode: null, surfaceOhmM: 0, surfaceM: 0 });

/** A source with a solidly earthed network, a line, a station without any source of its own. */
export function radialEarth(
  over: { towers?: boolean; path?: Partial<ReturnPath>; settings?: Partial<EarthSettings>; source?: number } = {},
) {
  const b = new Builder({ earthReturn: { ...usualEarthSettings, ...over.settings } });
  b.add('networkFeeder', 'N');
  b.add('bus', 'A 110', { nominalKv: 110, stationEarthing: typed(0.5) });
  b.add('bus', 'B 110', { nominalKv: 110, stationEarthing: typed(0.8, 0.1) });
  b.add('line', 'L', {
    lengthKm: 12,
    r1OhmPerKm: 0.1,
    x1OhmPerKm: 0.4,
    r0OhmPerKm: 0.3,
    x0OhmPerKm: 1.2,
    ...(over.towers && {
      returnPath: { ...usualPath, stretches: [{ ...usualStretch, tower: id('T') }], ...over.path },
    }),
  });
  b.join('N', 'A_110', 'A_110', 'L:0', 'L:1', 'B_110');
  b.elements.push({
    kind: 'tower',
    id: id('T'),
    name: 'T',
    earthResistivityOhmM: 100,
    conductors: [
      ...[1, 2, 3].map((phase) => ({
        circuit: 1,
        phase,
        xM: 2 * phase - 4,
        heightM: 18,
        rOhmPerKm: 0.1,
        gmrMm: 10,
        radiusMm: 12,
        bundle: 1,
        bundleSpacingMm: 0,
        sectionMm2: null,
        metal: 'aluminium' as const,
      })),
      {
        circuit: 0,
        phase: 0,
        xM: 0,
        heightM: 24,
        rOhmPerKm: 0.36,
        gmrMm: 7,
        radiusMm: 8,
        bundle: 1,
        bundleSpacingMm: 0,
        sectionMm2: null,
        metal: 'aluminium' as const,
      },
    ],
  });
  return b.network();
}
