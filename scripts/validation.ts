/** The validation report: published, computed, difference, from the same reference files as the tests. */
import { elementId } from '../core/src/model/fields';
import { magnitude } from '../core/src/linear/complex';
import type { FaultKind } from '../core/src/faults/kinds';
import { faultAt, iec60909Study } from '../core/src/faults/iec60909/study';
import { inverseTime } from '../core/src/protection/overcurrent/characteristics';
import { fromReference, type ReferenceNetwork } from '../core/src/test/network';
import { ik1Ka, ik3Ka, ip3Ka, printed } from '../core/src/test/tr60909';
import { faultCase, protectionCases } from '../core/src/test/reference';

interface Row {
  what: string;
  unit: string;
  published: number;
  computed: number;
}

const table = (rows: Row[]) =>
  [
    '| quantity | unit | published | computed | difference |',
    '| --- | --- | ---: | ---: | ---: |',
    ...rows.map(({ what, unit, published, computed }) => {
      const difference = published === 0 ? computed - published : ((computed - published) / published) * 100;
      return `| ${what} | ${unit} | ${published} | ${Number(computed.toPrecision(7))} | ${published === 0 ? difference.toExponential(1) : `${difference.toFixed(4)} %`} |`;
    }),
  ].join('\n');

function radial(): Row[] {
  const { network, expected } = faultCase<{ network: ReferenceNetwork; expected: Record<string, number> }>(
    'hand-radial-far-solid',
  );
  const study = iec60909Study(fromReference(network), 'max');
  const fault = (kind: FaultKind) => {
    const result = faultAt(study, elementId('C'), 0, kind);
    if (!result.ok) throw new Error(result.problems[0].message);
    return result.fault;
  };
  const double = fault('2phE');
  return [
    { what: 'Ik″ three-phase', unit: 'kA', published: expected.Ik3_kA, computed: fault('3ph').ikA / 1000 },
    { what: 'Ik″ two-phase', unit: 'kA', published: expected.Ik2_kA, computed: fault('2ph').ikA / 1000 },
    { what: 'Ik″ single-phase-earth', unit: 'kA', published: expected.Ik1_kA, computed: fault('1ph').ikA / 1000 },
    { what: 'IkE2E″', unit: 'kA', published: expected.IkE2E_kA, computed: double.earthA / 1000 },
    { what: 'Ik2EL2″', unit: 'kA', published: expected.Ik2E_L2_kA, computed: magnitude(double.phases.l2) / 1000 },
    { what: 'Ik2EL3″', unit: 'kA', published: expected.Ik2E_L3_kA, computed: magnitude(double.phases.l3) / 1000 },
    { what: 'κ', unit: '', published: expected.kappa_radial, computed: fault('3ph').kappa },
    { what: 'ip three-phase', unit: 'kA', published: expected.ip3_kA, computed: fault('3ph').ipA / 1000 },
  ];
}

function star(): Row[] {
  const { network, expected } = faultCase<{ network: ReferenceNetwork; expected: Record<string, number> }>(
    'hand-dyn-earth-fault-star-side',
  );
  const study = iec60909Study(fromReference(network), 'max');
  return (['3ph', '1ph'] as const).map((kind) => {
    const result = faultAt(study, elementId('B'), 0, kind);
    if (!result.ok) throw new Error(result.problems[0].message);
    return {
      what: `Ik″ ${kind}`,
      unit: 'kA',
      published: kind === '3ph' ? expected.Ik3_B_kA : expected.Ik1_B_kA,
      computed: result.fault.ikA / 1000,
    };
  });
}

function testNetwork(): Row[] {
  const rows = (what: string, published: Record<string, number>, computed: (bus: string) => number): Row[] =>
    Object.entries(published).map(([bus, value]) => ({
      what: `${what}, bus ${bus}`,
      unit: 'kA',
      published: value,
      computed: computed(bus),
    }));
  return [
    ...rows('Ik″ three-phase', printed.ik3Ka, ik3Ka),
    ...rows('Ik″ single-phase-earth', printed.ik1Ka, ik1Ka),
    ...rows(
      'ip three-phase (20 Hz method; from a second solver, not printed)',
      printed.ip3By20HzKa_secondSolver,
      ip3Ka,
    ),
  ];
}

const curves = (): Row[] =>
  protectionCases('toc').map(({ id, inputs, expected }) => ({
    what: id,
    unit: 's',
    published: expected,
    computed: inverseTime({ k: inputs.k, alpha: inputs.alpha, c: inputs.c }, inputs.M, inputs.tms),
  }));

export function validationReport(): string {
  return `# Validation

Made by \`npm run generate\` from the reference cases in \`core/reference/\`; the same files feed the tests. The published digits come from
standards and textbooks as remembered; the cases listed here are marked *verified* in the files (an independent computation reproduces them).

## Test network of IEC TR 60909-4, clause 6

Three-winding transformers and power-station units have no element in the program yet: their impedances are worked out by the standard's
formulas in the test itself and put into the program's networks and solver (\`core/src/test/tr60909.ts\`).

${table(testNetwork())}

## Radial network, solidly earthed transformer (closed form, IEC 60909-0, 7.2 to 7.5 and 8.1)

${table(radial())}

## Earth fault on the star side of a delta–star transformer (closed form)

${table(star())}

## Dependent-time characteristics (IEC 60255-151, Annex A)

Published times are rounded to the digits shown; the tests hold each to its rounding.

${table(curves())}
`;
}
