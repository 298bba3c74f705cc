/** Keeps a process running: begun again when it ends by itself, a few times with growing pauses; and ended for good when it is told so, whatever it is doing just then. */
import { setTimeout as sleep } from 'node:timers/promises';

const pausesMs = [500, 1000, 2000, 4000, 8000];
/** After this long without trouble earlier failures no longer count. */
const calmMs = 60_000;

/**
 * `start` begins it and gives a handle `{ onExit(act), stop() }`. `say(message)`: what the person at the terminal should know. `gaveUp(error)`: it would not stay.
 */
export class Supervised {
  constructor(name, start, { say, gaveUp }) {
    Object.assign(this, { name, start, say, gaveUp });
    this.current = null;
    this.stopping = false;
    this.failures = 0;
    this.startedAt = 0;
    this.working = null;
  }

  /** Starts it for the first time; throws when it does not start. */
  async begin() {
    this.working = this.run();
    await this.working;
  }

  async run() {
    const handle = await this.start();
    this.current = handle;
    this.startedAt = Date.now();
    if (this.stopping) return handle.stop();
    handle.onExit(() => this.again(handle));
  }

  again(handle) {
    if (this.stopping || this.current !== handle) return;
    this.current = null;
    this.working = this.revive();
  }

  async revive() {
    if (Date.now() - this.startedAt > calmMs) this.failures = 0;
    while (!this.stopping) {
      if (this.failures >= pausesMs.length) return this.gaveUp(new Error(`${this.name} keeps ending by itself.`));
      const pause = pausesMs[this.failures++];
      this.say(`${this.name} ended by itself; starting it again in ${pause / 1000} s.`);
      await sleep(pause);
      if (this.stopping) return;
      try {
        return await this.run();
      } catch (error) {
        this.say(error.message);
      }
    }
  }

  /** Ends it, also in the middle of a start. */
  async stop() {
    this.stopping = true;
    await Promise.resolve(this.working).catch(() => undefined);
    await this.current?.stop();
    this.current = null;
  }
}
