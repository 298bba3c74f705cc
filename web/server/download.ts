/** Answers with a file to be saved under a name (RFC 6266, with an ASCII fallback). */
export function download(name: string, type: string, body: BodyInit): Response {
  const ascii = name.replace(/[^\x20-\x7e]|["\\/]/g, '_');
  return new Response(body, {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="${ascii}"; filename*=UTF-8''${encodeURIComponent(name)}`,
      'cache-control': 'no-store',
    },
  });
}
