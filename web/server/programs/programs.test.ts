/** What programs can do, through a client made from the description: every answer is held against it. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { RowDataPacket } from 'mysql2';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { run } from '@mesura/cli/run';
import { studyNames } from '@mesura/cli/words';
import { demoText } from '@mesura/core/test/demo';
import { closePool, pool } from '../database';
import { migrate } from '../migrate';
import { acceptInvitation, accountSchema, addAccount, changeAccount } from '../people/accounts';
import type { Scope } from '../people/permissions';
import { setRoles } from '../people/roles';
import { closeWorkers } from '../workers';
import { jobLimits, stopJobs } from './jobs';
import { openApi } from './openapi';
import { checkedAnswers, client, served } from './test/client';
import { endToken, makeToken, tokensOf } from './tokens';

const doer = { accountId: null, name: 'test', address: '' };
const mode = process.env.MESURA_ACCOUNTS;
const people = new Map<string, string>();

async function person(name: string): Promise<string> {
  const known = people.get(name);
  if (known) return known;
  const { id, invitation } = await addAccount(accountSchema.parse({ name, fullName: name }), doer);
  await acceptInvitation(invitation, 'quince lattice over brine', '');
  people.set(name, id);
  return id;
}
const tokenOf = async (name: string, scopes: Scope[] = ['read', 'study', 'change'], days = 1) =>
  (await makeToken(await person(name), { label: 'test', scopes, days })).token;

const file = (text: string | Uint8Array) => ({
  body: text as never,
  bodySerializer: (body: unknown) => body as string,
  headers: { 'content-type': 'application/octet-stream' },
});

let project: string;
let astrid: ReturnType<typeof client>;

beforeAll(async () => {
  await migrate(join(import.meta.dirname, '../migrations'), process.env.MESURA_DATABASE_URL!);
  process.env.MESURA_ACCOUNTS = 'required';
  astrid = client(await tokenOf('astrid-programs'));
  const made = await astrid.POST('/api/v1/projects', { params: { query: { name: 'demo.json' } }, ...file(demoText()) });
  project = made.data!.id;
});
afterAll(async () => {
  await stopJobs();
  if (mode === undefined) delete process.env.MESURA_ACCOUNTS;
  else process.env.MESURA_ACCOUNTS = mode;
  await closeWorkers();
  await closePool();
});
const at = () => ({ path: { id: project } });

describe('tokens', () => {
  it('open what their purposes and the roles of their owner allow, and no more', async () => {
    const nobody = await client().GET('/api/v1/projects');
    expect([nobody.response.status, nobody.error?.code]).toEqual([401, 'signIn']);
    const reading = client(await tokenOf('astrid-programs', ['read']));
    expect((await reading.GET('/api/v1/projects')).data!.projects.map(({ id }) => id)).toContain(project);
    const refused = await reading.POST('/api/v1/projects/{id}/studies/flow', { params: at(), body: {} });
    expect([refused.response.status, refused.error?.code]).toEqual([403, 'scope']);
    const changes = {
      batchId: 'abcdefgh-1',
      baseRevision: 1,
      label: 'x',
      origin: 'edit' as const,
      changes: [{ op: 'remove' as const, id: 'x' }],
    };
    expect((await reading.POST('/api/v1/projects/{id}/changes', { params: at(), body: changes })).error?.code).toBe(
      'scope',
    );

    const bo = client(await tokenOf('bo-programs'));
    expect((await bo.GET('/api/v1/projects/{id}', { params: at() })).response.status).toBe(404);
    await setRoles(pool(), project, await person('bo-programs'), ['viewer']);
    expect((await bo.GET('/api/v1/projects/{id}', { params: at() })).response.status).toBe(200);
    expect((await bo.POST('/api/v1/projects/{id}/changes', { params: at(), body: changes })).error?.code).toBe('role');
  });

  it('end when they run out, when their owner ends them or is blocked, and never stand in the database', async () => {
    const account = await person('cleo-programs');
    const ends = async (spoil: (id: string) => Promise<unknown>) => {
      const { token, tokens } = await makeToken(account, { label: 'short', scopes: ['read'], days: 1 });
      const { id } = tokens.at(-1)!;
      expect((await client(token).GET('/api/v1/projects')).response.status).toBe(200);
      expect((await tokensOf(account)).find((each) => each.id === id)!.usedAt).not.toBeNull();
      await spoil(id);
      expect((await client(token).GET('/api/v1/projects')).response.status).toBe(401);
      const [rows] = await pool().query<RowDataPacket[]>('SELECT * FROM api_tokens');
      expect(JSON.stringify(rows)).not.toContain(token.slice(7));
    };
    await ends((id) => pool().query('UPDATE api_tokens SET ends_at = NOW(3) - INTERVAL 1 SECOND WHERE id = ?', [id]));
    await ends((id) => endToken(account, id));
    await expect(endToken(account, 'nobodynobody')).rejects.toThrow('does not exist');
    await ends(() => changeAccount(account, { blocked: true }, doer));
    for (const wrong of ['mesura_x', 'x', `mesura_${'a'.repeat(43)}`, "' OR 1=1 --"])
      expect((await client(wrong).GET('/api/v1/projects')).response.status, wrong).toBe(401);
  });

  it('are not taken where people work themselves', async () => {
    const { GET } = await import('../../app/api/account/tokens/route');
    const token = await tokenOf('astrid-programs');
    const answer = await GET(
      new Request('http://127.0.0.1:3000/api/account/tokens', { headers: { authorization: `Bearer ${token}` } }),
      { params: Promise.resolve({}) },
    );
    expect(answer.status).toBe(401);
  });
});

describe('projects', () => {
  it('are read page by page, and written out as they are', async () => {
    const head = (await astrid.GET('/api/v1/projects/{id}', { params: at() })).data!;
    const ids: string[] = [];
    for (let after: string | null | undefined = undefined; after !== null;) {
      const query: { limit: number; after?: string } = { limit: 100, ...(after !== undefined && { after }) };
      const { data } = await astrid.GET('/api/v1/projects/{id}/elements', { params: { ...at(), query } });
      ids.push(...data!.elements.map(({ id }) => id));
      after = data!.next;
    }
    const count = Object.values(head.elements).reduce((sum, each) => sum + each, 0);
    expect(new Set(ids).size).toBe(count);
    expect(ids.length).toBe(count);
    const { data: buses } = await astrid.GET('/api/v1/projects/{id}/elements', {
      params: { ...at(), query: { kind: 'bus' } },
    });
    expect(buses!.elements.length).toBe(head.elements.bus);
    const { data: text } = await astrid.GET('/api/v1/projects/{id}/export', {
      params: { ...at(), query: { as: 'project' } },
      parseAs: 'text',
    });
    const inOrder = (json: string) =>
      (JSON.parse(json) as { elements: { id: string }[] }).elements.sort((p, q) => (p.id < q.id ? -1 : 1));
    expect(inOrder(text as unknown as string)).toEqual(inOrder(demoText()));
  });

  it('take changes as one step, once, and tell of a clash', async () => {
    const { data } = await astrid.GET('/api/v1/projects/{id}/elements', {
      params: { ...at(), query: { kind: 'bus', limit: 1 } },
    });
    const [bus] = data!.elements;
    const step = (batchId: string, baseRevision: number, name: string) =>
      astrid.POST('/api/v1/projects/{id}/changes', {
        params: at(),
        body: {
          batchId,
          baseRevision,
          label: 'Renamed by a program',
          origin: 'edit',
          changes: [{ op: 'update', element: { ...bus, name } }],
        },
      });
    const first = await step('program-1', data!.revision, 'North');
    expect(first.data!.revision).toBe(data!.revision + 1);
    expect((await step('program-1', data!.revision, 'North')).data!.revision).toBe(first.data!.revision);
    const clash = await step('program-2', data!.revision, 'South');
    expect([clash.response.status, clash.error?.code]).toEqual([409, 'revision.clash']);
    const steps = await astrid.GET('/api/v1/projects/{id}/changes', {
      params: { ...at(), query: { since: data!.revision } },
    });
    expect(steps.data!.batches).toHaveLength(1);
    expect(steps.data!.batches![0]).toMatchObject({ author: 'astrid-programs' });
    await step('program-3', first.data!.revision, bus.name as string);
  });

  it('begin from files of other formats, and take files in as one step', async () => {
    const cdf = readFileSync(join(import.meta.dirname, '../../../core/reference/powerFlow/ieee-14-bus.cdf'));
    const made = await astrid.POST('/api/v1/projects', { params: { query: { name: 'case.cdf' } }, ...file(cdf) });
    expect(made.response.status).toBe(201);
    const { id } = made.data!;
    expect((await astrid.GET('/api/v1/projects/{id}', { params: { path: { id } } })).data!.elements.bus).toBe(14);
    const again = (query: { name: string; store?: 'true'; take?: string }) =>
      astrid.POST('/api/v1/projects/{id}/imports', { params: { path: { id }, query }, ...file(cdf) });
    const told = (await again({ name: 'case.cdf' })).data!;
    expect([told.stored, told.report.changes, told.revision]).toEqual([false, 0, 1]);
    const other = await astrid.POST('/api/v1/projects/{id}/imports', {
      params: { path: { id }, query: { name: 'case.cdf', store: 'true', mode: 'beside' } },
      ...file(cdf),
    });
    expect([other.data!.stored, other.data!.revision]).toEqual([true, 2]);
    expect((await astrid.GET('/api/v1/projects/{id}', { params: { path: { id } } })).data!.elements.bus).toBe(28);
    const history = await astrid.GET('/api/v1/projects/{id}/changes', {
      params: { path: { id }, query: { since: 1 } },
    });
    expect(history.data!.batches).toHaveLength(1);
    const wrong = await astrid.POST('/api/v1/projects', {
      params: { query: { name: 'x.xml' } },
      ...file('<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>'),
    });
    expect([wrong.response.status, wrong.error?.code]).toEqual([422, 'file.refused']);
  });
});

describe('studies', () => {
  const wait = { prefer: 'wait=60' };

  it('answer what the terminal answers, in each of its forms', async () => {
    const here = (...args: string[]) => run(['faults', 'demo.json', ...args], () => demoText());
    const options = { at: ['BRA 11 A'], kind: 'all' as const, phaseR: 0.5 };
    const words = ['--at', 'BRA 11 A', '--kind', 'all', '--phase-r', '0.5'];
    for (const format of ['json', 'csv', 'table'] as const) {
      const { data: job } = await astrid.POST('/api/v1/projects/{id}/studies/faults', {
        params: { ...at(), header: wait },
        body: { options, format },
      });
      expect(job).toMatchObject({ state: 'done', code: 0, share: 1, study: 'faults' });
      const { data, response } = await astrid.GET('/api/v1/jobs/{job}/result', {
        params: { path: { job: job!.id } },
        parseAs: 'text',
      });
      expect(data as unknown as string).toBe(here(...words, '--format', format).output);
      expect(response.headers.get('mesura-code')).toBe('0');
    }
    const grid = await astrid.POST('/api/v1/projects/{id}/studies/faults', {
      params: { ...at(), header: wait },
      body: { options: { at: ['BRA 11 A'], set: ['BRA T1.ukPercent=8,10'] } },
    });
    const { data } = await astrid.GET('/api/v1/jobs/{job}/result', { params: { path: { job: grid.data!.id } } });
    expect((data as { cases: unknown[] }).cases).toHaveLength(2);
  });

  it('run what is kept in the project, also where it says nothing', async () => {
    const { data: head } = await astrid.GET('/api/v1/projects/{id}', { params: at() });
    const element = { kind: 'script', id: 'quiet', name: 'Quiet', note: '', text: 'project.elements("bus");' };
    await astrid.POST('/api/v1/projects/{id}/changes', {
      params: at(),
      body: {
        batchId: 'script-1',
        baseRevision: head!.revision,
        label: 'A script',
        origin: 'edit',
        changes: [{ op: 'add', element }],
      },
    });
    const { data: job } = await astrid.POST('/api/v1/projects/{id}/studies/script', {
      params: { ...at(), header: wait },
      body: { options: { name: 'Quiet' }, format: 'table' },
    });
    expect(job).toMatchObject({ state: 'done', code: 0 });
    const mine = { params: { path: { job: job!.id } }, parseAs: 'text' as const };
    expect((await astrid.GET('/api/v1/jobs/{job}/result', mine)).data).toBe('');
  });

  it('write documents', async () => {
    const { data: job } = await astrid.POST('/api/v1/projects/{id}/studies/sheet', {
      params: { ...at(), header: wait },
      body: { options: { device: 'BRA Q32 relay' }, format: 'pdf' },
    });
    const answer = await served(
      new Request(`http://127.0.0.1:3000/api/v1/jobs/${job!.id}/result`, {
        headers: { authorization: `Bearer ${await tokenOf('astrid-programs')}` },
      }),
    );
    expect(
      Buffer.from(await answer.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
  });

  it('tell wrong options, and what cannot be computed', async () => {
    const post = (study: string, body: unknown) =>
      served(
        new Request(`http://127.0.0.1:3000/api/v1/projects/${project}/studies/${study}`, {
          method: 'POST',
          headers: { authorization: `Bearer ${token}`, ...wait },
          body: typeof body === 'string' ? body : JSON.stringify(body),
        }),
      );
    const token = await tokenOf('astrid-programs');
    for (const [study, body, status] of [
      ['faults', { options: { nonsense: 1 } }, 422],
      ['faults', { options: { kind: '4ph' } }, 422],
      ['propose', { options: { write: '/etc/passwd' } }, 422],
      ['verify', { options: { against: '/etc/passwd' } }, 422],
      ['completion', {}, 404],
      ['__proto__', {}, 404],
      ['faults', '{', 400],
      ['faults', '[]', 422],
      ['faults', { options: { at: Array.from({ length: 6000 }, () => 'x') } }, 422],
      ['faults', `"${'x'.repeat(1_100_000)}"`, 413],
    ] as const)
      expect((await post(study, body)).status, `${study} ${JSON.stringify(body).slice(0, 60)}`).toBe(status);
    const job = (await (await post('faults', { options: { at: ['nowhere'] } })).json()) as {
      id: string;
      state: string;
      code: number;
      notes: string;
    };
    expect(job).toMatchObject({
      state: 'failed',
      code: 1,
      notes: expect.stringContaining('no bus is called "nowhere"') as string,
    });
    const { error } = await astrid.GET('/api/v1/jobs/{job}/result', { params: { path: { job: job.id } } });
    expect(error).toMatchObject({ status: 422, code: 1 === job.code ? 'job.failed' : '' });
  });

  it('are told how far they are, cancelled, kept from others, and not too many at once', async () => {
    const options = { places: 60, fails: ['all'] };
    const begin = () => astrid.POST('/api/v1/projects/{id}/studies/search', { params: at(), body: { options } });
    const { data: job, response } = await begin();
    expect([response.status, response.headers.get('location')]).toEqual([202, `/api/v1/jobs/${job!.id}`]);
    const mine = { params: { path: { job: job!.id } } };
    expect((await astrid.GET('/api/v1/jobs/{job}/result', mine)).error?.code).toBe('job.open');
    let share = 0;
    for (let k = 0; k < 120 && share === 0; k++)
      share = (await astrid.GET('/api/v1/jobs/{job}', { params: { ...mine.params, header: { prefer: 'wait=1' } } }))
        .data!.share;
    expect(share).toBeGreaterThan(0);
    expect(share).toBeLessThan(1);
    const bo = client(await tokenOf('bo-programs'));
    expect((await bo.GET('/api/v1/jobs/{job}', mine)).response.status).toBe(404);
    expect((await bo.DELETE('/api/v1/jobs/{job}', mine)).response.status).toBe(404);
    const more = await Promise.all(Array.from({ length: jobLimits.open - 1 }, begin));
    expect((await begin()).error?.code).toBe('jobs.many');
    expect((await astrid.DELETE('/api/v1/jobs/{job}', mine)).data!.state).toBe('cancelled');
    expect((await astrid.GET('/api/v1/jobs/{job}/result', mine)).error?.code).toBe('job.cancelled');
    for (const { data } of more) await astrid.DELETE('/api/v1/jobs/{job}', { params: { path: { job: data!.id } } });
    // The thread is free again: the next one is computed.
    const next = await astrid.POST('/api/v1/projects/{id}/studies/flow', {
      params: { ...at(), header: wait },
      body: {},
    });
    expect(next.data!.state).toBe('done');
    expect((await astrid.GET('/api/v1/jobs')).data!.jobs[0].id).toBe(next.data!.id);
    // Cancelled by another server: this one looks, and stops.
    const other = (await begin()).data!.id;
    await pool().query("UPDATE jobs SET state = 'cancelled' WHERE id = ?", [other]);
    expect(
      (await astrid.POST('/api/v1/projects/{id}/studies/flow', { params: { ...at(), header: wait }, body: {} })).data!
        .state,
    ).toBe('done');
    // Of a server that is gone nothing more will come.
    await pool().query("UPDATE jobs SET state = 'running', seen_at = NOW(3) - INTERVAL 1 HOUR WHERE id = ?", [other]);
    expect((await astrid.GET('/api/v1/jobs/{job}', { params: { path: { job: other } } })).data).toMatchObject({
      state: 'failed',
      notes: expect.stringContaining('has ended') as string,
    });
  });
});

describe('formulas', () => {
  it('are computed from plain numbers', async () => {
    const { data } = await astrid.GET('/api/v1/formulas');
    expect(data!.formulas.length).toBeGreaterThan(30);
    const { example } = JSON.parse(run(['formula', 'arc-theoretical', '--format', 'json'], () => '').output) as {
      example: { inputs: Record<string, unknown> };
    };
    const { data: computed } = await astrid.POST('/api/v1/formulas/{formula}', {
      params: { path: { formula: 'arc-theoretical' } },
      body: example.inputs,
    });
    const inTerminal = run(
      ['formula', 'arc-theoretical', JSON.stringify(example.inputs), '--format', 'json'],
      () => '',
    );
    expect(computed!.outputs).toEqual((JSON.parse(inTerminal.output) as { outputs: unknown }).outputs);
    expect(
      (
        await astrid.POST('/api/v1/formulas/{formula}', {
          params: { path: { formula: 'arc-theoretical' } },
          body: { x: 1 },
        })
      ).error?.code,
    ).toBe('formula.inputs');
    expect(
      (await astrid.POST('/api/v1/formulas/{formula}', { params: { path: { formula: 'none' } }, body: {} })).response
        .status,
    ).toBe(404);
  });
});

describe('the description', () => {
  it('tells every study with its options, and no path of a file', () => {
    const { paths } = openApi() as { paths: Record<string, Record<string, object>> };
    for (const study of studyNames) expect(paths[`/api/v1/projects/{id}/studies/${study}`].post).toBeDefined();
    expect(JSON.stringify(paths)).not.toMatch(/"write"|"against"/);
  });
  it('answers for what it does not tell with a problem, not with a page', async () => {
    const { GET } = await import('../../app/api/v1/[...rest]/route');
    const answer = GET(new Request('http://localhost/api/v1/projets'));
    expect([answer.status, answer.headers.get('content-type')]).toEqual([404, 'application/problem+json']);
    expect(await answer.json()).toMatchObject({ code: 'missing', detail: expect.stringContaining('/api/v1/projets') });
  });
  it('was held against the answers of these tests', () => expect(checkedAnswers).toBeGreaterThan(60));
});
