/** Every route in every role, by its real handler: who is let in, who is not, and that no route was forgotten. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closePool, pool } from '../database';
import { migrate } from '../migrate';
import { createProject } from '../projects';
import { closeWorkers } from '../workers';
import { acceptInvitation, accountSchema, addAccount } from './accounts';
import { admission, permissions, roles, type Role, type RouteName } from './permissions';
import { setRoles } from './roles';
import { beginSession } from './sessions';

const api = join(import.meta.dirname, '../../app/api');
// What answers below every other address says nothing but that it is not there.
const files = readdirSync(api, { recursive: true, encoding: 'utf8' }).filter(
  (file) => file.endsWith('route.ts') && !file.includes('[...rest]'),
);
const pathOf = (file: string) =>
  `/api/${file.replace(/\/?route\.ts$/, '')}`.replace(/\/$/, '').replaceAll(/\[(\w+)\]/g, ':$1');

type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

/**
 * Who may, written down a second time and by hand: n nobody, o whoever is signed in, v viewer, e engineer, c checker, a approver, m administrator of the project, i administrator of the
 * installation who belongs to no project.
 */
const expected: Readonly<Record<RouteName, string>> = {
  'GET /api/health': 'novecami',
  'GET /api/session': 'novecami',
  'POST /api/session': 'novecami',
  'DELETE /api/session': 'novecami',
  'GET /api/invitations/:token': 'novecami',
  'POST /api/invitations/:token': 'novecami',
  'GET /api/account': 'ovecami',
  'POST /api/account/password': 'ovecami',
  'POST /api/account/codes': 'ovecami',
  'DELETE /api/account/sessions/:session': 'ovecami',
  'GET /api/account/tokens': 'ovecami',
  'POST /api/account/tokens': 'ovecami',
  'DELETE /api/account/tokens/:token': 'ovecami',
  'GET /api/accounts': 'i',
  'POST /api/accounts': 'i',
  'PATCH /api/accounts/:account': 'i',
  'GET /api/audit': 'i',
  'GET /api/projects': 'ovecami',
  'POST /api/projects': 'ovecami',
  'POST /api/projects/import': 'ovecami',
  'GET /api/types': 'ovecami',
  'POST /api/types': 'e',
  'DELETE /api/types/:type': 'e',
  'GET /api/rulebooks': 'ovecami',
  'POST /api/rulebooks': 'e',
  'DELETE /api/rulebooks/:rulebook': 'e',
  'GET /api/projects/:id': 'vecam',
  'PATCH /api/projects/:id': 'mi',
  'DELETE /api/projects/:id': 'mi',
  'POST /api/projects/:id/restore': 'mi',
  'GET /api/projects/:id/members': 'vecam',
  'POST /api/projects/:id/members': 'mi',
  'GET /api/projects/:id/audit': 'mi',
  'GET /api/projects/:id/file': 'vecam',
  'GET /api/projects/:id/archive': 'mi',
  'POST /api/projects/:id/duplicate': 'vecam',
  'GET /api/projects/:id/live': 'vecam',
  'POST /api/projects/:id/presence': 'vecam',
  'GET /api/projects/:id/changes': 'vecam',
  'POST /api/projects/:id/changes': 'e',
  'GET /api/projects/:id/changes/:revision': 'vecam',
  'GET /api/projects/:id/history': 'vecam',
  'GET /api/projects/:id/compare': 'vecam',
  'GET /api/projects/:id/state': 'vecam',
  'POST /api/projects/:id/versions': 'e',
  'POST /api/projects/:id/reports': 'vecam',
  'GET /api/projects/:id/sheets': 'vecam',
  'POST /api/projects/:id/sheets': 'eca',
  'GET /api/projects/:id/sheets/:sheet': 'vecam',
  'GET /api/projects/:id/sheets/:sheet/pdf': 'vecam',
  'GET /api/projects/:id/sheets/:sheet/xlsx': 'vecam',
  'POST /api/projects/:id/sheets/folder': 'vecam',
  'GET /api/projects/:id/readings': 'vecam',
  'POST /api/projects/:id/sheets/:sheet/readings': 'e',
  'POST /api/projects/:id/sheets/:sheet/relay': 'e',
  'POST /api/projects/:id/readings/:reading': 'ca',
  'GET /api/v1/openapi.json': 'novecami',
  'GET /api/v1/elements.schema.json': 'novecami',
  'GET /api/v1/projects': 'ovecami',
  'POST /api/v1/projects': 'ovecami',
  'GET /api/v1/projects/:id': 'vecam',
  'GET /api/v1/projects/:id/elements': 'vecam',
  'GET /api/v1/projects/:id/changes': 'vecam',
  'POST /api/v1/projects/:id/changes': 'e',
  'POST /api/v1/projects/:id/imports': 'e',
  'GET /api/v1/projects/:id/export': 'vecam',
  'GET /api/v1/projects/:id/sheets': 'vecam',
  'GET /api/v1/projects/:id/sheets/:sheet': 'vecam',
  'POST /api/v1/projects/:id/studies/:study': 'vecam',
  'GET /api/v1/jobs': 'ovecami',
  'GET /api/v1/jobs/:job': 'ovecami',
  'DELETE /api/v1/jobs/:job': 'ovecami',
  'GET /api/v1/jobs/:job/result': 'ovecami',
  'GET /api/v1/formulas': 'ovecami',
  'POST /api/v1/formulas/:formula': 'ovecami',
};

