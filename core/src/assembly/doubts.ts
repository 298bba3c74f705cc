/** What can be computed and yet is doubtful: uncommon ratios of reactance to resistance, networks without an earthed neutral. */
import { nameOf, type Element } from '../model/element';
import type { Problem } from '../model/problem';
import type { Assembly } from './assemble';
import { connectivity } from './connectivity';

interface Usual {
  readonly low: number;
  readonly high: number;
  /** Field to look at first. */
  readonly field: string;
}

/** Usual X/R by kind, wide enough that what lies outside is most likely a slip. Experience, not a standard. */
const usual: Partial<Record<Element['kind'], Usual>> = {
  line: { low: 0.005, high: 25, field: 'r1OhmPerKm' },
  transformer: { low: 0.8, high: 80, field: 'uRPercent' },
  threeWindingTransformer: { low: 0.8, high: 150, field: 'hvMv.uRPercent' },
  networkFeeder: { low: 0.5, high: 60, field: 'max.rOverX' },
  synchronousMachine: { low: 3, high: 250, field: 'rOhm' },
  asynchronousMotor: { low: 0.8, high: 60, field: 'rOverX' },
};

export const doubtsOf = (assembly: Assembly): Problem[] => [...uncommonRatios(assembly), ...unearthed(assembly)];

function uncommonRatios({ network, positive }: Assembly): Problem[] {
  const sums = new Map<Element, { r: number; x: number }>();
  for (const z of [...positive.series, ...positive.shunts.filter((shunt) => shunt.role === 'source')]) {
    const element = network.elements.get(z.element)!;
    const sum = sums.get(element) ?? { r: 0, x: 0 };
    sums.set(element, { r: sum.r + Math.abs(z.rOhm), x: sum.x + Math.abs(z.xOhm) });
  }
  return [...sums].flatMap(([element, { r, x }]): Problem[] => {
    const range = usual[element.kind];
    if (!range || (x >= range.low * r && x <= range.high * r)) return [];
    const ratio = r === 0 ? 'without any resistance' : `X/R = ${Number((x / r).toPrecision(3))}`;
    return [
      {
        severity: 'warning',
        code: 'ratio.uncommon',
        message: `${nameOf(element)}: ${ratio} is uncommon (usual are ${range.low} to ${range.high}); check reactance and resistance`,
        element: element.id,
        field: range.field,
      },
    ];
  });
}

/** One finding for each part of the zero-sequence network without an earth path, or with resonant coils only where they say so themselves. */
function unearthed(assembly: Assembly): Problem[] {
  const { lists, topology, supplied, zero } = assembly;
  const { part, floating } = connectivity(lists.zero);
  const named = new Map<number, { first: Problem; more: number }>();
  for (const node of topology.nodes) {
    const bus = node.buses[0];
    if (!bus || floating[node.index] < 0 || !supplied[node.index] || zero.gapsAt(node.index).length > 0) continue;
    const known = named.get(part[node.index]);
    if (known) known.more++;
    else
      named.set(part[node.index], {
        more: 0,
        first: {
          severity: 'warning',
          code: 'earthing.none',
          message: bus.name,
          element: bus.id,
        },
      });
  }
  return [...named.values()].map(({ first, more }) => ({
    ...first,
    message: `${first.message}${more > 0 ? ` and ${more} more bus${more > 1 ? 'es' : ''}` : ''}: no neutral is earthed, an earth fault draws the current of the line capacitances only`,
  }));
}
