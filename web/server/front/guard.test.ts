/** Who is let in, request by request. */
import { describe, expect, it } from 'vitest';
import { cameFrom, hostsOf, Rate, refusalOf, securityHeaders } from './guard';
import { routeOf } from './log';

const hosts = hostsOf(3000, 'desk.example:443');
const ask = (over: { method?: string; url?: string; headers?: Record<string, string> } = {}) =>
  refusalOf({ method: 'GET', url: '/', ...over, headers: { host: '127.0.0.1:3000', ...over.headers } }, hosts)
    ?.status ?? 200;

describe('the guard', () => {
  it('knows its own names and those that its owner has added, and no others', () => {
    for (const host of ['127.0.0.1:3000', 'localhost:3000', '[::1]:3000', 'LOCALHOST:3000', 'desk.example:443'])
      expect(ask({ headers: { host } }), host).toBe(200);
    for (const host of [
      'rebound.example',
      'rebound.example:3000',
      '127.0.0.1',
      '127.0.0.1:3001',
      '127.0.0.1:3000.example',
      '',
    ])
      expect(ask({ headers: { host } }), host).toBe(421);
  });
  it('refuses other origins on every method, also null and what is none', () => {
    for (const method of ['GET', 'POST', 'PATCH', 'DELETE', 'HEAD'])
      for (const origin of [
        'null',
        'http://elsewhere.example',
        'http://127.0.0.1:3001',
        'x',
        '',
        'http://127.0.0.1:3000/x',
      ])
        expect(ask({ method, headers: { origin } }), `${method} ${origin}`).toBe(403);
    expect(ask({ method: 'POST', headers: { origin: 'http://127.0.0.1:3000' } })).toBe(200);
    expect(ask({ method: 'POST', headers: { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate' } })).toBe(
      403,
    );
    expect(ask({ headers: { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate' } })).toBe(200);
    expect(ask({ headers: { 'sec-fetch-site': 'same-site', 'sec-fetch-mode': 'cors' } })).toBe(403);
  });
  it('refuses methods and addresses that stand for nothing', () => {
    for (const method of ['TRACE', 'PUT', 'CONNECT', 'LOCK', '']) expect(ask({ method }), method).toBe(405);
    for (const url of [
      '/%',
      '/%zz',
      '/x?y=%',
      '//elsewhere',
      'x',
      '/a%00b',
      '/a%0ab',
      '/a%5cb',
      '/../x',
      '/%2e%2e/x',
      'http://x/',
    ])
      expect(ask({ url }), url).toBe(400);
    for (const url of ['/', '/p/abc', '/x?y=1+2%20', '/%C3%A9']) expect(ask({ url }), url).toBe(200);
    expect(ask({ url: `/${'x'.repeat(5000)}` })).toBe(414);
  });
  it('lets a client ask so often and no oftener, and others none the less', () => {
    let now = 0;
    const rate = new Rate(10, 20, () => now);
    const taken = (client: string, count: number) =>
      Array.from({ length: count }, () => rate.take(client)).filter(Boolean).length;
    expect(taken('a', 30)).toBe(20);
    expect(taken('b', 5)).toBe(5);
    now += 1000;
    expect(taken('a', 30)).toBe(10);
  });
});

describe('the log', () => {
  it('names routes, not projects, queries or names', () => {
    expect(routeOf('/api/projects/abcdefghjkmn/changes?since=12')).toBe('/api/projects/:id/changes');
    expect(routeOf('/api/projects/abcdefghjkmn/sheets/draft-bra-q32-relay/pdf')).toBe(
      '/api/projects/:id/sheets/:id/pdf',
    );
    expect(routeOf('/_next/static/chunks/x.js')).toBe('/_next/*');
    expect(routeOf('/p/abcdefghjkmn\n')).not.toContain('\n');
  });
});

describe('names that it answers under', () => {
  it('are those of loopback, and the address that it listens on where that is one', () => {
    const own = ['127.0.0.1:3000', 'localhost:3000', '[::1]:3000'];
    expect([...hostsOf(3000)]).toEqual(own);
    expect([...hostsOf(3000, '', '192.0.2.10')]).toEqual([...own, '192.0.2.10:3000']);
    expect([...hostsOf(3000, '', '2001:DB8::1')]).toEqual([...own, '[2001:db8::1]:3000']);
    for (const any of ['0.0.0.0', '::']) expect([...hostsOf(3000, '', any)]).toEqual(own);
  });
});

describe('behind a proxy', () => {
  it('nothing is let in where nobody signs in; with accounts it is', () => {
    for (const name of ['forwarded', 'x-forwarded-for', 'x-forwarded-host', 'x-forwarded-proto', 'x-real-ip', 'via'])
      expect(ask({ headers: { [name]: 'x' } }), name).toBe(403);
    const request = { method: 'GET', url: '/', headers: { host: 'desk.example:443', 'x-forwarded-for': '192.0.2.1' } };
    expect(refusalOf(request, hosts, false)).toBeNull();
    expect(refusalOf(request, hosts)).toMatchObject({ code: 'proxy' });
  });
  it('what it says of the client counts only where it is trusted, and only what it added itself', () => {
    const headers = { 'x-forwarded-for': '203.0.113.7, 192.0.2.9', 'x-forwarded-proto': 'https' };
    expect(cameFrom(headers, '::ffff:127.0.0.1', false)).toEqual({ address: '127.0.0.1', secure: false });
    expect(cameFrom(headers, '127.0.0.1', true)).toEqual({ address: '192.0.2.9', secure: true });
    expect(cameFrom({ 'x-forwarded-for': '<script>', 'x-forwarded-proto': 'http' }, '127.0.0.1', true)).toEqual({
      address: '127.0.0.1',
      secure: false,
    });
    expect(cameFrom({}, '192.0.2.1', true)).toEqual({ address: '192.0.2.1', secure: false });
  });
  it('over TLS the browser is told to stay there', () => {
    expect(securityHeaders('n', true)['strict-transport-security']).toMatch(/max-age=\d{7,}/);
    expect(securityHeaders('n')).not.toHaveProperty('strict-transport-security');
    expect(securityHeaders('n')['permissions-policy']).toContain('camera=()');
  });
});
