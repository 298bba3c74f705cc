/** The simulated relay over Modbus TCP: set in one go, read back, told to deviate, misused. */
import { createServer, Socket, type AddressInfo, type Server } from 'node:net';
import { client as clients } from 'jsmodbus';
import { afterAll, afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  activeFrom,
  codeOf,
  commands,
  head,
  heldIn,
  magic,
  nameIn,
  nameRegisters,
  slotLength,
  slotOf,
  type HeldValue,
} from '@mesura/core/sheets/registerMap';
import { SimulatedRelay } from '../../../scripts/lib/simulatedRelay';
import { readRelay, relayPorts, setRelay } from './modbus';

let server: Server;
let relay: SimulatedRelay;
let port: number;
const ports = process.env.MESURA_RELAY_PORTS;

beforeEach(async () => {
  server = createServer();
  relay = new SimulatedRelay();
  relay.listen(server);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  ({ port } = server.address() as AddressInfo);
  process.env.MESURA_RELAY_PORTS = String(port);
});
afterEach(() => new Promise((resolve) => server.close(resolve)));
afterAll(() => {
  if (ports === undefined) delete process.env.MESURA_RELAY_PORTS;
  else process.env.MESURA_RELAY_PORTS = ports;
});

const values: HeldValue[] = [
  { key: codeOf('51.pickup'), value: 1.25, isWord: false },
  { key: codeOf('51.characteristic'), value: codeOf('iecB'), isWord: true },
  { key: codeOf('51.timeMultiplier'), value: Math.fround(0.26), isWord: false },
];

describe('the register map', () => {
  it('keeps a value, a word and a name', () => {
    expect(heldIn(values.flatMap(slotOf))).toEqual(values);
    expect(slotOf(values[0])).toHaveLength(slotLength);
    expect(nameIn(nameRegisters('BRA Q32 relay'))).toBe('BRA Q32 relay');
    expect(nameIn(nameRegisters(`Ω${'x'.repeat(100)}`))).toBe(`?${'x'.repeat(63)}`);
    // FNV-1a of 32 bits: published test vectors.
    expect(codeOf('')).toBe(0x811c9dc5);
    expect(codeOf('a')).toBe(0xe40c292c);
    expect(codeOf('foobar')).toBe(0xbf9cf968);
  });
});

describe('the simulated relay', () => {
  it('is empty at first, takes values over in one go and tells them', async () => {
    expect(await readRelay(port)).toEqual({ name: '', edition: 0, values: [] });
    expect(await setRelay(port, 'BRA Q32 relay', values)).toEqual({ name: 'BRA Q32 relay', edition: 1, values });
    expect(await readRelay(port)).toEqual({ name: 'BRA Q32 relay', edition: 1, values });
    expect((await setRelay(port, 'BRA Q32 relay', values.slice(0, 1))).values).toEqual(values.slice(0, 1));
  });
  it('holds more values than go into one request', async () => {
    const many = Array.from({ length: 300 }, (_, k) => ({ key: codeOf(`v${k}`), value: k, isWord: false }));
    expect((await setRelay(port, 'x', many)).values).toEqual(many);
  });
  it('deviates when it is told to, by its owner or through its registers', async () => {
    await setRelay(port, 'x', values);
    expect(relay.deviate(1, 20)).toBe(true);
    expect((await readRelay(port)).values[0].value).toBeCloseTo(1.5, 6);
    relay.deviate(2, 1);
    expect((await readRelay(port)).values[1].value).not.toBe(values[1].value);
    relay.obey();
    expect((await readRelay(port)).values).toEqual(values);
    await raw(async (client) => {
      await client.writeMultipleRegisters(head.wrongSlot, [3, 0x10000 - 100]);
      await client.writeSingleRegister(head.command, commands.deviate);
    });
    expect((await readRelay(port)).values[2].value).toBeCloseTo(0.26 * 0.9, 6);
    for (const [slot, percent] of [
      [0, 5],
      [1.5, 5],
      [2000, 5],
      [1, Number.NaN],
    ])
      expect(relay.deviate(slot, percent)).toBe(false);
  });
  it('is set by its commands alone: what is written over active registers does not count', async () => {
    await setRelay(port, 'x', values);
    await raw(async (client) => {
      await client.writeMultipleRegisters(activeFrom, slotOf({ ...values[0], value: 9 }));
      await client.writeMultipleRegisters(head.magic, [1, 2, 3]);
    });
    expect(await readRelay(port)).toMatchObject({ edition: 1, values });
    // Taken over with nothing staged: refused, and set as before.
    await raw(async (client) => {
      await client.writeSingleRegister(head.command, commands.clear);
      await client.writeSingleRegister(head.command, commands.take);
    });
    expect((await readRelay(port)).values).toEqual(values);
  });
});

describe('the way to a relay', () => {
  it('leads to listed ports of this machine only, and says what it finds there', async () => {
    await expect(readRelay(port + 1)).rejects.toMatchObject({ status: 422, code: 'relay.port' });
    expect(relayPorts({})).toEqual([1502]);
    expect(relayPorts({ MESURA_RELAY_PORTS: '1502, 1503 nonsense 70000' })).toEqual([1502, 1503]);
    process.env.MESURA_RELAY_PORTS = '1';
    await expect(readRelay(1)).rejects.toMatchObject({ status: 502, code: 'relay.unreachable' });
    // Something that answers Modbus, and is no relay of ours.
    process.env.MESURA_RELAY_PORTS = String(port);
    (relay as unknown as { registers: Buffer }).registers.writeUInt16BE(magic + 1, 0);
    await expect(readRelay(port)).rejects.toMatchObject({ code: 'relay.other' });
  });
  it('gives up on what never answers', async () => {
    const silent = createServer(() => undefined);
    await new Promise<void>((resolve) => silent.listen(0, '127.0.0.1', resolve));
    const { port: at } = silent.address() as AddressInfo;
    process.env.MESURA_RELAY_PORTS = String(at);
    await expect(readRelay(at)).rejects.toMatchObject({ code: 'relay.unreachable' });
    silent.close();
  });
});

/** A client of its own, before whose connection the package must have been told of the socket. */
async function raw(work: (client: InstanceType<typeof clients.TCP>) => Promise<void>): Promise<void> {
  const socket = new Socket();
  const client = new clients.TCP(socket, 1, 2000);
  try {
    await new Promise<void>((resolve) => socket.connect({ host: '127.0.0.1', port }, resolve));
    await work(client);
  } finally {
    socket.destroy();
  }
}
