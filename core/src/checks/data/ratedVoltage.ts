/** Rated voltages of equipment against the level of the bus that it stands on. */
import { nameOf, type Element } from '../../model/element';
import { ofKind } from '../../model/network';
import type { Problem } from '../../model/problem';
import { dataRule, wholeNetwork } from '../check';

/** Rated and nominal voltage may differ so far: 0.42 kV at 0.4 kV, 10.5 kV at 11 kV, 34.5 kV at 33 kV. */
const voltageTolerance = 0.13;

export const ratedVoltageRule = dataRule({
  id: 'data.ratedVoltage',
  title: 'Rated voltage',
  advice: { 'voltage.rated': 'Check the rated voltage on the nameplate and the level of the bus.' },
  subjects: wholeNetwork,
  faults: ({ studies, network }) => {
    const { topology } = studies.max.assembly;
    const problems: Problem[] = [];
    const compare = (element: Element, terminal: number, ratedKv: number, field: string) => {
      const node = topology.nodeAt(element.id, terminal);
      const [bus] = node === undefined ? [] : topology.nodes[node].buses;
      if (!bus || Math.abs(ratedKv - bus.nominalKv) <= voltageTolerance * bus.nominalKv) return;
      problems.push({
        severity: 'warning',
        code: 'voltage.rated',
        message: `${nameOf(element)}: rated voltage ${ratedKv} kV does not match ${bus.name} (${bus.nominalKv} kV)`,
        element: element.id,
        field,
      });
    };
    for (const each of ofKind(network, 'transformer')) {
      compare(each, 0, each.hvKv, 'hvKv');
      compare(each, 1, each.lvKv, 'lvKv');
    }
    for (const kind of [
      'synchronousMachine',
      'asynchronousMotor',
      'staticDrive',
      'converterSource',
      'doublyFedMachine',
      'shunt',
      'earthingTransformer',
      'seriesReactor',
    ] as const)
      for (const each of ofKind(network, kind)) compare(each, 0, each.ratedKv, 'ratedKv');
    // Switchgear and boards may stand in any network up to their rated voltage.
    for (const each of [...ofKind(network, 'switch'), ...ofKind(network, 'bus')]) {
      const node = topology.nodeAt(each.id, 0);
      const level = node === undefined ? null : topology.nodes[node].nominalKv;
      if (each.ratedKv !== null && level !== null && each.ratedKv < level)
        problems.push({
          severity: 'error',
          code: 'voltage.rated',
          message: `${each.name}: rated voltage ${each.ratedKv} kV is below the network's ${level} kV`,
          element: each.id,
          field: 'ratedKv',
        });
    }
    for (const each of ofKind(network, 'voltageTransformer')) compare(each, 0, each.primaryKv, 'primaryKv');
    return problems;
  },
});
