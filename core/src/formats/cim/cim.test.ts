/** CIM: a published network written as CIM by hand, any network out and in again with the same currents, later files of the same source, and what is wrong told by its place. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { faultAt, iec60909Study } from '../../faults/iec60909/study';
import type { FaultKind } from '../../faults/kinds';
import { flowFigures } from '../../flow/figures';
import { loadFlow } from '../../flow/loadFlow';
import { voltageFactor } from '../../faults/iec60909/voltageFactor';
import { applyChanges } from '../../model/changes';
import { blankElements, newElement } from '../../model/defaults';
import { nameOf, type Element } from '../../model/element';
import { elementId } from '../../model/fields';
import { networkOf, ofKind, withElements, type Network } from '../../model/network';
import { demoNetwork, textOf } from '../../test/demo';
import { everyKind } from '../../test/everyKind';
import { networks } from '../../test/random';
import { runs } from '../../test/runs';
import { printed, tr60909Network } from '../../test/tr60909';
import type { Into, Report, Source } from '../format';
import { bytesOf, opened, sourceOf } from '../open';
import { reportOn } from '../registry';
import { cimOf } from './write';

const eq = textOf('core/reference/cim/test-network_EQ.xml');
const ssh = textOf('core/reference/cim/test-network_SSH.xml');
const blank = () => networkOf(blankElements());

let made = 0;
const into = (network: Network, more: Partial<Into> = {}): Into => ({
  network,
  newId: () => elementId(`n${++made}`),
  ...more,
});
const bundle = (...texts: string[]): Source => ({
  name: 'bundle.zip',
  text: '',
  sheets: [],
  files: texts.map((text, k) => ({ name: `file${k}.xml`, text })),
});
const written = async (network: Network): Promise<Source> => {
  const file = await opened('written.zip', await bytesOf(cimOf(network, 'Written').content, 'zip'));
  if (!file.ok) throw new Error(file.message);
  return file.source;
};
const report = async (source: Source, network = blank(), more: Partial<Into> = {}): Promise<Report> =>
  (await reportOn(source, into(network, more)))!;
const taken = (network: Network, { batch }: Pick<Report, 'batch'>): Network => {
  const applied = applyChanges(network, batch);
  if (!applied.ok) throw new Error(applied.problems[0].message);
  return applied.network;
};
const imported = async (source: Source): Promise<Network> => {
  const told = await report(source);
  expect(told.problems).toEqual([]);
  return taken(blank(), told);
};

/** Fault currents in kA by the names of the busbars. */
function currents(network: Network, kind: FaultKind, faultCase: 'max' | 'min' = 'max'): Map<string, number | string> {
  const study = iec60909Study(network, faultCase);
  return new Map(
    ofKind(network, 'bus').map((bus) => {
      const result = faultAt(study, bus.id, 0, kind);
      return [bus.name, result.ok ? result.fault.ikA / 1000 : result.problems[0].code];
    }),
  );
}

function sameCurrents(before: Network, after: Network, kinds: readonly FaultKind[] = ['3ph', '1ph']): void {
  for (const kind of kinds)
    for (const which of ['max', 'min'] as const) {
      const found = currents(after, kind, which);
      for (const [name, value] of currents(before, kind, which)) {
        const other = found.get(name);
        if (value === 0) expect(other, `${name} ${kind} ${which}`).toBe(0);
        else if (typeof value === 'number') expect(Number(other) / value, `${name} ${kind} ${which}`).toBeCloseTo(1, 8);
        else expect(other, `${name} ${kind} ${which}`).toBe(value);
      }
    }
}

describe('the test network of IEC TR 60909-4, written as CIM by hand', () => {
  it('gives the printed currents', async () => {
    const network = await imported(bundle(eq, ssh));
    const three = currents(network, '3ph');
    for (const [bus, ka] of Object.entries(printed.ik3Ka))
      expect(three.get(`B${bus}`), `bus ${bus}`).toBeCloseTo(ka, 3);
    const one = currents(network, '1ph');
    for (const [bus, ka] of Object.entries(printed.ik1Ka)) expect(one.get(`B${bus}`), `bus ${bus}`).toBeCloseTo(ka, 3);
  });
  it('closes the switches that operation closes, makes units of machine and transformer, and tells what it assumes', async () => {
    const told = await report(bundle(eq, ssh));
    const network = taken(blank(), told);
    expect(ofKind(network, 'switch').map(({ closed }) => closed)).toEqual([true, true]);
    expect(
      ofKind(network, 'powerStationUnit').map(({ name, transformer }) => [name, transformer.onLoadTapChanger]),
    ).toEqual([
      ['S1', true],
      ['S2', false],
    ]);
    expect(told.assumed!.map(({ message }) => message).join()).toMatch(/overhead or cables/);
    expect(ofKind(network, 'line').every(({ assumed }) => assumed?.includes('type'))).toBe(true);
    // Without the file of operation the switches stand open, and that is told.
    const alone = await report(sourceOf('EQ', eq));
    expect(ofKind(taken(blank(), alone), 'switch').every(({ closed }) => !closed)).toBe(true);
    expect(alone.assumed!.map(({ message }) => message).join()).toMatch(/SSH/);
  });
});

