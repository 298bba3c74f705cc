/** Generators whose current decays while an arc burns, by stages: subtransient, transient, steady with the highest excitation. */
import { highestEmf } from '../faults/iec60909/steady';
import type { ElementOf } from '../model/element';
import { ofKind, settingsOf, withElements } from '../model/network';
import type { PowerStationUnit, SynchronousMachine } from '../model/sources';
import { Studies } from '../studies/studies';

export interface DecayStage {
  readonly atS: number;
  readonly studies: Studies;
}

type Machine = Pick<
  SynchronousMachine | PowerStationUnit['generator'],
  'xd2Percent' | 'xd1Percent' | 'xdPercent' | 'rotor' | 'excitation' | 'powerFactor'
>;

/**
 * Reactance that stands for a machine from a stage on, in percent; null where the machine has none and stays as it is. The correction factor of IEC 60909-0, 6.6.1 takes the voltage behind a
 * reactance into account; the steady one has a voltage of its own, so that it is turned back.
 */
export function reactanceAt(machine: Machine, stage: 'transient' | 'steady'): number | null {
  const { xd1Percent, xdPercent, powerFactor } = machine;
  if (stage === 'transient') return xd1Percent;
  const emf = xdPercent === null ? null : highestEmf({ ...machine, xdPercent });
  // An arc leaves a static exciter some of its voltage: its machine is carefully taken not to decay further.
  if (xdPercent === null || emf === null) return xd1Percent;
  const behind = xdPercent / 100 / emf;
  const sine = Math.sqrt(1 - powerFactor ** 2);
  // x/(1 + x·sin φ) = xd/e; where no x gives it the current is next to nothing.
  return 100 * (behind * sine < 0.98 ? behind / (1 - behind * sine) : 50 * behind);
}

/** The stages after the first, each with the network as it is then; none where no machine has what they need. */
export function decayStages(studies: Studies): DecayStage[] {
  const { transientAfterS, steadyAfterS } = settingsOf(studies.network).arc;
  const of = (stage: 'transient' | 'steady', atS: number | null): DecayStage[] => {
    if (atS === null) return [];
    const changed = [
      ...ofKind(studies.network, 'synchronousMachine').flatMap((machine): ElementOf<'synchronousMachine'>[] => {
        const xd2Percent = reactanceAt(machine, stage);
        return xd2Percent === null ? [] : [{ ...machine, xd2Percent }];
      }),
      ...ofKind(studies.network, 'powerStationUnit').flatMap((unit): ElementOf<'powerStationUnit'>[] => {
        const xd2Percent = reactanceAt(unit.generator, stage);
        return xd2Percent === null ? [] : [{ ...unit, generator: { ...unit.generator, xd2Percent } }];
      }),
    ];
    if (changed.length === 0) return [];
    const next = new Studies(withElements(studies.whole, changed), { studies, changed: changed.map(({ id }) => id) });
    return [{ atS, studies: next }];
  };
  return [...of('transient', transientAfterS), ...of('steady', steadyAfterS)].sort((p, q) => p.atS - q.atS);
}
