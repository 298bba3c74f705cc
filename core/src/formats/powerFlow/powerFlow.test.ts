/** Solved cases: the 14-bus case against its printed solution, any network out and in again with the same load flow, and what is wrong told by its place. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { textOf } from '../../test/demo';
import { boxOf, isDrawn, overlaps } from '../../drawing/shape/shapes';
import { voltageFactor } from '../../faults/iec60909/voltageFactor';
import { flowFigures, type FlowFigures } from '../../flow/figures';
import { loadFlow } from '../../flow/loadFlow';
import { add, divide, multiply, polar, scale, subtract, type Complex } from '../../linear/complex';
import { applyChanges } from '../../model/changes';
import { blankElements } from '../../model/defaults';
import { elementId } from '../../model/fields';
import { networkOf, type Network } from '../../model/network';
import { idle } from '../../model/sources';
import { loadedMesh, mesh } from '../../test/meshNetwork';
import { Builder } from '../../test/network';
import { networks } from '../../test/random';
import { runs } from '../../test/runs';
import type { Into } from '../format';
import { sourceOf } from '../open';
import { finished, reportOn } from '../registry';
import { readCase } from './read';
import { caseOf } from './write';

const caseText = textOf('core/reference/powerFlow/ieee-14-bus.cdf');

const into = (network: Network): Into => {
  let made = 0;
  return { network, newId: () => elementId(`n${++made}`) };
};

async function imported(text: string, network: Network = networkOf(blankElements())): Promise<Network> {
  const report = await reportOn(sourceOf('case', text), into(network));
  expect(report!.problems).toEqual([]);
  const applied = applyChanges(network, report!.batch);
  if (!applied.ok) throw new Error(applied.problems[0].message);
  return applied.network;
}

const flowOf = (network: Network): FlowFigures => flowFigures(loadFlow(network, { voltageFactor: voltageFactor(10) }));

describe('the 14-bus case', () => {
  const printed = finished(readCase(caseText));

  it('solves to the solution that is printed in it', async () => {
    const figures = flowOf(await imported(caseText));
    expect(figures.converged).toBe(true);
    const slack = figures.buses.find(({ name }) => name === printed.buses[0].name)!;
    for (const bus of printed.buses) {
      const found = figures.buses.find(({ name }) => name === bus.name)!;
      // What is printed of buses 4 and 5 does not solve the printed data to its last digit: 1.019 for 1.0177.
      expect(Math.abs(found.percent / 100 - bus.voltage), bus.name).toBeLessThan(0.0015);
      expect(Math.abs(found.angleDeg - slack.angleDeg - bus.angle), bus.name).toBeLessThan(0.03);
    }
    const power = (name: string) => figures.sources.find((source) => source.name === name)!;
    expect(power('Network at Bus 1 HV').mw).toBeCloseTo(232.4, 1);
    for (const bus of printed.buses.filter(({ type }) => type === 2))
      expect(Math.abs(power(`Machine at ${bus.name}`).mvar - bus.generationMvar), bus.name).toBeLessThan(2);
  });

  it('satisfies the power balance of the cards themselves, by an admittance matrix made of them', async () => {
    const figures = flowOf(await imported(caseText));
    const volts = printed.buses.map(({ name }) => {
      const { percent, angleDeg } = figures.buses.find((bus) => bus.name === name)!;
      return polar(percent / 100, (angleDeg * Math.PI) / 180);
    });
    const given = (name: string) => figures.sources.find((source) => source.name.endsWith(` at ${name}`));
    printed.buses.forEach((bus, k) => {
      let current: Complex = multiply(volts[k], { re: bus.shuntG, im: bus.shuntB });
      for (const branch of printed.branches) {
        const [f, t] = [branch.tapBus - 1, branch.zBus - 1];
        if (k !== f && k !== t) continue;
        const y = divide({ re: 1, im: 0 }, { re: branch.r, im: branch.x });
        const ratio = branch.ratio || 1;
        const at = k === f ? scale(volts[f], 1 / ratio) : volts[t];
        const far = k === f ? volts[t] : scale(volts[f], 1 / ratio);
        const series = multiply(y, subtract(at, far));
        current = add(current, k === f ? scale(series, 1 / ratio) : series);
        current = add(current, multiply(volts[k], { re: 0, im: branch.b / 2 }));
      }
      const s = multiply(volts[k], { re: current.re, im: -current.im });
      const source = given(bus.name);
      expect(100 * s.re, `${bus.name} P`).toBeCloseTo((source?.mw ?? 0) - bus.loadMw, 3);
      expect(100 * s.im, `${bus.name} Q`).toBeCloseTo((source?.mvar ?? 0) - bus.loadMvar, 3);
    });
  });

  it('tells what it assumes once for all places, and lays itself out with nothing on top of anything', async () => {
    const report = await reportOn(sourceOf('case', caseText), into(networkOf(blankElements())));
    expect(report!.assumed!.find(({ message }) => message.includes('132 kV'))).toMatchObject({ count: 14 });
    expect(report!.left!.map(({ message }) => message)).toContainEqual(expect.stringContaining('loss zones'));
    const boxes = report!.batch.flatMap((change) =>
      change.op === 'add' && isDrawn(change.element) ? [boxOf(change.element)] : [],
    );
    expect(boxes.length).toBeGreaterThan(40);
    boxes.forEach((box, k) => expect(boxes.slice(k + 1).some((other) => overlaps(box, other))).toBe(false));
  });
});

describe('any network', () => {
  const sameFlow = (before: FlowFigures, after: FlowFigures) => {
    const slack = (figures: FlowFigures) => figures.buses.find(({ name }) => name === before.buses[0].name)!.angleDeg;
    for (const bus of before.buses.filter(({ kv }) => kv > 0)) {
      const found = after.buses.find(({ name }) => name.toLowerCase() === bus.name.toLowerCase())!;
      expect(found.percent, bus.name).toBeCloseTo(bus.percent, 1);
      // Clock numbers are not told.
      const turned = found.angleDeg - slack(after) - bus.angleDeg + slack(before);
      expect(turned - 30 * Math.round(turned / 30), bus.name).toBeCloseTo(0, 1);
    }
    expect(after.balance.lossMw).toBeCloseTo(before.balance.lossMw, 1);
  };

  it('written and read again has the same load flow, within the digits of the columns', async () => {
    await fc.assert(
      fc.asyncProperty(networks, async ({ network }) => {
        const before = flowOf(network);
        fc.pre(before.converged);
        sameFlow(before, flowOf(await imported(caseOf(network, 'Round').content as string)));
      }),
      { seed: 21, numRuns: runs(30) },
    );
  });
  it('comes through with loads, taps, shifts, reactors, shunts and sources of all kinds', async () => {
    const b = new Builder();
    const level = { given: 'current', ikKa: 12, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 } as const;
    b.add('networkFeeder', 'Q', { max: level, min: level, voltagePercent: 103 });
    for (const [name, nominalKv] of [
      ['A', 132],
      ['B', 33],
      ['C', 33],
      ['D', 132],
    ] as const)
      b.add('bus', name, { nominalKv });
    b.add('transformer', 'T', {
      ratedMva: 60,
      hvKv: 132,
      lvKv: 34.5,
      ukPercent: 12,
      uRPercent: 0.5,
      vectorGroup: 'YNd11',
      shiftDegrees: 0,
      tap: { side: 'hv', position: -3, steps: 8, stepPercent: 1.5, holds: 'nothing', targetPercent: 100 },
    });
    b.add('transformer', 'P', {
      ratedMva: 60,
      hvKv: 132,
      lvKv: 132,
      ukPercent: 8,
      uRPercent: 0.3,
      vectorGroup: 'YNyn0',
      shiftDegrees: 7,
      tap: { side: 'lv', position: 2, steps: 8, stepPercent: 1.5, holds: 'nothing', targetPercent: 100 },
    });
    b.add('line', 'L', { lengthKm: 12, circuits: 2, r1OhmPerKm: 0.1, x1OhmPerKm: 0.35, b1UsPerKm: 3, ratedA: 400 });
    b.add('line', 'M', { lengthKm: 30, r1OhmPerKm: 0.1, x1OhmPerKm: 0.4, b1UsPerKm: 3 });
    b.add('load', 'X', { ratedMva: 12, powerFactor: 0.9 });
    b.add('load', 'Z', { ratedMva: 4, powerFactor: 0.95, behaves: 'constantImpedance' });
    b.add('shunt', 'S', { type: 'capacitor', ratedMvar: 3, ratedKv: 33 });
    b.add('converterSource', 'W', { ratedMva: 8, operation: { ...idle, activeMw: 6, reactiveMvar: -1 } });
    b.add('synchronousMachine', 'G', {
      ratedMva: 20,
      ratedKv: 33,
      operation: { ...idle, holds: 'voltage', activeMw: 9, voltagePercent: 101, minMvar: -8, maxMvar: 8 },
    });
    b.join(
      'Q',
      'A',
      'T:0',
      'A',
      'T:1',
      'B',
      'L:0',
      'B',
      'L:1',
      'C',
      'X',
      'C',
      'Z',
      'C',
      'S',
      'C',
      'W',
      'B',
      'G',
      'C',
      'P:0',
      'A',
      'P:1',
      'D',
      'M:0',
      'D',
      'M:1',
      'A',
    );
    const before = flowOf(b.network());
    expect(before.converged).toBe(true);
    sameFlow(before, flowOf(await imported(caseOf(b.network(), 'All kinds').content as string)));
  });
  it('of five hundred buses too', async () => {
    const network = networkOf(loadedMesh(mesh(500)));
    const before = flowOf(network);
    sameFlow(before, flowOf(await imported(caseOf(network, 'Mesh').content as string)));
  });
});

describe('what is wrong in a file', () => {
  const told = async (text: string) => {
    const report = await reportOn(sourceOf('case', text), into(networkOf(blankElements())));
    return { batch: report!.batch.length, messages: report!.problems.map(({ message }) => message) };
  };
  const changed = (from: RegExp, to: string) => told(caseText.replace(from, to));

  it('stops the import with the line and the columns where a card is no card', async () => {
    expect(await changed(/0\.01938/, 'abcdefg')).toEqual({
      batch: 0,
      messages: ['case: line 19, columns 20 to 29: "abcdefg" is no number (r)'],
    });
    expect((await changed(/-4\.98/, '1e400')).messages[0]).toMatch(/line 4, columns 34 to 40/);
    expect((await told(`${caseText.split('\n').slice(0, 2).join('\n')}\n`)).messages[0]).toMatch(/no bus/);
  });
  it('leaves out what leads nowhere or stands there twice, with its line', async () => {
    const nowhere = await changed(/^ {2}13 {3}14/m, '  13   99');
    expect(nowhere.messages).toEqual([expect.stringMatching(/not in the file.*bus 99 \(line 38\)/)]);
    expect(nowhere.batch).toBeGreaterThan(50);
    expect((await changed(/^ {2}14 Bus/m, '  13 Bus')).messages.join()).toMatch(/used twice.*13 \(line 16\)/);
    expect((await changed(/0\.05917/, '9e99999')).messages[0]).toMatch(/line 19/);
  });
});