describe('out and in again', () => {
  it('the published network and the demo give the same currents', async () => {
    const published = tr60909Network();
    sameCurrents(published, await imported(await written(published)));
    const demo = demoNetwork();
    const simple = networkOf([...demo.elements.values()].flatMap(simplified));
    sameCurrents(simple, await imported(await written(simple)));
  });
  it('any network does', async () => {
    await fc.assert(
      fc.asyncProperty(networks, async ({ network }) => sameCurrents(network, await imported(await written(network)))),
      { seed: 31, numRuns: runs(20) },
    );
  });
  it('with every kind of element and of earthing', async () => {
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 1, max: 1e6 }), async (seed) => {
        // What is written as something simpler is left out of the comparison, and told.
        const { network } = everyKind(seed);
        const simple = networkOf([...network.elements.values()].flatMap(simplified));
        sameCurrents(simple, await imported(await written(simple)), ['3ph', '1ph', '2phE']);
      }),
      { seed: 7, numRuns: runs(25) },
    );
  });
  it('has the same load flow', async () => {
    const demo = demoNetwork();
    const flow = (network: Network) =>
      flowFigures(loadFlow(network, { voltageFactor: voltageFactor(10), control: false }));
    const [before, after] = [flow(demo), flow(await imported(await written(demo)))];
    for (const bus of before.buses.filter(({ kv }) => kv > 0))
      expect(after.buses.find(({ name }) => name === bus.name)!.percent, bus.name).toBeCloseTo(bus.percent, 3);
  });
  it('keeps where things stand, and gives the same file twice', async () => {
    const demo = demoNetwork();
    const again = await imported(await written(demo));
    const first = ofKind(demo, 'bus').filter(({ page }) => page === undefined);
    const place = (network: Network, name: string) => {
      const bus = ofKind(network, 'bus').find((each) => each.name === name)!;
      return { x: bus.x, y: bus.y, length: bus.length };
    };
    const [p, q] = first.map(({ name }) => [place(demo, name), place(again, name)] as const);
    expect(q[0].x - p[0].x).toBe(q[1].x - p[1].x);
    expect(q[0].y - p[0].y).toBe(q[1].y - p[1].y);
    expect(q[1].length).toBe(q[0].length);
    expect(cimOf(demo, 'A').content).toEqual(cimOf(demo, 'A').content);
  });
});

