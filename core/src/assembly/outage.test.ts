import { describe, expect, it } from 'vitest';
import { voltageFactor } from '../faults/iec60909/voltageFactor';
import { faultTable } from '../test/faultTable';
import { faultKinds } from '../faults/kinds';
import { iec60909Study, outageStudy } from '../faults/iec60909/study';
import { elementId, type ElementId } from '../model/fields';
import { altered, withEndOpen } from '../model/state';
import { Builder } from '../test/network';
import { everyKind } from '../test/everyKind';
import { assemble } from './assemble';
import { updated, withOutage } from './outage';
import { buildSequenceNetwork, unitInjection, type NodeValues } from './sequenceNetwork';

const options = { faultCase: 'max', voltageFactor: voltageFactor(10) } as const;

const differ = (p: NodeValues, q: NodeValues): number => {
  let [largest, off] = [1e-12, 0];
  for (let k = 0; k < p.re.length; k++) {
    largest = Math.max(largest, Math.hypot(q.re[k], q.im[k]));
    off = Math.max(off, Math.hypot(p.re[k] - q.re[k], p.im[k] - q.im[k]));
  }
  return off / largest;
};

describe('single outages', () => {
  it('an update of the factors equals a new factorisation, for every element of random networks', () => {
    let updates = 0;
    for (let seed = 1; seed <= 12; seed++)
      for (const basis of ['iec60909', 'operating'] as const) {
        const { network } = everyKind(seed);
        const assembly = assemble(network, { ...options, basis });
        for (const element of network.elements.values())
          for (const sequence of ['positive', 'negative', 'zero'] as const) {
            const whole = assembly[sequence];
            const keep = <T extends { element: ElementId }>(list: readonly T[]) =>
              list.filter((each) => each.element !== element.id);
            if (keep(whole.series).length + keep(whole.shunts).length === whole.series.length + whole.shunts.length)
              continue;
            const left = updated(whole, element.id);
            if (!left) continue;
            updates++;
            const fresh = buildSequenceNetwork({
              ...whole,
              series: keep(whole.series),
              shunts: keep(whole.shunts),
              couplings: whole.couplings.filter((c) => c.first !== element.id && c.second !== element.id),
            });
            for (const node of [0, 5, 11]) {
              if (fresh.floating[node] >= 0) continue;
              expect(
                differ(left.solve(unitInjection(node)), fresh.solve(unitInjection(node))),
                `seed ${seed}, ${sequence}, without ${element.id}`,
              ).toBeLessThan(1e-8);
            }
          }
      }
    expect(updates).toBeGreaterThan(800);
  });

  it('fault tables with an element out are those of the network without it', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const { network } = everyKind(seed);
      const study = iec60909Study(network, 'max');
      for (const id of ['LP1', 'LR1', 'T3', 'TL0', 'Z', 'G', 'U', 'Q0', 'P', 'LM', 'TA'].map(elementId)) {
        const out = outageStudy(study, id);
        const without = iec60909Study(altered(network, { out: [id] }), 'max');
        for (const kind of faultKinds) {
          const [p, q] = [faultTable(out, kind), faultTable(without, kind)];
          p.forEach((row, k) => {
            const other = q[k];
            expect(row.result === null, `${seed} ${id} ${kind} ${row.name}`).toBe(other.result === null);
            if (!row.result || !other.result) return;
            expect(Math.abs(row.result.ikA - other.result.ikA), `${seed} ${id} ${kind} ${row.name}`).toBeLessThan(
              1e-6 * (1 + other.result.ikA),
            );
            expect(Math.abs(row.result.ipA - other.result.ipA)).toBeLessThan(1e-6 * (1 + other.result.ipA));
          });
        }
      }
    }
  });

  it('peaks by branches and by R/X at the place, too, are those of the network without the element', () => {
    for (const peak of ['smallestRatio', 'ratioAtPlace'] as const)
      for (let seed = 1; seed <= 4; seed++) {
        const { network } = everyKind(seed);
        const study = iec60909Study(network, 'max', { peak });
        // The branches of the whole network are known before any is taken out.
        faultTable(study, '3ph');
        for (const id of ['LP1', 'T3', 'G', 'Q0'].map(elementId)) {
          const out = faultTable(outageStudy(study, id), '3ph');
          const without = faultTable(iec60909Study(altered(network, { out: [id] }), 'max', { peak }), '3ph');
          out.forEach(({ name, result }, k) => {
            const wanted = without[k].result;
            expect(result === null, `${peak} ${seed} ${id} ${name}`).toBe(wanted === null);
            if (result && wanted) expect(result.ipA / wanted.ipA, `${peak} ${seed} ${id} ${name}`).toBeCloseTo(1, 6);
          });
        }
      }
  });

  it('an outage that parts the network leaves what is behind it without supply', () => {
    const { network } = everyKind(3);
    const out = withOutage(assemble(network, options), elementId('TL2'));
    expect(out.supplied[out.topology.nodeOf.get('L2:0')!]).toBe(0);
    expect(out.supplied[out.topology.nodeOf.get('L1:0')!]).toBe(1);
  });
});

