/** Requests that nobody honest would send, made from the routes and from the schema of the project file; every answer must be one of the 200s, 300s or 400s. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from '../lib/system.mjs';
import { demo, Instance, pick, seeded, sleep } from './instance.mjs';

const nasty = [
  null,
  true,
  0,
  -1,
  1.5,
  1e308,
  -1e308,
  5e-324,
  2 ** 53,
  '',
  ' ',
  '\0',
  '\ud83d',
  '\udc00x',
  '=1+1',
  "'; DROP TABLE projects; --",
  '../../../../etc/passwd',
  '<script>alert(1)</script>',
  'x'.repeat(5000),
  'Ω'.repeat(300),
  [],
  {},
  [[[[[[]]]]]],
  { __proto__: { admin: true } },
  { constructor: { prototype: { admin: true } } },
  { toString: 1 },
];

/** A value that the schema allows, more or less. */
function valueOf(schema, random, definitions, depth = 0) {
  if (depth > 8 || typeof schema !== 'object' || schema === null) return null;
  if (schema.$ref) return valueOf(definitions[schema.$ref.split('/').pop()], random, definitions, depth + 1);
  if ('const' in schema) return schema.const;
  if (schema.enum) return pick(random, schema.enum);
  const choices = schema.anyOf ?? schema.oneOf;
  if (choices) return valueOf(pick(random, choices), random, definitions, depth + 1);
  switch (schema.type) {
    case 'object': {
      const entries = Object.entries(schema.properties ?? {}).map(([key, inner]) => [
        key,
        valueOf(inner, random, definitions, depth + 1),
      ]);
      return Object.fromEntries(entries);
    }
    case 'array':
      return Array.from({ length: Math.floor(3 * random()) }, () =>
        valueOf(schema.items, random, definitions, depth + 1),
      );
    case 'string':
      return pick(random, ['a', 'bra-t1', 'Dyn11', 'YNd1', 'YNyn0d5', 'Name', 'x-1']);
    case 'number':
    case 'integer':
      return pick(random, [schema.minimum ?? 0, schema.maximum ?? 1, 1, 2, 11, 0.5]);
    case 'boolean':
      return random() < 0.5;
    default:
      return null;
  }
}

/** The same with some things in it replaced by something nasty. */
function spoilt(value, random, rate) {
  if (random() < rate) return pick(random, nasty);
  if (Array.isArray(value)) return value.map((each) => spoilt(each, random, rate));
  if (typeof value !== 'object' || value === null) return value;
  const entries = Object.entries(value).map(([key, inner]) => [
    random() < rate / 4 ? pick(random, ['', '__proto__', 'x'.repeat(300)]) : key,
    spoilt(inner, random, rate),
  ]);
  return Object.fromEntries(entries.filter(() => random() > rate / 4));
}

