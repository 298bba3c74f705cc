/** A line on a chart that is no device: what something bears, carries or draws, in primary amperes at its own voltage. */
import type { ElementId } from '../model/fields';
import type { CurvePair } from '../protection/pointCurve';

/** What an element can have a line of. */
export type LineName =
  | 'withstand'
  | 'category'
  | 'withstandEarth'
  | 'inrush'
  | 'load'
  | 'loadNow'
  | 'loadGrown'
  | 'conductor'
  | 'reclosed'
  | 'start'
  | 'decrement'
  | ArcLineName;

/** Of equal energy of an arc, by its cal/cm². */
export type ArcLineName = `arc${number}`;

/** `damage`: must not be reached. `load`, `inrush`, `start`: must pass below the devices. */
export type LimitKind = 'damage' | 'load' | 'inrush' | 'start' | 'supply';

export interface LimitCurve {
  readonly element: ElementId;
  /** Which of its lines. */
  readonly line: LineName;
  readonly title: string;
  readonly kind: LimitKind;
  /** Voltage that the amperes are at. */
  readonly kv: number;
  readonly points: readonly CurvePair[];
  readonly source: string;
  /** Typical or only remembered. */
  readonly mark: '' | 'remembered' | 'typical';
}