describe('conditions', () => {
  const pair = () => {
    const b = new Builder();
    const level = { given: 'current' as const, ikKa: 10, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 };
    b.add('bus', 'A', { nominalKv: 132 });
    b.add('bus', 'B', { nominalKv: 132 });
    b.add('networkFeeder', 'N', { max: level, min: level });
    b.join('N', 'A');
    for (const k of [1, 2]) {
      b.add('line', `L${k}`, { lengthKm: 20, r1OhmPerKm: 0.1, x1OhmPerKm: 0.4, r0OhmPerKm: 0.3, x0OhmPerKm: 1.2 });
      b.add('switch', `Q${k}`);
      b.add('currentTransformer', `CT${k}`);
      b.join(`L${k}:0`, 'A', `L${k}:1`, `CT${k}:0`, `CT${k}:1`, `Q${k}:0`, `Q${k}:1`, 'B');
    }
    b.elements.push({
      kind: 'lineCoupling',
      id: elementId('K'),
      name: 'K',
      first: elementId('L1'),
      second: elementId('L2'),
      firstFromKm: 0,
      secondFromKm: 0,
      lengthKm: 20,
      opposite: false,
      r0mOhmPerKm: 0.2,
      x0mOhmPerKm: 0.7,
    });
    return b.network();
  };
  const z0At = (network: ReturnType<typeof pair>) => {
    const table = faultTable(iec60909Study(network, 'max'), '1ph');
    return table.find((row) => row.name === 'B')!.result!.z0!;
  };
  const feeder = (() => {
    const z = (1.1 * 132) / Math.sqrt(3) / 10;
    const x = z / Math.hypot(1, 0.1);
    return { re: 0.1 * x, im: x };
  })();

  it('two coupled lines in parallel: (Z0 + Z0m)/2', () => {
    const z0 = z0At(pair());
    expect(z0.re - feeder.re).toBeCloseTo((6 + 4) / 2, 9);
    expect(z0.im - feeder.im).toBeCloseTo((24 + 14) / 2, 9);
  });
  it('one open at an end: the other alone, uncoupled', () => {
    for (const network of [
      altered(pair(), { open: [elementId('Q2')] }),
      altered(pair(), { out: [elementId('L2')] }),
      withEndOpen(pair(), elementId('L2'), 1),
    ]) {
      const z0 = z0At(network);
      expect(z0.re - feeder.re).toBeCloseTo(6, 9);
      expect(z0.im - feeder.im).toBeCloseTo(24, 9);
    }
  });
  it('one earthed at both ends: Z0 − Z0m²/Z0', () => {
    const z0 = z0At(altered(pair(), { earthed: [elementId('L2')] }));
    // (4 + 14j)² / (6 + 24j)
    const [re, im] = [16 - 196, 112];
    const size = 36 + 576;
    expect(z0.re - feeder.re).toBeCloseTo(6 - (re * 6 + im * 24) / size, 6);
    expect(z0.im - feeder.im).toBeCloseTo(24 - (im * 6 - re * 24) / size, 6);
  });
  it('the breaker nearest to the line end opens, and no other', () => {
    const opened = withEndOpen(pair(), elementId('L1'), 1);
    expect(opened.elements.get(elementId('Q1'))).toMatchObject({ closed: false });
    expect(opened.elements.get(elementId('Q2'))).toMatchObject({ closed: true });
    // At the other end there is no switch: the connection goes.
    expect(withEndOpen(pair(), elementId('L1'), 0).elements.size).toBe(pair().elements.size - 1);
  });
});
