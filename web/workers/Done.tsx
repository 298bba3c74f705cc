'use client';

import { useSyncExternalStore } from 'react';
import { Progress, type ProgressProps } from '@mantine/core';
import type { Share } from './answers';

const still = () => () => {};

/** The share as it moves; null when nothing runs. */
export const useShare = (of: Share | null): number | null =>
  useSyncExternalStore(
    of?.subscribe ?? still,
    () => of && of.now,
    () => null,
  );

/** How far a long answer is, as a bar; `label` says what is under way. */
export function Done({ of, label, ...rest }: { of: Share | null; label: string } & Pick<ProgressProps, 'w' | 'size'>) {
  const share = useShare(of);
  return share === null ? null : <Progress value={100 * share} w={90} size="sm" aria-label={label} {...rest} />;
}

/** The same within a sentence; nothing before there is a share to tell. */
export function Percent({ of, before = '' }: { of: Share | null; before?: string }) {
  const share = useShare(of);
  return share ? `${before}${Math.round(100 * share)} %` : '';
}
