/** Worked circuits of `reference/study/circuits.json` as networks: what the arithmetic works out by itself, the engine finds in elements. */
import reference from '../../reference/study/circuits.json' with { type: 'json' };
import {
  usualConsumer,
  usualInstallation,
  usualLaying,
  type EarthingSystem,
  type LayingMethod,
} from '../model/circuit';
import { elementId, neutralOf } from '../model/fields';
import type { Network } from '../model/network';
import { familyNamed } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { Builder } from './network';

interface Cable {
  readonly material: 'Cu' | 'Al';
  readonly insulation: 'PVC' | 'XLPE';
  readonly sectionMm2: number;
  readonly peSectionMm2: number;
  readonly parallel: number;
  readonly lengthM: number;
  readonly method: LayingMethod;
  readonly ambientC: number;
  readonly circuits: number;
  readonly ambientFactor: number;
  readonly groupingFactor: number;
  readonly soilFactor: number;
  readonly rOhmPerKm20: number;
  readonly xOhmPerKm: number;
  readonly rPeOhmPerKm20: number;
  readonly xPeOhmPerKm: number;
  readonly minPhaseC: number;
  readonly minPeC: number;
  readonly currentA?: number;
  readonly cosPhi?: number;
}

export interface CircuitReference {
  readonly id: string;
  readonly inputs: {
    readonly unV: number;
    readonly system: EarthingSystem;
    readonly phases: 1 | 3;
    readonly circuit: 'final' | 'distribution';
    readonly sockets: boolean;
    readonly dropLimitPercent: number;
    readonly supply: Readonly<Record<string, number>> & { readonly kind: 'board' | 'transformer' };
    readonly upstream: readonly Cable[];
    readonly cable: Cable;
    readonly load: Readonly<Record<string, number>> & { readonly kind: string };
    readonly device: Readonly<Record<string, number | string>> & { readonly kind: string; readonly ratedA: number };
    readonly raOhm?: number;
    readonly rbOhm?: number;
  };
  readonly expected: Readonly<Record<string, number | boolean | string | null | readonly string[]>>;
}

export const circuitReferences = reference.cases as unknown as readonly CircuitReference[];

const line = (cable: Cable) => ({
  type: 'cable' as const,
  lengthKm: cable.lengthM / 1000,
  circuits: cable.parallel,
  r1OhmPerKm: cable.rOhmPerKm20,
  x1OhmPerKm: cable.xOhmPerKm,
  r0OhmPerKm: cable.rOhmPerKm20 + 3 * cable.rPeOhmPerKm20,
  x0OhmPerKm: cable.xOhmPerKm + 3 * cable.xPeOhmPerKm,
  sectionMm2: cable.sectionMm2,
  metal: cable.material === 'Cu' ? ('copper' as const) : ('aluminium' as const),
  insulation: cable.insulation === 'PVC' ? ('pvc' as const) : ('xlpe' as const),
  endTemperatureC: cable.minPhaseC,
  laying: {
    ...usualLaying,
    method: cable.method,
    ambientC: cable.ambientC,
    together: Math.max(1, cable.circuits - cable.parallel + 1),
    bunching:
      cable.method === 'E' ? ('tray' as const) : cable.method === 'C' ? ('layer' as const) : ('bunched' as const),
    soil: cable.soilFactor === 1 ? 2.5 : 1,
    peMm2: cable.peSectionMm2,
  },
});

function functionsOf({ device }: CircuitReference['inputs']): DeviceFunction[] {
  const id = elementId('own');
  const rcd: DeviceFunction[] =
    typeof device.residualA === 'number'
      ? [
          {
            ...familyNamed('residual').fresh(elementId('rcd'), String(device.residualType), null),
            ratedResidualA: device.residualA,
          },
        ]
      : [];
  if (device.kind === 'gG') return [{ ...familyNamed('fuse').fresh(id, 'gG', null), linkA: device.ratedA }, ...rcd];
  if (device.kind === 'mcb')
    return [
      {
        ...familyNamed('miniature').fresh(id, String(device.type), null),
        ratedA: device.ratedA,
        limitA2s: (device.letThroughA2s as number | undefined) ?? null,
      },
      ...rcd,
    ];
  const irA = device.irA as number;
  return [
    {
      ...familyNamed('release').fresh(id, 'release', null),
      ratedA: device.ratedA,
      parts: [
        'longTime',
        ...(device.isdA ? (['shortTime'] as const) : []),
        ...(device.iiA ? (['instantaneous'] as const) : []),
      ],
      ir: irA / device.ratedA,
      trS: device.longS as number,
      trTolerancePercent: 20,
      ...(device.isdA
        ? { isd: (device.isdA as number) / irA, isdTolerancePercent: 100 * (device.shortTolerance as number) }
        : {}),
      ...(device.iiA
        ? { ii: (device.iiA as number) / device.ratedA, iiTolerancePercent: 100 * (device.iiTolerance as number) }
        : {}),
      clearingS: 0.03,
      limitA2s: (device.letThroughA2s as number | undefined) ?? null,
    },
    ...rcd,
  ];
}

