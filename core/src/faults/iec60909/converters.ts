/**
 * Sources behind full-size converters during a fault: currents that do not depend on the voltage, added by the absolute values of the transfer
 * impedances, Ik″ = (c·Un/√3 + Σ |Zij|·IkPFj)/|Zii|. IEC 60909-0:2016, 7.2.2. As phasors: each current is turned so that it raises the voltage at the fault in
 * phase with the equivalent source, and all shares still add up.
 */
import { magnitude, scale, type Complex } from '../../linear/complex';
import { emptyValues, type NodeValues } from '../../linear/inverse';
import { once } from '../../linear/once';
import type { Assembly } from '../../assembly/assemble';
import type { NetworkInjection } from '../../assembly/collect';
import { addScaled } from '../../assembly/ports';
import { unitInjection, weigh, type SequenceNetwork, type Sparse } from '../../assembly/sequenceNetwork';

/** What the converters do to a fault at one place. */
export interface Raised {
  /** Their currents in amperes, each in the phase position that counts most at the place. */
  readonly injections: readonly NetworkInjection[];
  /** Voltages that they raise at all nodes. */
  readonly values: NodeValues;
}

export interface Converters {
  /** Σ |Zij|·IkPFj in volts at the place that is sensed so. */
  raisedAt(sense: Sparse): number;
  towards(sense: Sparse): Raised;
}

/** Null where no converter stands in a supplied part. */
export function convertersOf(
  { injections, supplied, nodeCount }: Pick<Assembly, 'injections' | 'supplied' | 'nodeCount'>,
  positive: SequenceNetwork,
): Converters | null {
  const active = injections.filter(({ node }) => supplied[node]);
  if (active.length === 0) return null;
  const column = ({ node }: NetworkInjection) => positive.solve(unitInjection(node));
  /** For faults at nodes, which a table asks for one by one. */
  const atNodes = once(() => {
    const sum = new Float64Array(nodeCount);
    for (const each of active) {
      const { re, im } = column(each);
      const size = magnitude(each.current);
      for (let k = 0; k < nodeCount; k++) sum[k] += size * Math.hypot(re[k], im[k]);
    }
    return sum;
  });
  return {
    raisedAt: (sense) =>
      sense.node.length === 1 && sense.re[0] === 1 && sense.im[0] === 0
        ? atNodes()[sense.node[0]]
        : active.reduce((sum, each) => sum + magnitude(each.current) * magnitude(weigh(sense, column(each))), 0),
    towards(sense) {
      const values = emptyValues(nodeCount);
      const turnedOnes = active.map((each) => {
        const own = column(each);
        const current = inPhase(each.current, weigh(sense, own));
        addScaled(values, own, current);
        return { ...each, current };
      });
      return { injections: turnedOnes, values };
    },
  };
}

/** A current turned so that it raises the voltage at the fault in phase with the source, through this transfer impedance. */
export function inPhase(current: Complex, transfer: Complex): Complex {
  const size = magnitude(transfer);
  return size === 0 ? current : scale({ re: transfer.re, im: -transfer.im }, magnitude(current) / size);
}
