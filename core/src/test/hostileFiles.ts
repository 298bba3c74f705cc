/** Files of every format as seeds, and what must hold whatever a file is: no exception but a refusal in words, and a batch that fits or is nothing. */
import { bytesOf, opened, sourceOf } from '../formats/open';
import { cimOf } from '../formats/cim/write';
import { caseOf } from '../formats/powerFlow/write';
import { guessed, listSheets, readColumns } from '../formats/columns/columns';
import { operatingPoint } from '../formats/comtrade/phasors';
import { readComtrade } from '../formats/comtrade/read';
import { comtrade } from '../formats/comtrade/write';
import { FileRefusal, type Source } from '../formats/format';
import { exporters, finished, readingSteps, reported, type Reading } from '../formats/registry';
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
  // One bay with its relay: a whole station would be tried a hundred times more slowly.
  const demo = networkOf(
    [...wholeDemo().elements.values()].filter(
      (element) =>
        'name' in element && /^(BRA Q32|BRA 11 A|BRA Q30)/.test(element.name) && element.kind !== 'linePackage',
    ),
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
    {
      format: 'list',
      text: 'Name;From;To;Length in km;R1 in Ω/km\nC 1;A;B;2,5;0.1\nC 2;B;Harbour;1,2;0.2\nL;A;B;3;0.1\n',
    },
    { format: 'comtrade', text: record() },
    { format: 'tables', text: 'Identifier,Name,Length in km\nL,Line 1,7\nT,Transformer,\n' },
  ];
}

/** Configuration and data in one text, parted by a line that neither has. */
const parting = '\n<<<data>>>\n';
function record(): string {
  const values = Array.from({ length: 40 }, (_, k) => 1000 * Math.sin(k / 3));
  const channels = ['A', 'B', 'C'].map((phase) => ({ name: `I${phase}`, phase, unit: 'A', values }));
  const states = [{ name: 'Trip', values: values.map((value) => (value > 0 ? 1 : 0)) }];
  const { cfg, dat } = comtrade({
    station: 'S',
    device: 'D',
    frequencyHz: 50,
    rateHz: 1000,
    triggerSample: 5,
    channels,
    states,
  });
  return `${cfg}${parting}${dat}`;
}

function triedRecord(content: string): Tried {
  const [cfg, dat = ''] = content.split(parting);
  try {
    const read = readComtrade(cfg, new TextEncoder().encode(dat));
    // Whatever was read can be looked at.
    operatingPoint(read, 0.03);
    return { end: 'taken', message: '' };
  } catch (error) {
    if (error instanceof FileRefusal) return { end: 'refused', message: error.message };
    throw error;
  }
}

export interface Tried {
  /** What became of it. */
  readonly end: 'refused' | 'unknown' | 'nothing' | 'taken' | 'does not fit';
  readonly message: string;
}

/** Whether a batch that the importer offers can be applied is for the caller to judge; throws whatever the program throws. */
export async function tried(name: string, content: string | Uint8Array, format = ''): Promise<Tried> {
  if (format === 'comtrade') return triedRecord(content as string);
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
  let reading: Reading | null;
  try {
    reading = format === 'list' ? asList(file.source, network) : finished(readingSteps(file.source, into));
  } catch (error) {
    if (error instanceof FileRefusal) return { end: 'refused', message: error.message };
    throw error;
  }
  if (!reading) return { end: 'unknown', message: '' };
  const report = await reported(reading, into);
  const message = report.problems[0]?.message ?? '';
  if (report.batch.length === 0)
    return { end: report.problems.some(({ severity }) => severity === 'error') ? 'refused' : 'nothing', message };
  const applied = applyChanges(network, report.batch);
  return applied.ok ? { end: 'taken', message } : { end: 'does not fit', message: applied.problems[0].message };
}

/** With its columns as their heads say; null where it is no list any more. */
function asList(source: Source, network: Network): Reading | null {
  const [sheet] = listSheets(source);
  if (!sheet) return null;
  const columns = guessed('line', sheet.heads);
  return { brought: finished(readColumns(source, { sheet: 0, kind: 'line', columns }, network)) };
}

/** The file number `k` of a seed. */
export const hostile = (seed: Seed, k: number): string | Uint8Array => {
  const random = randomFrom(k * 7919 + seed.format.length);
  return seed.text !== undefined ? mutated(seed.text, random) : mutatedBytes(seed.bytes!, random);
};
