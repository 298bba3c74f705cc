/** A relay behind Modbus TCP, with the register map of `core/sheets/registerMap`: read whole, and set in one go. On loopback only. */
import { Socket } from 'node:net';
import { client as clients } from 'jsmodbus';
import {
  activeFrom,
  commands,
  head,
  headLength,
  heldIn,
  magic,
  mapVersion,
  mostSlots,
  nameIn,
  nameRegisters,
  slotLength,
  slotOf,
  stagedFrom,
  statuses,
  type HeldValue,
} from '@mesura/core/sheets/registerMap';
import { ServiceError } from '../errors';

const patienceMs = 3000;
/** Registers in one request: at most 125 are read and 123 written (Modbus Application Protocol V1.1b3, 6.3 and 6.12). */
const inOne = 120;

/** Ports that relays may stand at: the server asks nothing else on this machine. */
export function relayPorts(env: Readonly<Record<string, string | undefined>> = process.env): readonly number[] {
  const listed = (env.MESURA_RELAY_PORTS ?? '1502').split(/[\s,]+/).map(Number);
  return listed.filter((port) => Number.isInteger(port) && port > 0 && port < 65_536);
}

type Client = InstanceType<typeof clients.TCP>;

const failed = (code: string, message: string) => new ServiceError(502, code, message);

async function withRelay<T>(port: number, work: (client: Client) => Promise<T>): Promise<T> {
  if (!relayPorts().includes(port))
    throw new ServiceError(
      422,
      'relay.port',
      `Relays are reached at port ${relayPorts().join(', ')} of this machine only (MESURA_RELAY_PORTS).`,
    );
  const socket = new Socket();
  const client = new clients.TCP(socket, 1, patienceMs);
  try {
    await new Promise<void>((resolve, reject) => {
      socket.setTimeout(patienceMs, () => reject(new Error('timeout')));
      socket.once('error', reject);
      socket.once('connect', resolve);
      socket.connect({ host: '127.0.0.1', port });
    });
    return await work(client);
  } catch (error) {
    if (error instanceof ServiceError) throw error;
    throw failed('relay.unreachable', `No relay answers at port ${port} of this machine. Start one: npm run relay`);
  } finally {
    socket.destroy();
  }
}

async function read(client: Client, from: number, count: number): Promise<number[]> {
  const registers: number[] = [];
  for (let at = 0; at < count; at += inOne) {
    const { response } = await client.readHoldingRegisters(from + at, Math.min(inOne, count - at));
    registers.push(...(response.body.valuesAsArray as number[]));
  }
  return registers;
}

async function write(client: Client, from: number, registers: readonly number[]): Promise<void> {
  for (let at = 0; at < registers.length; at += inOne)
    await client.writeMultipleRegisters(from + at, registers.slice(at, at + inOne));
}

export interface RelayState {
  readonly name: string;
  readonly edition: number;
  readonly values: readonly HeldValue[];
}

async function stateOf(client: Client): Promise<RelayState> {
  const own = await read(client, 0, headLength);
  if (own[head.magic] !== magic)
    throw failed('relay.other', 'What answers there is no relay with the register map of Mesura.');
  if (own[head.version] > mapVersion)
    throw failed('relay.version', `The relay has register map ${own[head.version]}; this program knows ${mapVersion}.`);
  const slots = Math.min(own[head.slots], mostSlots);
  return {
    name: nameIn(own.slice(head.name, head.name + head.nameLength)),
    edition: own[head.edition],
    values: heldIn(await read(client, activeFrom, slots * slotLength)),
  };
}

export const readRelay = (port: number): Promise<RelayState> => withRelay(port, stateOf);

/** Stages the values, reads them back as they are staged, has them taken over in one go, and reads what is active then. */
export const setRelay = (port: number, name: string, values: readonly HeldValue[]): Promise<RelayState> =>
  withRelay(port, async (client) => {
    if (values.length > mostSlots) throw failed('relay.many', `The relay has room for ${mostSlots} values.`);
    const { edition } = await stateOf(client);
    await client.writeSingleRegister(head.command, commands.clear);
    const staged = values.flatMap(slotOf);
    await write(client, stagedFrom, staged);
    await write(client, head.name, nameRegisters(name));
    await client.writeSingleRegister(head.staged, values.length);
    const seen = await read(client, stagedFrom, staged.length);
    if (seen.some((each, k) => each !== staged[k]))
      throw failed('relay.staged', 'The relay has not kept what was sent. Nothing was taken over.');
    await client.writeSingleRegister(head.command, commands.take);
    const [status] = await read(client, head.status, 1);
    const after = await stateOf(client);
    if (status !== statuses.taken || after.edition === edition)
      throw failed('relay.refused', 'The relay has not taken the values over; it is set as before.');
    return after;
  });
