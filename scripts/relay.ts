/**
 * `npm run relay`: a simulated relay on loopback. It holds settings and answers Modbus TCP with the register map of docs/simulated-relay.md; told to deviate, it makes one of its active values
 * wrong, as relays are found in the field.
 */
import { createServer } from 'node:net';
import { createInterface } from 'node:readline';
import { parseArgs } from 'node:util';
import { SimulatedRelay } from './lib/simulatedRelay';

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '1502' },
    deviate: { type: 'string' },
    help: { type: 'boolean', short: 'h' },
  },
});
const usage = `npm run relay -- [--port 1502] [--deviate SLOT:PERCENT]

At the prompt:  deviate SLOT PERCENT   make an active value wrong (slots count from 1)
                obey                   as it was set
                show                   what is active`;

if (values.help) {
  console.log(usage);
  process.exit();
}
const relay = new SimulatedRelay();
const server = createServer();
relay.listen(server);
const port = Number(values.port);
server.on('error', (error) => {
  console.error((error as NodeJS.ErrnoException).code === 'EADDRINUSE' ? `Port ${port} is taken.` : String(error));
  process.exit(1);
});
server.listen(port, '127.0.0.1', () => {
  console.log(`Simulated relay at 127.0.0.1:${port} (Modbus TCP; Ctrl-C ends it)`);
});
if (values.deviate) {
  const [slot, percent] = values.deviate.split(':').map(Number);
  if (!relay.deviate(slot, percent)) console.error('It deviates as soon as it holds that slot.');
}
const lines = createInterface({ input: process.stdin });
lines.on('line', (line) => {
  const [word, ...numbers] = line.trim().split(/\s+/);
  if (word === 'deviate') relay.deviate(Number(numbers[0]), Number(numbers[1]));
  else if (word === 'obey') relay.obey();
  else if (word !== 'show' && word !== '') console.log(usage);
  if (word !== '') console.log(relay.told());
});
