import { describe, expect, it } from 'vitest';
import { FaultEngine } from '@mesura/core/studies/engine';
import { solidFault } from '@mesura/core/faults/kinds';
import { rowsOf } from '@mesura/core/faults/answers/packed';
import { maximumSources } from '@mesura/core/model/condition';
import { networkOf } from '@mesura/core/model/network';
import { bigNetwork } from '../../scripts/bigNetwork';
import { Answers, type Request } from './answers';
import { CoreService } from './coreService';
import { inSlices, LeftOff } from './slices';

const settled = () => new Promise((resolve) => setTimeout(resolve, 0));

/** A worker whose answers the test gives. */
function desk() {
  const cancelled: number[] = [];
  const asked: { request: Request; give(value: string): void; fail(error: Error): void }[] = [];
  const answers = new Answers();
  answers.connect((ticket) => cancelled.push(ticket));
  const run = (request: Request) =>
    new Promise<string>((resolve, reject) => asked.push({ request, give: resolve, fail: reject }));
  return { answers, cancelled, asked, run };
}

describe('answers', () => {
  it('are asked for once, however many look at them, and again with a new model', async () => {
    const { answers, asked, run } = desk();
    answers.subscribe('q', () => {});
    for (let k = 0; k < 3; k++) answers.ask('q', 1, run);
    expect(asked).toHaveLength(1);
    asked[0].give('one');
    await settled();
    answers.ask('q', 1, run);
    expect(asked).toHaveLength(1);
    expect(answers.shown('q')).toEqual({ value: 'one', version: 1, failed: null, progress: null });
    answers.ask('q', 2, run);
    expect(answers.shown('q')).toMatchObject({ value: 'one', version: 1, progress: { now: 0 } });
    asked[1].request.onProgress(0.4);
    expect(answers.shown('q')).toMatchObject({ value: 'one', progress: { now: 0.4 } });
    asked[1].give('two');
    await settled();
    expect(answers.shown('q')).toMatchObject({ value: 'two', version: 2, progress: null });
  });

  it('stand still while their share moves: who shows the answer only is not told', () => {
    const { answers, asked, run } = desk();
    let told = 0;
    answers.subscribe('q', () => told++);
    answers.ask('q', 1, run);
    const shown = answers.shown('q');
    const seen: number[] = [];
    const leave = shown.progress!.subscribe(() => seen.push(shown.progress!.now));
    const before = told;
    asked[0].request.onProgress(0.1);
    asked[0].request.onProgress(0.2);
    leave();
    asked[0].request.onProgress(0.3);
    expect([answers.shown('q') === shown, told - before, seen]).toEqual([true, 0, [0.1, 0.2]]);
  });

  it('of an older model come too late: left off, and not shown when they arrive all the same', async () => {
    const { answers, asked, cancelled, run } = desk();
    answers.subscribe('q', () => {});
    answers.ask('q', 1, run);
    answers.ask('q', 2, run);
    expect(cancelled).toEqual([asked[0].request.ticket]);
    asked[1].give('new');
    await settled();
    asked[0].give('old');
    asked[0].request.onProgress(0.9);
    await settled();
    expect(answers.shown('q')).toMatchObject({ value: 'new', version: 2, progress: null });
  });

  it('that nobody wants any more are left off, and can be asked for again', async () => {
    const { answers, asked, cancelled, run } = desk();
    const leave = answers.subscribe('q', () => {});
    answers.ask('q', 1, run);
    leave();
    const again = answers.subscribe('q', () => {});
    await settled();
    expect(cancelled).toEqual([]);
    again();
    await settled();
    expect(cancelled).toEqual([asked[0].request.ticket]);
    answers.subscribe('q', () => {});
    answers.ask('q', 1, run);
    expect(asked).toHaveLength(2);
    asked[0].fail(new LeftOff());
    asked[1].give('here');
    await settled();
    expect(answers.shown('q')).toMatchObject({ value: 'here', failed: null });
  });

  it('that fail say so, and are asked for again with the next model', async () => {
    const { answers, asked, run } = desk();
    const seen: unknown[] = [];
    answers.subscribe('q', () => seen.push(answers.shown('q').failed));
    answers.ask('q', 1, run);
    asked[0].fail(new Error('broken'));
    await settled();
    expect(answers.shown('q')).toMatchObject({ value: null, failed: 'broken', version: 1 });
    expect(seen).toEqual([null, 'broken']);
    answers.ask('q', 1, run);
    expect(asked).toHaveLength(1);
    answers.ask('q', 2, run);
    expect(asked).toHaveLength(2);
  });

  it('do not pile up', async () => {
    const { answers, asked, run } = desk();
    for (let k = 0; k < 200; k++) {
      const leave = answers.subscribe(`q${k}`, () => {});
      answers.ask(`q${k}`, 1, run);
      asked[k].give('x');
      await settled();
      leave();
      await settled();
    }
    expect(answers.shown('q0').value).toBeNull();
    expect(answers.shown('q199').value).toBe('x');
  });
});

describe('long work', () => {
  const study = { method: 'iec60909', condition: maximumSources.id } as const;
  const fault = solidFault('1ph');
  // Several slices long, also on a fast machine.
  const elements = bigNetwork(6000);

  it('lets messages in between, tells how far it is, and comes to what it would have come to at once', async () => {
    const shares: number[] = [];
    const service = new CoreService();
    service.load(elements);
    let others = 0;
    const timer = setInterval(() => others++, 1);
    const { rows } = await service.faults(study, fault, [], 1, (share) => shares.push(share));
    clearInterval(timer);
    expect(others).toBeGreaterThan(0);
    expect(shares.length).toBeGreaterThan(0);
    expect(shares).toEqual([...shares].sort((p, q) => p - q));
    expect(rowsOf(rows)).toEqual(new FaultEngine(networkOf(elements)).rows(study, fault));
  });

  it('is left off when nobody wants it, and when the model changes', async () => {
    const service = new CoreService();
    service.load(elements);
    const asked = (ticket: number) => service.faults(study, fault, [], ticket, () => {});
    const first = asked(1);
    service.leaveOff(1);
    await expect(first).rejects.toThrow(LeftOff);
    const second = asked(2);
    service.change([], []);
    await expect(second).rejects.toThrow(LeftOff);
    expect((await asked(3)).rows.count).toBe(6000);
  });

  it('hands errors on', async () => {
    function* broken(): Generator<number, string> {
      yield 0.5;
      throw new Error('inside');
    }
    await expect(inSlices(broken(), { isWanted: () => true })).rejects.toThrow('inside');
  });
});