describe('a later file of the same source', () => {
  it('brings nothing when nothing has changed, and only what it states when something has', async () => {
    const first = await imported(bundle(eq, ssh));
    // What was added here: a rating, a note, another name for a line that came with a name.
    const line = ofKind(first, 'line').find(({ name }) => name === 'L1')!;
    const here = withElements(first, [{ ...line, ratedA: 630, note: 'rebuilt', sectionMm2: 240 }]);
    const same = await report(bundle(eq, ssh), here);
    expect(same.entries).toEqual([]);
    expect(same.batch).toEqual([]);

    const x = /(<cim:ACLineSegment rdf:ID="_L1">[^]*?<cim:ACLineSegment\.x>)([\d.]+)/;
    const changed = eq
      .replace(x, (_, before: string, ohm: string) => `${before}${2 * Number(ohm)}`)
      .replaceAll('>M1<', '>Pump 1<');
    const later = await report(bundle(changed, ssh), here);
    expect(later.entries!.map(({ what, name }) => [what, name])).toEqual([
      ['changed', 'L1'],
      ['changed', 'M1'],
    ]);
    expect(later.entries![0].differences).toEqual([{ field: 'X1', before: '0.39', after: '0.78' }]);
    expect(later.entries![1].differences).toEqual([{ field: 'Name', before: 'M1', after: 'Pump 1' }]);
    const updated = taken(here, later);
    expect(ofKind(updated, 'line').find(({ name }) => name === 'L1')).toMatchObject({
      x1OhmPerKm: 0.78,
      ratedA: 630,
      note: 'rebuilt',
      sectionMm2: 240,
    });
    // Only what is chosen.
    expect(later.taking!(new Set([later.entries![1].key]))).toHaveLength(1);
    expect((await report(bundle(changed, ssh), updated)).entries).toEqual([]);
  });
  it('tells what is no longer in it, and takes it away only when asked', async () => {
    const here = await imported(bundle(eq, ssh));
    const without = eq
      .replace(/ {2}<cim:AsynchronousMachine rdf:ID="_M3">[^]*?<\/cim:AsynchronousMachine>\n/, '')
      .replace(/ {2}<cim:Terminal rdf:ID="_t-M3-1">[^]*?<\/cim:Terminal>\n/, '');
    const told = await report(bundle(without, ssh), here);
    expect(told.entries!.map(({ what, name, usual }) => [what, name, usual])).toEqual([['gone', 'M3', false]]);
    expect(told.batch).toEqual([]);
    const gone = taken(here, { batch: told.taking!(new Set([told.entries![0].key])) });
    expect(ofKind(gone, 'asynchronousMotor').map(nameOf)).toEqual(['M1', 'M2']);
  });
  it('leaves switches and current transformers alone that were put in between', async () => {
    const first = await imported(bundle(eq, ssh));
    const motor = ofKind(first, 'asynchronousMotor').find(({ name }) => name === 'M1')!;
    const wire = ofKind(first, 'connection').find(({ from, to }) =>
      [from, to].some(({ element }) => element === motor.id),
    )!;
    const bus = [wire.from, wire.to].find(({ element }) => element !== motor.id)!;
    const put = newElement('switch', elementId('put-in'), 'CB M1', {});
    const here = withElements({ elements: new Map([...first.elements].filter(([id]) => id !== wire.id)) }, [
      put,
      { kind: 'connection', id: elementId('c1'), from: bus, to: { element: put.id, terminal: 0 } },
      {
        kind: 'connection',
        id: elementId('c2'),
        from: { element: put.id, terminal: 1 },
        to: { element: motor.id, terminal: 0 },
      },
    ]);
    expect((await report(bundle(eq, ssh), here)).entries).toEqual([]);
    // Moved to another busbar it is told, and goes there when that is taken.
    const moved = eq.replace(/(<cim:Terminal rdf:ID="_t-M2-1">[^]*?#_n-)7/, '$16');
    const told = await report(bundle(moved, ssh), here);
    expect(told.entries!.map(({ what, name }) => [what, name])).toEqual([['rewired', 'M2 – B6']]);
    const after = taken(here, told);
    const m2 = ofKind(after, 'asynchronousMotor').find(({ name }) => name === 'M2')!;
    const wires = ofKind(after, 'connection').filter(({ from, to }) =>
      [from, to].some(({ element }) => element === m2.id),
    );
    expect(
      wires.map(({ from, to }) => nameOf(after.elements.get(from.element === m2.id ? to.element : from.element)!)),
    ).toEqual(['B6']);
  });
  it('needs no busbars where things meet without one here, and keeps what no attribute tells', async () => {
    const demo = demoNetwork();
    const told = await report(await written(demo), demo);
    expect(told.entries!.map(({ what, name }) => [what, name])).toEqual([['changed', 'BRA P4']]);
    sameCurrents(networkOf([...demo.elements.values()]), taken(demo, told), ['3ph']);
  });
  it('meets a network that was drawn by hand by kind and name, or stands beside it', async () => {
    const drawn = networkOf([...tr60909Network().elements.values()].filter(({ id }) => id !== 'L3'));
    const told = await report(bundle(eq, ssh), drawn);
    expect(
      told
        .entries!.filter(({ what }) => what === 'new')
        .map(({ name }) => name)
        .sort(),
    ).toEqual(['CB Q1', 'CB Q2', 'L3a', 'L3b']);
    expect(told.entries!.find(({ name }) => name === 'L1')).toBeUndefined();
    sameCurrents(tr60909Network(), taken(drawn, told), ['3ph']);
    const beside = await report(bundle(eq, ssh), drawn, { mode: 'beside' });
    expect(beside.entries!.every(({ what }) => what === 'new')).toBe(true);
    const both = taken(drawn, beside);
    expect(ofKind(both, 'bus')).toHaveLength(16);
  });
});

describe('what is wrong in a file', () => {
  const told = async (text: string) => {
    const { batch, problems } = await report(bundle(text, ssh));
    return { count: batch.length, messages: problems.map(({ message }) => message) };
  };
  const whole = async () => (await told(eq)).count;

  it('stops the import with file, line and column where the markup is broken or may not be', async () => {
    const broken: readonly [string, RegExp][] = [
      [eq.slice(0, eq.length / 2), /file0\.xml, line \d+, column \d+: /],
      [eq.replace('</md:FullModel>', '</md:Fullmodel>'), /line 7, column/],
      [eq.replace('<rdf:RDF', '<!DOCTYPE r [<!ENTITY a "b"><!ENTITY c "&a;&a;">]><rdf:RDF'), /line 3.*document type/],
      [eq.replace('Test network', '&a;'), /line 5.*entity/],
      [eq.replace('<cim:BaseVoltage', `${'<cim:x>'.repeat(150)}<cim:BaseVoltage`), /nested deeper than 100/],
      [eq.replace('<md:FullModel', '<dm:DifferenceModel xmlns:dm="x"/><md:FullModel'), /only whole models/],
    ];
    for (const [text, expected] of broken) {
      const { count, messages } = await told(text);
      expect(count).toBe(0);
      expect(messages.join()).toMatch(expected);
    }
  });
  it('leaves out single values and things, each with its place, and takes the rest', async () => {
    const all = await whole();
    const single: readonly [string, RegExp][] = [
      [
        eq.replace(/(rdf:ID="_L1">[^]*?ACLineSegment\.x>)[\d.]+/, '$11e400'),
        /no number: ACLineSegment\.x.*1e400.*L1 \(line \d+\)/,
      ],
      [eq.replace(/(rdf:ID="_L1">[^]*?ACLineSegment\.x>)[\d.]+/, '$1-3'), /without reactance.*L1/],
      [eq.replace('#_n-7"', '#_nowhere"'), /node that is not in the files/],
      [
        eq.replace(/( {2}<cim:BusbarSection rdf:ID="_bb-1">)/, '  <cim:Load rdf:ID="_bb-2"></cim:Load>\n$1'),
        /defined twice.*bb-2/,
      ],
      [eq.replace(/(rdf:ID="_G3">[^]*?ratedS>)[\d.]+/, '$1'), /without rated power.*G3/],
      [eq.replace(/(rdf:ID="_L1">[^]*?Conductor\.length>)[\d.]+/, '$199999999'), /L1/],
    ];
    for (const [text, expected] of single) {
      const { count, messages } = await told(text);
      expect(messages.join('\n')).toMatch(expected);
      expect(count).toBeGreaterThan(all * 0.5);
    }
  });
  it('is refused without equipment', async () => {
    expect((await report(sourceOf('SSH', ssh))).problems[0].message).toMatch(/no equipment.*EQ/);
  });
});

/** What CIM has no word for is set to what comes back. */
function simplified(element: Element): Element[] {
  switch (element.kind) {
    case 'doublyFedMachine':
      return [];
    case 'lineCoupling':
      return element.x0mOhmPerKm === null ? [] : [element];
    case 'synchronousMachine':
    case 'powerStationUnit':
      return [{ ...element, runsAtMinimum: true }];
    case 'threeWindingTransformer': {
      const { hvMv, hvLv, mvLv } = element;
      const largest = (p: typeof hvMv, q: typeof hvMv) => Math.max(p.ratedMva, q.ratedMva);
      const [h, m, l] = [largest(hvMv, hvLv), largest(hvMv, mvLv), largest(hvLv, mvLv)];
      const on = (pair: typeof hvMv, ratedMva: number) => ({
        ...pair,
        ratedMva,
        ukPercent: (pair.ukPercent * ratedMva) / pair.ratedMva,
        uRPercent: (pair.uRPercent * ratedMva) / pair.ratedMva,
      });
      return [
        {
          ...element,
          core: 'unspecified',
          x0mPercent: null,
          hvMv: on(hvMv, Math.min(h, m)),
          hvLv: on(hvLv, Math.min(h, l)),
          mvLv: on(mvLv, Math.min(m, l)),
        },
      ];
    }
    case 'transformer':
      return [
        {
          ...element,
          core: 'unspecified',
          x0mPercent: null,
          shiftDegrees: 0,
        } as Element,
      ];
    default:
      return [element];
  }
}
