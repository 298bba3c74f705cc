'use client';

import { memo } from 'react';
import { BaseEdge, type Edge, type EdgeProps } from '@xyflow/react';

export type WireEdgeType = Edge<{ path: string; color: string; dotted: boolean }, 'wire'>;

/** A connection, or the dotted line from a relay to its current transformer. */
export const WireEdge = memo(function WireEdge({ id, data, selected }: EdgeProps<WireEdgeType>) {
  return (
    <BaseEdge
      id={id}
      path={data!.path}
      interactionWidth={data!.dotted ? 0 : 10}
      style={{
        stroke: selected ? 'var(--m-accent)' : data!.color,
        strokeWidth: data!.dotted ? 1 : selected ? 2.6 : 1.6,
        strokeDasharray: data!.dotted ? '2 3' : undefined,
      }}
    />
  );
});
