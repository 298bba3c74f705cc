/** Reports of the server as files to keep. */
import { ApiError } from './api';

/** Asks for a report on the stored project and hands it to the browser as a file. Errors as of {@link api}. */
export const saveReport = (projectId: string, request: object, signal?: AbortSignal): Promise<void> =>
  saveFile(`/projects/${projectId}/reports`, request, signal);

/** Asks for a file that the server makes, and hands it to the browser. Errors as of {@link api}. */
export async function saveFile(path: string, request: object, signal?: AbortSignal): Promise<void> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method: 'POST',
      body: JSON.stringify(request),
      headers: { 'content-type': 'application/json' },
      signal,
    });
  } catch (error) {
    if ((error as Error).name === 'AbortError') throw error;
    throw new ApiError(0, 'network', 'The server cannot be reached.');
  }
  if (!response.ok) {
    const body = (await response.json().catch(() => null)) as { error?: { code?: string; message?: string } } | null;
    throw new ApiError(
      response.status,
      body?.error?.code ?? 'unknown',
      body?.error?.message ?? `The server answered ${response.status}.`,
    );
  }
  const encoded = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get('content-disposition') ?? '')?.[1];
  const url = URL.createObjectURL(await response.blob());
  Object.assign(document.createElement('a'), { href: url, download: decodeURIComponent(encoded ?? 'report') }).click();
  setTimeout(() => URL.revokeObjectURL(url), 10000);
}
