/** A line on a chart that is no device: what something bears, carries or draws, in primary amperes at its own voltage. */
import type { ElementId } from '../model/fields';
import type { CurvePair } from '../protection/pointCurve';

/** `damage`: must not be reached. `load`, `inrush`, `start`: must pass below the devices. */
export type LimitKind = 'damage' | 'load' | 'inrush' | 'start' | 'supply';

export interface LimitCurve {
  /** Unique on a chart: the element and which of its lines. */
  readonly id: string;
  readonly element: ElementId;
  readonly title: string;
  readonly kind: LimitKind;
  /** Voltage that the amperes are at. */
  readonly kv: number;
  readonly points: readonly CurvePair[];
  readonly source: string;
  /** Typical or only remembered. */
  readonly mark: '' | 'remembered' | 'typical';
}