/** Supply, a board `B0`, further boards behind cables that lie before, the last board's circuit `Q`–`W`–`L` (a motor `L` where `withMotor`), or a board `E` with the load behind it. */
export function circuitNetwork({ inputs }: CircuitReference, withMotor = false): Network {
  const { unV, supply, upstream, cable, load, device, system, phases } = inputs;
  const kv = unV / 1000;
  const b = new Builder({ minimumFactors: 'asMaximum' });
  const installation = {
    ...usualInstallation,
    system,
    dropPercent: inputs.dropLimitPercent,
    ...(inputs.raOhm === undefined ? {} : { raOhm: inputs.raOhm }),
    ...(inputs.rbOhm === undefined ? {} : { rbOhm: inputs.rbOhm }),
  };
  const board = (name: string) => b.add('bus', name, { nominalKv: kv, installation });
  board('B0');
  if (supply.kind === 'board') {
    const level = (ikKa: number, rOverX: number) => ({
      ...{ given: 'current' as const, skMva: null, ikKa, rOverX },
      ...{ x0OverX1: supply.x0OverX1, r0OverX0: (supply.r0OverR1 * rOverX) / supply.x0OverX1 },
    });
    b.add('networkFeeder', 'N', {
      max: level(supply.ik3MaxKa, supply.rOverXMax),
      min: level(supply.ik3MinKa, supply.rOverXMin),
    });
    b.join('N', 'B0');
  } else {
    const level = (skMva: number) => ({
      ...{ given: 'power' as const, skMva, ikKa: null, rOverX: supply.rOverXHv, x0OverX1: 1, r0OverX0: 0.1 },
    });
    b.add('networkFeeder', 'N', { max: level(supply.skMaxMva), min: level(supply.skMinMva) });
    b.add('bus', 'H', { nominalKv: 10 });
    b.add('transformer', 'T', {
      ratedMva: supply.ratedKva / 1000,
      hvKv: 10,
      lvKv: kv,
      ukPercent: supply.ukPercent,
      uRPercent: supply.uRPercent,
      vectorGroup: 'Dyn11',
      x0OverX1: supply.x0OverXT,
      r0OverR1: supply.r0OverRT,
      lvNeutral: neutralOf('solid'),
    });
    b.join('N', 'H', 'H', 'T:0', 'T:1', 'B0');
  }
  upstream.forEach((each, k) => {
    b.add('switch', `Q${k + 1}`, { openingTimeS: null });
    b.add('line', `W${k + 1}`, line(each));
    board(`B${k + 1}`);
    b.join(`B${k}`, `Q${k + 1}:0`, `Q${k + 1}:1`, `W${k + 1}:0`, `W${k + 1}:1`, `B${k + 1}`);
  });
  const last = `B${upstream.length}`;
  b.add('switch', 'Q', {
    type: device.kind === 'gG' ? 'fuse' : 'breaker',
    ratedA: device.ratedA,
    breakingKa: device.breakingKa as number,
    openingTimeS: null,
    functions: functionsOf(inputs),
  });
  b.add('line', 'W', line(cable));
  const circuit = {
    ...usualConsumer,
    phases: phases === 1 ? ('L1' as const) : ('three' as const),
    use: inputs.sockets ? ('sockets' as const) : ('fixed' as const),
  };
  const u0 = unV / Math.sqrt(3);
  const va =
    load.kind === 'motor'
      ? (1000 * load.mechanicalKw) / load.efficiency / load.cosPhi
      : load.kind === 'kw'
        ? (1000 * load.kw) / load.cosPhi
        : load.kind === 'kva'
          ? 1000 * load.kva
          : (phases === 1 ? 1 : 3) * u0 * (load.ampere ?? load.a ?? load.currentA);
  if (load.kind === 'motor' && withMotor)
    b.add('asynchronousMotor', 'L', {
      ratedMw: load.mechanicalKw / 1000,
      ratedKv: kv,
      efficiencyPercent: 100 * load.efficiency,
      powerFactor: load.cosPhi,
      circuit,
    });
  else b.add('load', 'L', { ratedMva: va / 1e6, powerFactor: load.cosPhi, circuit });
  if (inputs.circuit === 'distribution') {
    board('E');
    b.join(last, 'Q:0', 'Q:1', 'W:0', 'W:1', 'E', 'E', 'L');
  } else b.join(last, 'Q:0', 'Q:1', 'W:0', 'W:1', 'L');
  // A motor's overload relay beside a fuse stands in a contactor.
  if (typeof device.overloadRelayA === 'number') {
    b.add('switch', 'K', {
      type: 'contactor',
      openingTimeS: 0.02,
      functions: [{ ...familyNamed('overload').fresh(elementId('ol'), '49', null), settingA: device.overloadRelayA }],
    });
    const k = b.elements.findIndex(
      (each) => each.kind === 'connection' && each.from.element === 'Q' && each.to.element === 'W',
    );
    b.elements.splice(k, 1);
    b.join('Q:1', 'K:0', 'K:1', 'W:0');
  }
  return b.network();
}
