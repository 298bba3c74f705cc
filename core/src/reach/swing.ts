/**
 * The path of the impedance that a relay sees while two parts of the network swing against each other: two voltages behind the impedances at both ends of its line.
 * Ways around the line are left out, so that the path crosses the line as it does when the line is the last tie. Textbooks; IEEE PSRC on power swings (as remembered).
 */
import { solidFault } from '../faults/kinds';
import { faultAtPlace, terminalPlace } from '../faults/iec60909/study';
import { add, divide, multiply, polar, subtract, zero, type Complex } from '../linear/complex';
import type { ElementId } from '../model/fields';
import type { Studies } from '../studies/studies';
import { farthestPath } from './runs';
import type { LineEnd } from './seen';

export interface Swing {
  /** Ohms behind the relay, of the line, and behind its far end. */
  readonly behind: Complex;
  readonly line: Complex;
  readonly far: Complex;
}

/** By so many degrees. */
const step = 4;

/** Z = (Zb + Zl + Zf)·E/(E − 1) − Zb with E = ratio∠δ: own voltage over that of the far end. */
export function swingPath(
  { behind, line, far }: Swing,
  ratio = 1,
  fromDeg = 30,
  toDeg = 330,
): { readonly deg: number; readonly ohm: Complex }[] {
  const total = add(add(behind, line), far);
  const points: { deg: number; ohm: Complex }[] = [];
  for (let deg = fromDeg; deg <= toDeg; deg += step) {
    const own = polar(ratio, (deg * Math.PI) / 180);
    const current = subtract(own, { re: 1, im: 0 });
    points.push({ deg, ohm: subtract(divide(multiply(total, own), current), behind) });
  }
  return points;
}

/** What stands at both ends of a line when it is out: impedance of the positive sequence there; null where one end is dead without it. */
export function swingOf(studies: Studies, end: LineEnd, condition: ElementId): Swing | null {
  const path = farthestPath(studies, end);
  if (!path) return null;
  const study = studies.iec60909({ condition, outage: end.line });
  const at = ({ line, terminal }: LineEnd): Complex | null => {
    const node = studies.max.assembly.topology.nodeAt(line, terminal);
    const bus = node === undefined ? undefined : studies.max.assembly.topology.nodes[node].buses[0]?.id;
    const result = bus && faultAtPlace(study, terminalPlace(bus, 0), solidFault('3ph'));
    return result && result.ok ? result.fault.z1 : null;
  };
  const [behind, far] = [at(end), at(path.to)];
  return behind && far ? { behind, line: path.ohm ?? zero, far } : null;
}
