/** Files of every format as seeds, and what must hold whatever a file is: no exception but a refusal in words, and a batch that fits or is nothing. */
import { bytesOf, opened, sourceOf } from '../formats/open';
import { cimOf } from '../formats/cim/write';
import { caseOf } from '../formats/powerFlow/write';
import { exporters, finished, readingSteps, reported } from '../formats/registry';
import { sclOf } from '../formats/scl/write';
import { applyChanges } from '../model/changes';
import { blankElements } from '../model/defaults';
import { elementId, type ElementId } from '../model/fields';
import { networkOf, type Network } from '../model/network';
import { demoText, textOf, wholeDemo } from './demo';
import { randomFrom } from './everyKind';
import { mutated, mutatedBytes } from './mutated';
import { Builder } from './network';

export interface Seed {
  readonly format: string;
  readonly text?: string;
  readonly bytes?: Uint8Array;
}

/** A handful of elements: files of it are small, so that many can be tried. */
function small(): Network {
  const b = new Builder();
  b.add('bus', 'A', { nominalKv: 33 });
  b.add('bus', 'B', { nominalKv: 11 });
  b.add('networkFeeder', 'Q', {});
  b.add('transformer', 'T', {
    hvKv: 33,
    lvKv: 11.5,
    ukPercent: 8,
    uRPercent: 0.6,
    ratedMva: 10,
    x0OverX1: 1,
    r0OverR1: 1,
  });
  b.add('line', 'L', { r0OhmPerKm: 0.3, x0OhmPerKm: 0.4, ratedA: 300 });
  b.add('load', 'D', {});
  b.add('switch', 'S', {});
  b.join('Q', 'A', 'T:0', 'A', 'T:1', 'S:0', 'S:1', 'B', 'L:0', 'B', 'D', 'L:1');
  return b.network();
}

export async function seeds(): Promise<readonly Seed[]> {
  const network = small();
  const demo = networkOf(
    [...wholeDemo().elements.values()].filter((element) => element.kind !== 'relay' || element.name.startsWith('BRA')),
  );
  const cim = cimOf(network, 'Small').content as unknown as { files: { text: string }[] };
  const books = exporters.filter(({ extension }) => extension === 'xlsx');
  return [
    { format: 'powerFlow', text: textOf('core/reference/powerFlow/ieee-14-bus.cdf') },
    { format: 'powerFlow', text: caseOf(network, 'Small').content as string },
    { format: 'cim', text: textOf('core/reference/cim/test-network_EQ.xml') },
    ...cim.files.map(({ text }) => ({ format: 'cim', text })),
    { format: 'scl', text: sclOf(demo, 'Island').content as string },
    { format: 'bundle', bytes: await bytesOf(cimOf(network, 'Small').content, 'zip') },
    { format: 'project', text: exporters[0].write(network, 'Small', '').content as string },
    { format: 'project', text: demoText().slice(0, 60_000) },
    ...(await Promise.all(
      books.map(async ({ write }) => ({
        format: 'workbook',
        bytes: await bytesOf(write(wholeDemo(), '', '').content, 'xlsx'),
      })),
    )),
    { format: 'tables', text: 'Identifier,Name,Length in km\nL,Line 1,7\nT,Transformer,\n' },
  ];
}

export interface Tried {
  /** What became of it. */
  readonly end: 'refused' | 'unknown' | 'nothing' | 'taken' | 'does not fit';
  readonly message: string;
}

/** Whether a batch that the importer offers can be applied is for the caller to judge; throws whatever the program throws. */
export async function tried(name: string, content: string | Uint8Array): Promise<Tried> {
  const network = networkOf(
    [...blankElements(), ...small().elements.values()].filter(
      ({ id }, k, all) => all.findIndex((each) => each.id === id) === k,
    ),
  );
  const file =
    typeof content === 'string' ? { ok: true as const, source: sourceOf(name, content) } : await opened(name, content);
  if (!file.ok) return { end: 'refused', message: file.message };
  let made = 0;
  const into = { network, newId: (): ElementId => elementId(`new-${++made}`) };
  const reading = finished(readingSteps(file.source, into));
  if (!reading) return { end: 'unknown', message: '' };
  const report = await reported(reading, into);
  const message = report.problems[0]?.message ?? '';
  if (report.batch.length === 0)
    return { end: report.problems.some(({ severity }) => severity === 'error') ? 'refused' : 'nothing', message };
  const applied = applyChanges(network, report.batch);
  return applied.ok ? { end: 'taken', message } : { end: 'does not fit', message: applied.problems[0].message };
}

/** The file number `k` of a seed. */
export const hostile = (seed: Seed, k: number): string | Uint8Array => {
  const random = randomFrom(k * 7919 + seed.format.length);
  return seed.text !== undefined ? mutated(seed.text, random) : mutatedBytes(seed.bytes!, random);
};
