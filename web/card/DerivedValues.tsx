'use client';

import { useMemo } from 'react';
import { derivedOf } from '@mesura/core/sequence/derived';
import type { Element } from '@mesura/core/model/element';
import { settingsOf, type Network } from '@mesura/core/model/network';
import { buildTopology } from '@mesura/core/model/topology';
import { formatNumber } from '@mesura/core/fields/quantity';
import classes from './card.module.css';

/** What follows from the data, also while it is being typed. */
export function DerivedValues({
  element,
  network,
  drafting,
}: {
  element: Element;
  network: Network;
  drafting: boolean;
}) {
  const kv = useMemo(() => {
    const topology = buildTopology(network);
    const node = topology.nodeAt(element.id, 0);
    return node === undefined ? null : topology.nodes[node].nominalKv;
  }, [network, element.id]);
  const { baseMva, frequencyHz } = settingsOf(network);
  const values = derivedOf(element, { kv, baseMva, frequencyHz });
  if (values.length === 0) return null;
  return (
    <section aria-label="Derived values" className={classes.derivedSection}>
      <div className={classes.section}>Follows from these data{drafting ? ', as typed' : ''}</div>
      <dl className={classes.derived}>
        {values.map(({ title, value, unit, by }) => (
          <div key={title} title={by}>
            <dt>{title}</dt>
            <dd className="figure">
              {formatNumber(value)}
              {unit ? `\u2009${unit}` : ''}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
