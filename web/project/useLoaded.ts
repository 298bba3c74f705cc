'use client';

import { useEffect, useState } from 'react';
import { api, ApiError } from './api';
import type { LoadedProject } from './protocol';

export type Loading =
  { readonly project: LoadedProject } | { readonly problem: string; readonly missing: boolean } | null;

const pauseMs = 2000;

/** The project as the server has it, read once; asked again while the server cannot be reached. */
export function useLoaded(id: string): Loading {
  const [loading, setLoading] = useState<Loading>(null);
  useEffect(() => {
    const gone = new AbortController();
    const load = async () => {
      while (!gone.signal.aborted) {
        try {
          const project = await api<LoadedProject>(`/projects/${id}`, { signal: gone.signal });
          if (!gone.signal.aborted) setLoading({ project });
          return;
        } catch (error) {
          if (gone.signal.aborted) return;
          const failure = error instanceof ApiError ? error : new ApiError(0, 'unknown', String(error));
          // The session has ended since the page came.
          if (failure.status === 401) return window.location.reload();
          setLoading({ problem: failure.message, missing: failure.status === 404 });
          if (!failure.passing) return;
          await new Promise((resolve) => setTimeout(resolve, pauseMs));
        }
      }
    };
    void load();
    return () => gone.abort();
  }, [id]);
  return loading;
}
