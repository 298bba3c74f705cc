/** Random networks of three voltage levels with loops, motors and generators, for properties. */
import { neutralOf } from '../model/fields';
import fc from 'fast-check';
import type { Network } from '../model/network';
import { Builder } from './network';

export interface RandomNetwork {
  network: Network;
  buses: string[];
}

/** A 33 kV ring with chords, 11 kV radials below Dyn11 transformers, machines at some of them. */
export const networks: fc.Arbitrary<RandomNetwork> = fc
  .record({
    ring: fc.integer({ min: 2, max: 6 }),
    radials: fc.array(
      fc.record({
        at: fc.nat(5),
        km: fc.double({ min: 0.1, max: 8, noNaN: true }),
        machine: fc.constantFrom('none', 'motor', 'generator'),
        earthed: fc.boolean(),
      }),
      { maxLength: 5 },
    ),
    chords: fc.array(fc.tuple(fc.nat(5), fc.nat(5)), { maxLength: 3 }),
    ikKa: fc.double({ min: 2, max: 30, noNaN: true }),
    rOverX: fc.double({ min: 0.05, max: 0.5, noNaN: true }),
  })
  .map(({ ring, radials, chords, ikKa, rOverX }) => {
    const b = new Builder();
    const buses: string[] = [];
    const bus = (name: string, nominalKv: number) => {
      b.add('bus', name, { nominalKv });
      buses.push(name);
    };
    const level = { given: 'current' as const, ikKa, skMva: null, rOverX, x0OverX1: 1.4, r0OverX0: 0.2 };
    for (let k = 0; k < ring; k++) bus(`R${k}`, 33);
    b.add('networkFeeder', 'Q', { max: level, min: { ...level, ikKa: ikKa * 0.7 } });
    b.join('Q', 'R0');
    const line = (name: string, from: string, to: string, lengthKm: number) => {
      b.add('line', name, { lengthKm, r1OhmPerKm: 0.15, x1OhmPerKm: 0.35, r0OhmPerKm: 0.4, x0OhmPerKm: 1.2 });
      b.join(`${name}:0`, from, `${name}:1`, to);
    };
    for (let k = 0; k < ring; k++) line(`LR${k}`, `R${k}`, `R${(k + 1) % ring}`, 1 + k);
    chords.forEach(([p, q], k) => p % ring !== q % ring && line(`LC${k}`, `R${p % ring}`, `R${q % ring}`, 2.5 + k));
    radials.forEach(({ at, km, machine, earthed }, k) => {
      bus(`A${k}`, 11);
      bus(`B${k}`, 11);
      b.add('transformer', `T${k}`, {
        ratedMva: 10,
        hvKv: 33,
        lvKv: 11.5,
        ukPercent: 9,
        uRPercent: 0.6,
        vectorGroup: 'Dyn11',
        x0OverX1: 0.95,
        r0OverR1: 1,
        lvNeutral: earthed ? neutralOf('impedance', 2, 0.5) : neutralOf('isolated'),
      });
      b.join(`T${k}:0`, `R${at % ring}`, `T${k}:1`, `A${k}`);
      line(`LB${k}`, `A${k}`, `B${k}`, km);
      if (machine === 'motor') b.add('asynchronousMotor', `M${k}`, {});
      if (machine === 'generator') b.add('synchronousMachine', `M${k}`, {});
      if (machine !== 'none') b.join(`M${k}`, `B${k}`);
    });
    return { network: b.network(), buses };
  });
