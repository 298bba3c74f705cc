'use client';

import { useEffect, useState } from 'react';
import type { Element } from '@mesura/core/model/element';
import { api } from '../project/api';
import { useProject } from '../project/ProjectContext';
import type { Version } from '../server/versions';

/** Versions that were fetched already, by project and revision. */
const held = new Map<string, Promise<Element[]>>();

export interface HeldVersion {
  /** Under which the worker holds it. */
  readonly key: string;
  readonly elements: Element[];
}

/** The elements of a version, fetched once; null for none, and until it is there. */
export function useVersion(revision: number | null): HeldVersion | null {
  const project = useProject((state) => state.id);
  const [got, setGot] = useState<HeldVersion | null>(null);
  useEffect(() => {
    if (revision === null) return;
    const key = `${project} ${revision}`;
    let answer = held.get(key);
    if (!answer) {
      answer = api<{ elements: Element[] }>(`/projects/${project}/state?revision=${revision}`).then(
        ({ elements }) => elements,
      );
      held.set(key, answer);
      answer.catch(() => held.delete(key));
    }
    let stale = false;
    void answer.then(
      (elements) => !stale && setGot({ key, elements }),
      () => {},
    );
    return () => {
      stale = true;
    };
  }, [project, revision]);
  return got && revision !== null && got.key === `${project} ${revision}` ? got : null;
}

/** The named versions of the project, the latest first; none while the server cannot be reached. */
export function useVersions(): readonly Version[] {
  const project = useProject((state) => state.id);
  const revision = useProject((state) => state.revision);
  const [versions, setVersions] = useState<readonly Version[]>([]);
  useEffect(() => {
    let stale = false;
    void api<{ versions: Version[] }>(`/projects/${project}/history`).then(
      (answer) => !stale && setVersions(answer.versions),
      () => {},
    );
    return () => {
      stale = true;
    };
    // A version is named at a revision: the list may have grown with it.
  }, [project, revision]);
  return versions;
}
