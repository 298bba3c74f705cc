/** What a simulated relay holds, behind its registers. */
import type { Server } from 'node:net';
import { server as servers } from 'jsmodbus';
import {
  activeFrom,
  commands,
  head,
  heldIn,
  magic,
  mapVersion,
  mostSlots,
  slotLength,
  slotOf,
  stagedFrom,
  statuses,
  type HeldValue,
} from '../../core/src/sheets/registerMap';

export class SimulatedRelay {
  private readonly registers = Buffer.alloc(2 * 65_536);
  private active: readonly HeldValue[] = [];
  private name: number[] = new Array<number>(head.nameLength).fill(0);
  private edition = 0;
  private status: number = statuses.idle;
  private wrong: { readonly slot: number; readonly percent: number } | null = null;

  constructor() {
    this.show();
  }

  /** Answers on a server; what is written is looked at after each request. */
  listen(server: Server): void {
    const modbus = new servers.TCP(server, { holding: this.registers });
    const written = () => this.obeyCommand();
    modbus.on('postWriteSingleRegister', written);
    modbus.on('postWriteMultipleRegisters', written);
    // One that breaks off in the middle of a request ends itself only.
    server.on('connection', (socket) => socket.on('error', () => socket.destroy()));
  }

  /** Makes an active value wrong, from 1 on; false where it holds none there yet. */
  deviate(slot: number, percent: number): boolean {
    if (!Number.isInteger(slot) || slot < 1 || slot > mostSlots || !Number.isFinite(percent)) return false;
    this.wrong = { slot, percent };
    this.show();
    return slot <= this.active.length;
  }

  obey(): void {
    this.wrong = null;
    this.show();
  }

  told(): string {
    const list = this.found().map(
      ({ key, value, isWord }, k) => `${k + 1}: ${key.toString(16)} = ${isWord ? `word ${value.toString(16)}` : value}`,
    );
    return list.length > 0 ? list.join('\n') : 'It holds no values yet.';
  }

  /** As a technician would find them. */
  private found(): HeldValue[] {
    return this.active.map((held, k) =>
      this.wrong?.slot === k + 1
        ? held.isWord
          ? { ...held, value: held.value ^ 1 }
          : {
              ...held,
              value: held.value === 0 ? this.wrong.percent / 100 : held.value * (1 + this.wrong.percent / 100),
            }
        : held,
    );
  }

  private at(register: number): number {
    return this.registers.readUInt16BE(2 * register);
  }

  private put(from: number, list: readonly number[]): void {
    list.forEach((value, k) => this.registers.writeUInt16BE(value & 0xffff, 2 * (from + k)));
  }

  private obeyCommand(): void {
    const command = this.at(head.command);
    const staged = this.at(head.staged);
    const name = Array.from({ length: head.nameLength }, (_, k) => this.at(head.name + k));
    if (command === commands.clear) {
      this.registers.fill(0, 2 * stagedFrom, 2 * (stagedFrom + mostSlots * slotLength));
      this.put(head.staged, [0]);
      this.status = statuses.staged;
    } else if (command === commands.take) {
      // Nothing staged, or more than there is room for: set as before.
      if (staged === 0 || staged > mostSlots) this.status = statuses.refused;
      else {
        const list = Array.from({ length: staged * slotLength }, (_, k) => this.at(stagedFrom + k));
        this.active = heldIn(list);
        this.name = name;
        this.edition = (this.edition + 1) & 0xffff;
        this.status = statuses.taken;
      }
    } else if (command === commands.deviate) {
      const by = this.registers.readInt16BE(2 * head.wrongBy);
      this.deviate(this.at(head.wrongSlot), by / 10);
    } else if (command === commands.obey) this.wrong = null;
    this.show(command === 0 ? name : this.name);
  }

  /** Whatever was written over what is not to be written is put back. */
  private show(name: readonly number[] = this.name): void {
    this.put(head.magic, [magic, mapVersion, this.active.length, this.edition, this.status, 0]);
    this.put(head.name, name);
    this.put(activeFrom, this.found().flatMap(slotOf));
  }
}
