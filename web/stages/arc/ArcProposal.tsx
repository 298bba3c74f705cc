'use client';

import { useState } from 'react';
import { Button } from '@mantine/core';
import { familyOf } from '@mesura/core/protection/registry';
import type { ArcProposed } from '@mesura/core/arc/propose';
import { caloriesOf } from '@mesura/core/arc/clothing';
import { decidingCase, type ArcRow } from '@mesura/core/arc/study';
import { formatNumber, plainNumber } from '@mesura/core/fields/quantity';
import { nameIn, settingsOf } from '@mesura/core/model/network';
import { QuantityField } from '../../card/QuantityField';
import { useStoreFunction } from '../../desk/useStoreFunction';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import bench from '../../card/bench.module.css';

/** The slowest setting of what clears the arc that keeps it below an energy, or why there is none. */
export function ArcProposal({ row }: { row: ArcRow }) {
  const network = useProject((state) => state.network);
  const { limitCal } = settingsOf(network).arc;
  const [wanted, setWanted] = useState(limitCal);
  const [asked, setAsked] = useState<number | null>(null);
  const storeFunction = useStoreFunction();
  const energy = row.worst ? decidingCase(row.worst).energy : 0;
  const { value, progress, isCurrent } = useCore<ArcProposed>(
    asked === null ? null : `arc proposal ${row.spot.key} ${asked} ${energy}`,
    (service, ticket, onProgress) => service.arcProposal(row, asked!, ticket, onProgress),
  );
  return (
    <section aria-label="Setting for an energy">
      <div className={bench.head} style={{ marginTop: 8 }}>
        <span className={bench.muted}>Largest setting that keeps it below</span>
        <div style={{ width: 120 }}>
          <QuantityField
            compact
            label="Energy wanted"
            unit="cal/cm²"
            value={wanted}
            onCommit={(next) => {
              if (next === null || next <= 0) return 'above 0 cal/cm²';
              setWanted(next);
              setAsked(null);
              return null;
            }}
          />
        </div>
        <Button size="compact-xs" variant="light" loading={progress !== null} onClick={() => setAsked(wanted)}>
          Propose
        </Button>
      </div>
      {asked !== null && value && (
        <p className={isCurrent ? undefined : bench.stale} role="status" style={{ margin: '0 0 6px' }}>
          {value.ok ? (
            <>
              {nameIn(network, value.proposal.device)}: {value.proposal.title.toLowerCase()}{' '}
              {plainNumber(value.proposal.from)} →{' '}
              {[plainNumber(value.proposal.to), value.proposal.unit].filter(Boolean).join(' ')},{' '}
              {formatNumber(value.proposal.beforeCal, 3)} → {formatNumber(value.proposal.afterCal, 3)} cal/cm²; it still
              waits for those behind it.{' '}
              <Button
                size="compact-xs"
                onClick={() => {
                  const { device, function: fn, field, to, title } = value.proposal;
                  const stored = storeFunction(
                    { device, function: fn },
                    (now) => familyOf(now).withSetting(now, field, to),
                    `${nameIn(network, device)}: ${title.toLowerCase()} for ${formatNumber(asked, 3)} cal/cm²`,
                  );
                  if (stored) setAsked(null);
                }}
              >
                Store
              </Button>
            </>
          ) : (
            value.why
          )}
        </p>
      )}
      {energy > 0 && caloriesOf(energy) <= wanted && asked === null && (
        <p className={bench.muted} style={{ margin: 0 }}>
          It is below {formatNumber(wanted, 3)} cal/cm² as it stands.
        </p>
      )}
    </section>
  );
}