function request(random, schema, ids) {
  const definitions = schema.$defs ?? {};
  const element = () => valueOf(schema.properties.elements.items, random, definitions);
  const rate = pick(random, [0, 0.02, 0.1, 0.4]);
  const id = pick(random, [
    ids[0],
    ids[0],
    ids[1],
    'nosuchproject',
    '%00',
    "' OR 1=1",
    '..',
    '%2e%2e',
    'x'.repeat(200),
  ]);
  const number = pick(random, ['1', '0', '-1', '1e9', 'x', '', '99999999999999999999', '%', '1.5', 'NaN']);
  const headers = { 'content-type': 'application/json' };
  if (random() < 0.05) headers.origin = pick(random, ['null', 'http://elsewhere.example', '%', '']);
  if (random() < 0.03) headers.host = pick(random, ['elsewhere.example', '', '127.0.0.1']);
  if (random() < 0.03) headers['content-length-hint'] = 'x'.repeat(2000);
  if (random() < 0.05)
    headers['content-type'] = pick(random, ['text/plain', 'application/xml', '', 'multipart/form-data; boundary=x']);
  if (random() < 0.03) headers.cookie = 'x'.repeat(1000);
  const changes = () =>
    Array.from({ length: 1 + Math.floor(3 * random()) }, () =>
      pick(random, [
        { op: 'add', element: element() },
        { op: 'update', element: element() },
        { op: 'remove', id: 'bra-t1' },
        { op: 'set', id: 'a', set: {} },
      ]),
    );
  const batch = () => ({
    batchId: `hostile-${Math.floor(1e9 * random())}`,
    baseRevision: pick(random, [1, 0, 2, 1e12]),
    label: 'x',
    origin: 'edit',
    author: 'x',
    clients: ['me'],
    changes: changes(),
  });
  const bodies = {
    batch,
    project: () => ({
      format: 'mesura-project',
      version: 1,
      name: 'x',
      notes: '',
      elements: Array.from({ length: 4 }, element),
    }),
    name: () => ({ name: 'x' }),
    sheet: () => ({
      do: 'prepare',
      subjects: [{ kind: 'device', id: 'bra-q32-relay' }],
      revision: 1,
      reason: 'x',
      key: 'hostile-key-1',
      as: 'x',
    }),
    reading: () => ({ source: 'x', values: [{ key: null, code: '51', setting: 'Pickup', value: '1' }] }),
    version: () => ({ revision: 1, name: 'v', author: 'x' }),
  };
  const [method, path, make] = pick(random, [
    ['POST', `/api/projects/${id}/changes`, 'batch'],
    ['POST', `/api/projects/${id}/changes`, 'batch'],
    ['POST', `/api/projects/${id}/changes`, 'batch'],
    ['GET', `/api/projects/${id}/changes?since=${number}`],
    ['POST', `/api/v1/projects/${id}/changes`, 'batch'],
    ['POST', `/api/v1/projects/${id}/studies/faults`, 'name'],
    ['POST', `/api/v1/projects/${id}/studies/${number}`, 'name'],
    ['POST', `/api/v1/projects?name=${number}`, 'project'],
    ['POST', `/api/v1/projects/${id}/imports?name=x&take=${number}`, 'project'],
    ['GET', `/api/v1/projects/${id}/elements?limit=${number}&after=${number}`],
    ['GET', `/api/v1/projects/${id}/export?as=${number}`],
    ['GET', `/api/v1/jobs/${number}/result`],
    ['POST', `/api/v1/formulas/peak-factor`, 'name'],
    ['GET', `/api/projects/${id}/changes/${number}`],
    ['POST', '/api/projects/import', 'project'],
    ['POST', '/api/projects/import', 'project'],
    ['POST', '/api/projects', 'name'],
    ['PATCH', `/api/projects/${ids[1]}`, 'name'],
    ['DELETE', `/api/projects/nosuch${number}`],
    ['GET', `/api/projects/${id}`],
    ['GET', `/api/projects/${id}/history?before=${number}`],
    ['GET', `/api/projects/${id}/compare?from=${number}&to=1`],
    ['GET', `/api/projects/${id}/state?revision=${number}`],
    ['GET', `/api/projects/${id}/file`],
    ['GET', `/api/projects/${id}/sheets`],
    ['POST', `/api/projects/${id}/sheets`, 'sheet'],
    ['GET', `/api/projects/${id}/sheets/${number}/pdf`],
    ['POST', `/api/projects/${id}/sheets/${number}/readings`, 'reading'],
    ['GET', `/api/projects/${id}/sheets/draft-${number}`],
    ['GET', `/api/projects/${id}/sheets/draft-${number}/pdf`],
    ['POST', `/api/projects/${id}/versions`, 'version'],
    ['POST', `/api/projects/${id}/restore`],
    [pick(random, ['TRACE', 'PUT', 'OPTIONS', 'HEAD', 'LOCK']), `/api/projects/${id}`],
    ['GET', `/${pick(random, ['%', '%zz', '..%2f..%2fetc/passwd', '_next/%', 'p/%E0%A4%A', '\u00ff', 'a%00b'])}`],
  ]);
  let body;
  if (make) {
    body = JSON.stringify(spoilt(bodies[make](), random, rate));
    const chance = random();
    if (chance < 0.03) body = body.slice(0, Math.floor(body.length * random()));
    else if (chance < 0.05)
      body = pick(random, ['', 'null', '"x"', '[', '{"a":', '\ufeff{}', '['.repeat(20_000), '0'.repeat(70_000)]);
  }
  return { method, path, headers, body };
}

export async function hostile({ count, seed = 11, say }) {
  const random = seeded(seed);
  const schema = JSON.parse(readFileSync(join(root, 'docs/formats/project.schema.json'), 'utf8'));
  const instance = await Instance.create();
  const figures = {
    requests: 0,
    answersOf500: 0,
    noAnswer: 0,
    statuses: {},
    unhealthy: 0,
    startFailures: 0,
    slowestMs: 0,
  };
  try {
    const { ok } = await instance.start();
    if (!ok) return { ...figures, startFailures: 1 };
    const ids = [];
    for (let k = 0; k < 2; k++)
      ids.push(JSON.parse((await instance.request('POST', '/api/projects/import', { body: demo() })).text).id);
    const one = async () => {
      const asked = request(random, schema, ids);
      const answer = await instance.request(asked.method, encodeURI(asked.path).replaceAll('%25', '%'), asked);
      figures.requests++;
      // What Node's own client refuses to send was no request.
      if (answer.status === -1) return;
      figures.statuses[answer.status || answer.error] = (figures.statuses[answer.status || answer.error] ?? 0) + 1;
      figures.slowestMs = Math.max(figures.slowestMs, Math.round(answer.ms));
      if (answer.status === 0) figures.noAnswer++;
      if (answer.status >= 500 && answer.status !== 503 && answer.status !== 507) {
        figures.answersOf500++;
        if (figures.answersOf500 <= 5)
          say(`${answer.status}: ${asked.method} ${asked.path.slice(0, 80)} ${asked.body?.slice(0, 300) ?? ''}`);
      }
    };
    while (figures.requests < count) {
      await Promise.all(Array.from({ length: 8 }, one));
      if (figures.requests % 2000 < 8) {
        if (!(await instance.healthy(5000))) figures.unhealthy++;
        say(`${figures.requests} hostile requests: ${JSON.stringify(figures.statuses)}`);
      }
    }
    await sleep(200);
    if (!(await instance.healthy(5000))) figures.unhealthy++;
    return figures;
  } finally {
    await instance.end();
  }
}