const letters = { v: 'viewer', e: 'engineer', c: 'checker', a: 'approver', m: 'administrator' } as const;
const accounts = new Map<string, string>();
let project: string;
const mode = process.env.MESURA_ACCOUNTS;

beforeAll(async () => {
  await migrate(join(import.meta.dirname, '../migrations'), process.env.MESURA_DATABASE_URL!);
  process.env.MESURA_ACCOUNTS = 'required';
  project = await createProject('Routes');
  const doer = { accountId: null, name: 'test', address: '' };
  for (const letter of 'ovecami') {
    const { id, invitation } = await addAccount(
      accountSchema.parse({ name: `routes-${letter}`, fullName: letter, administrator: letter === 'i' }),
      doer,
    );
    await acceptInvitation(invitation, 'quince lattice over brine', '');
    accounts.set(letter, id);
    if (letter in letters) await setRoles(pool(), project, id, [letters[letter as keyof typeof letters]]);
  }
});
afterAll(async () => {
  if (mode === undefined) delete process.env.MESURA_ACCOUNTS;
  else process.env.MESURA_ACCOUNTS = mode;
  await closeWorkers();
  await closePool();
});

describe('the table of routes and roles', () => {
  it('names every handler that there is, and none that there is not', () => {
    const found = files.flatMap((file) => {
      const text = readFileSync(join(api, file), 'utf8');
      return [...text.matchAll(/export const (GET|POST|PATCH|DELETE|PUT)\b/g)].map(([, method]) => {
        const name = `${method} ${pathOf(file)}`;
        // Under the name that its folder has.
        expect(text, name).toMatch(
          new RegExp(`export const ${method} = route(<[^(]*>)?\\(\\s*'${name.replaceAll('/', '\\/')}'`),
        );
        return name;
      });
    });
    expect(found.sort()).toEqual(Object.keys(permissions).sort());
    expect(Object.keys(expected).sort()).toEqual(Object.keys(permissions).sort());
    // Every handler is wrapped: a bare function would ask nobody.
    for (const file of files) expect(readFileSync(join(api, file), 'utf8')).not.toMatch(/export (async )?function/);
  });

  it.each(files)('%s lets in whom it should, and nobody else', async (file) => {
    const routes = (await import(join(api, file))) as Record<string, Handler>;
    for (const method of ['GET', 'POST', 'PATCH', 'DELETE'] as const) {
      const handler = routes[method] as Handler | undefined;
      if (!handler) continue;
      const name = `${method} ${pathOf(file)}` as RouteName;
      for (const letter of 'novecami') {
        const account = accounts.get(letter);
        const token = account ? await beginSession(account, '', '') : '';
        const params = Object.fromEntries(
          [...pathOf(file).matchAll(/:(\w+)/g)].map(([, param]) => [param, param === 'id' ? project : 'nobodynobody']),
        );
        const response = await handler(
          new Request('http://127.0.0.1:3000/x', {
            method,
            headers: { host: '127.0.0.1:3000', cookie: `mesura=${token}` },
            ...(method !== 'GET' && method !== 'DELETE' && { body: '{}' }),
          }),
          { params: Promise.resolve(params) },
        );
        const body = response.headers.get('content-type')?.includes('json') ? await response.text() : '';
        if (!body) void response.body?.cancel().catch(() => undefined);
        const code = /"code":"([^"]+)"/.exec(body)?.[1] ?? '';
        const isKeptOut = code === 'signIn' || code === 'role' || body.includes('you do not belong to it');
        expect(`${name} ${letter} ${isKeptOut ? 'kept out' : 'let in'}`).toBe(
          `${name} ${letter} ${expected[name].includes(letter) ? 'let in' : 'kept out'}`,
        );
        if (isKeptOut) expect([401, 403, 404], `${name} ${letter}`).toContain(response.status);
        if (isKeptOut && letter === 'n') expect(response.status).toBe(401);
        // A fault of the program is no answer.
        expect(response.status, `${name} ${letter} ${body}`).not.toBe(500);
        await pool().query('UPDATE projects SET deleted_at = NULL WHERE id = ?', [project]);
      }
    }
  });
});

describe('admission', () => {
  it('lets the owner of a desk do all but make accounts that would outlive it', () => {
    const owner = {
      signedIn: false,
      ownDesk: true,
      administrator: true,
      roles: new Set<Role>(roles),
      engineerSomewhere: true,
    };
    for (const [name, need] of Object.entries(permissions))
      expect(admission(need, owner), name).toBe(need === 'installation' ? 'forbidden' : 'admitted');
  });
  it('tells whoever belongs to nothing not even that a project exists', () => {
    const stranger = {
      signedIn: true,
      ownDesk: false,
      administrator: false,
      roles: new Set<Role>(),
      engineerSomewhere: false,
    };
    expect(admission(permissions['GET /api/projects/:id'], stranger)).toBe('hidden');
    expect(admission(permissions['GET /api/projects/:id'], { ...stranger, roles: new Set<Role>(['viewer']) })).toBe(
      'admitted',
    );
    expect(
      admission(permissions['POST /api/projects/:id/changes'], { ...stranger, roles: new Set<Role>(['viewer']) }),
    ).toBe('forbidden');
  });
});
