import { describe, expect, it } from 'vitest';
import { magnitude, subtract } from '../../linear/complex';
import { altered, withEndOpen } from '../../model/state';
import { ofKind, type Network } from '../../model/network';
import { terminalKey } from '../../model/topology';
import { demoNetwork } from '../../test/demo';
import { everyKind } from '../../test/everyKind';
import {
  faultAtPlace,
  faultFlows,
  iec60909Study,
  simultaneousFaults,
  solvedFlows,
  terminalPlace,
} from '../iec60909/study';
import { faultKinds, solidFault } from '../kinds';
import { sequences } from '../solution/solve';

/** All three poles of a breaker at the end of a branch open, as ports of the factored networks, against the network assembled with that end open. */
function compare(network: Network, tolerance = 1) {
  const study = iec60909Study(network, 'max', { charging: 'never' });
  const buses = ofKind(network, 'bus');
  let compared = 0;
  for (const branch of [...ofKind(network, 'line'), ...ofKind(network, 'seriesReactor')])
    for (const terminal of [0, 1]) {
      const opened = iec60909Study(withEndOpen(network, branch.id, terminal), 'max', { charging: 'never' });
      for (const [k, bus] of buses.entries()) {
        const kind = faultKinds[(k + terminal) % faultKinds.length];
        const place = terminalPlace(bus.id);
        // Inside a power-station unit single faults take corrections of their own.
        if (study.units().has(study.assembly.topology.nodeAt(bus.id, 0)!)) continue;
        const anew = faultAtPlace(opened, place, solidFault(kind));
        const updated = simultaneousFaults(study, [
          { type: 'shunt', place, ...solidFault(kind) },
          { type: 'open', element: branch.id, terminal, phases: [0, 1, 2] },
        ]);
        if (!anew.ok || !updated.ok) continue;
        const about = `${kind} at ${bus.name}, ${branch.name} open at ${terminal + 1}`;
        const size = Math.max(anew.fault.ikA, 1);
        const [flows, ported] = [faultFlows(anew.fault), solvedFlows(study, updated.solution)];
        for (const sequence of sequences) {
          const [p, q] = [updated.results[0].current[sequence], anew.fault.components[sequence]];
          expect(magnitude(subtract(p, q)) / size, `${about}: ${sequence}`).toBeLessThan(1e-7 * tolerance);
          const through = ported.get(terminalKey(branch.id, terminal))?.[sequence] ?? { re: 0, im: 0 };
          expect(magnitude(through) / size, `${about}: through the open end`).toBeLessThan(1e-7 * tolerance);
          for (const [key, flow] of flows) {
            if (key.startsWith(`${branch.id}:`)) continue;
            const other = ported.get(key)?.[sequence] ?? { re: 0, im: 0 };
            // Parts that the open end cuts off take a phase position of their own when assembled anew.
            expect(Math.abs(magnitude(other) - magnitude(flow[sequence])) / size, `${about}: ${key}`).toBeLessThan(
              1e-6 * tolerance,
            );
          }
        }
        compared++;
      }
    }
  return compared;
}

const withoutConverters = (network: Network) =>
  altered(network, { out: ofKind(network, 'converterSource').map(({ id }) => id) });

describe('opened breakers', () => {
  it('as ports of the networks at hand are the network assembled with them open', () => {
    let compared = compare(withoutConverters(demoNetwork()));
    for (let seed = 1; seed <= 5; seed++) compared += compare(withoutConverters(everyKind(seed).network));
    expect(compared).toBeGreaterThan(600);
  });

  it('nearly so with converters, whose currents are turned by the network with the end closed', () => {
    expect(compare(demoNetwork(), 1e4)).toBeGreaterThan(100);
  });
});
