import { describe, expect, it } from 'vitest';
import { Live, type Stream } from './live';
import { shadeOf } from './people';

/** A page with streams that the test speaks through, and a clock of its own. */
function page() {
  const streams: (Stream & { say(type: string, data?: string): void; isClosed: boolean; readyState: number })[] = [];
  const heard: unknown[] = [];
  const waiting: { act: () => void; ms: number }[] = [];
  const live = new Live({
    open: () => {
      const listeners = new Map<string, (event: { data?: string }) => void>();
      const stream = {
        addEventListener: (type: string, listener: (event: { data?: string }) => void) =>
          void listeners.set(type, listener),
        close: () => (stream.isClosed = true),
        say: (type: string, data?: string) => listeners.get(type)?.({ data }),
        isClosed: false,
        readyState: 1,
      };
      streams.push(stream);
      return stream;
    },
    revision: (revision) => heard.push(revision),
    people: (others) => heard.push(others.map(({ name }) => name)),
    live: (yes) => heard.push(yes ? 'live' : 'still'),
    later: (act, ms) => {
      const each = { act, ms };
      waiting.push(each);
      return () => void waiting.splice(waiting.indexOf(each), 1);
    },
  });
  return { live, streams, heard, waiting };
}

describe('news of a project', () => {
  it('tells revisions and people, and takes no nonsense', () => {
    const { live, streams, heard } = page();
    live.start();
    live.start();
    expect(streams).toHaveLength(1);
    streams[0].say('revision', '7');
    streams[0].say('people', '[{"name":"Bo"}]');
    streams[0].say('revision', 'x');
    streams[0].say('people', '{');
    streams[0].say('people', '{}');
    expect(heard).toEqual(['live', 7, ['Bo'], 'live']);
  });
  it('lets the browser come back by itself, and asks ever more seldom where the server refuses', () => {
    const { live, streams, heard, waiting } = page();
    live.start();
    streams[0].readyState = 0;
    streams[0].say('error');
    expect([heard, waiting.length]).toEqual([['still'], 0]);
    for (const ms of [1500, 3000, 6000, 12_000, 24_000, 30_000, 30_000]) {
      streams.at(-1)!.readyState = 2;
      streams.at(-1)!.say('error');
      expect(waiting.map((each) => each.ms)).toEqual([ms]);
      waiting.pop()!.act();
    }
    streams.at(-1)!.say('revision', '1');
    streams.at(-1)!.readyState = 2;
    streams.at(-1)!.say('error');
    expect(waiting[0].ms).toBe(1500);
  });
  it('lets go when it is not looked at, and hears nothing of a stream that is gone', () => {
    const { live, streams, heard, waiting } = page();
    live.start();
    live.stop();
    expect(streams[0].isClosed).toBe(true);
    streams[0].say('revision', '9');
    streams[0].say('error');
    expect([heard, waiting]).toEqual([['still'], []]);
    live.start();
    streams[1].readyState = 2;
    streams[1].say('error');
    live.stop();
    expect(waiting).toEqual([]);
    live.start();
    streams[2].say('refused');
    expect(streams[2].isClosed).toBe(true);
  });
  it('gives each page a shade that is not that of one’s own selection', () => {
    for (let k = 0; k < 500; k++) {
      const shade = shadeOf(`page-${k}`);
      expect(shade).toBe(shadeOf(`page-${k}`));
      expect(shade).toBeGreaterThanOrEqual(1);
      expect(shade).toBeLessThanOrEqual(7);
    }
  });
});
