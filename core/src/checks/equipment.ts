/** What is missing, contradictory or too small in the equipment: terminals that lead nowhere, voltages that do not match, ratings below what is calculated, feeders that nothing protects, values nobody has confirmed. */
import { faultAt, type Iec60909Study } from '../faults/iec60909/study';
import type { StudyPair } from '../grading/seen';
import { connectionsAt } from '../drawing/splice';
import { kinds, nameOf, type Element, type ElementKind, type ElementOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { ofKind, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import { nextBreakingKa, nextPrimaryA, nextRatedCurrentA } from '../model/standardSizes';

type Switch = ElementOf<'switch'>;

export const equipmentFindings = (studies: StudyPair): Problem[] => {
  const { network } = studies.max.assembly;
  return [
    ...openTerminals(network),
    ...mismatchedVoltages(studies.max),
    ...breakingCapacities(studies.max),
    ...normalCurrents(network),
    ...unprotected(network),
    ...assumptions(network),
  ];
};

/** Kinds that may end in the open: a spare breaker, a winding or a generator side that nobody uses. */
const mayStayOpen: readonly ElementKind[] = [
  'bus',
  'switch',
  'currentTransformer',
  'earthingSwitch',
  'threeWindingTransformer',
  'powerStationUnit',
];
const complete = (Object.keys(kinds) as ElementKind[]).filter(
  (kind) => kinds[kind].terminals > 0 && !mayStayOpen.includes(kind),
);

function openTerminals(network: Network): Problem[] {
  return complete.flatMap((kind) =>
    ofKind(network, kind).flatMap((element): Problem[] => {
      const taken = new Set(
        (connectionsAt(network).get(element.id) ?? []).flatMap(({ from, to }) =>
          [from, to].flatMap((end) => (end.element === element.id ? [end.terminal] : [])),
        ),
      );
      const count = kinds[kind].terminals;
      if (taken.size === count) return [];
      const which =
        taken.size === 0
          ? 'is connected to nothing'
          : `is connected at one end only (terminal ${taken.has(0) ? 2 : 1} is free)`;
      return [
        { severity: 'warning', code: 'terminal.open', message: `${nameOf(element)} ${which}`, element: element.id },
      ];
    }),
  );
}

/** Rated and nominal voltage may differ so far: 0.42 kV at 0.4 kV, 10.5 kV at 11 kV, 34.5 kV at 33 kV. */
const voltageTolerance = 0.13;

function mismatchedVoltages({ assembly }: Iec60909Study): Problem[] {
  const { network, topology } = assembly;
  const problems: Problem[] = [];
  const compare = (element: Element, terminal: number, ratedKv: number, field: string) => {
    const node = topology.nodeAt(element.id, terminal);
    const [bus] = node === undefined ? [] : topology.nodes[node].buses;
    if (!bus || Math.abs(ratedKv - bus.nominalKv) <= voltageTolerance * bus.nominalKv) return;
    problems.push({
      severity: 'warning',
      code: 'voltage.rated',
      message: `${nameOf(element)} is rated for ${ratedKv} kV and stands on ${bus.name} with ${bus.nominalKv} kV`,
      element: element.id,
      field,
    });
  };
  for (const each of ofKind(network, 'transformer')) {
    compare(each, 0, each.hvKv, 'hvKv');
    compare(each, 1, each.lvKv, 'lvKv');
  }
  for (const kind of [
    'synchronousMachine',
    'asynchronousMotor',
    'staticDrive',
    'converterSource',
    'doublyFedMachine',
    'shunt',
    'earthingTransformer',
    'seriesReactor',
  ] as const)
    for (const each of ofKind(network, kind)) compare(each, 0, each.ratedKv, 'ratedKv');
  for (const each of ofKind(network, 'voltageTransformer')) compare(each, 0, each.primaryKv, 'primaryKv');
  return problems;
}

/** Rated breaking current against the largest initial current at the place: IEC 62271-100 asks for no less. */
function breakingCapacities(study: Iec60909Study): Problem[] {
  return ofKind(study.assembly.network, 'switch').flatMap((device): Problem[] => {
    if (device.breakingKa === null || (device.type !== 'breaker' && device.type !== 'fuse')) return [];
    const largest = Math.max(
      ...(['3ph', '1ph'] as const).flatMap((kind) =>
        [0, 1].map((terminal) => {
          const result = faultAt(study, device.id, terminal, kind);
          return result.ok ? result.fault.ikA : 0;
        }),
      ),
    );
    const wanted = largest / 1000;
    if (wanted <= device.breakingKa) return [];
    const value = nextBreakingKa(wanted);
    return [
      {
        severity: 'error',
        code: 'rating.breaking',
        message: `${device.name} breaks ${device.breakingKa} kA; Ik″ where it stands reaches ${Number(wanted.toPrecision(4))} kA`,
        element: device.id,
        field: 'breakingKa',
        proposal: { path: 'breakingKa', value, text: `${value} kA` },
      },
    ];
  });
}

/** Rated currents of switches and current transformers against the rated current of what hangs on the same run. */
function normalCurrents(network: Network): Problem[] {
  const tooSmall = (device: Element, ratedA: number, field: string, says: string, next: (value: number) => number) => {
    const worst = runOf(network, device.id)
      .others.flatMap(({ element, terminal }) => {
        const current = ratedCurrentOf(element, terminal);
        return current === null ? [] : [{ element, current }];
      })
      .sort((p, q) => q.current - p.current)[0];
    if (!worst || worst.current <= ratedA) return [];
    const value = next(worst.current);
    return [
      {
        severity: 'warning' as const,
        code: 'rating.current',
        message: `${nameOf(device)} ${says} ${ratedA} A; the rated current of ${nameOf(worst.element)} is ${Number(worst.current.toPrecision(4))} A`,
        element: device.id,
        field,
        proposal: { path: field, value, text: `${value} A` },
      },
    ];
  };
  return [
    ...ofKind(network, 'switch').flatMap((device) =>
      device.ratedA === null
        ? []
        : tooSmall(device, device.ratedA, 'ratedA', 'carries', (value) =>
            nextRatedCurrentA(value, device.type === 'fuse' ? 'fuse' : 'other'),
          ),
    ),
    ...ofKind(network, 'currentTransformer').flatMap((device) =>
      tooSmall(device, device.primaryA, 'primaryA', 'has a rated primary current of', nextPrimaryA),
    ),
  ];
}

const root3 = Math.sqrt(3);

function ratedCurrentOf(element: Element, terminal: number): number | null {
  switch (element.kind) {
    case 'transformer':
      return (element.ratedMva * 1000) / (root3 * (terminal === 0 ? element.hvKv : element.lvKv));
    case 'asynchronousMotor':
      return (
        (element.count * element.ratedMw * 1000) /
        ((element.efficiencyPercent / 100) * element.powerFactor * root3 * element.ratedKv)
      );
    case 'synchronousMachine':
    case 'staticDrive':
    case 'converterSource':
    case 'doublyFedMachine':
      return (element.ratedMva * 1000) / (root3 * element.ratedKv);
    default:
      return null;
  }
}

interface Run {
  /** Switches and current transformers of the run. */
  readonly inline: readonly Element[];
  /** What ends the run: busbars, and others with the terminal that it meets. */
  readonly buses: readonly ElementOf<'bus'>[];
  readonly others: readonly { readonly element: Element; readonly terminal: number }[];
}

/** A run of symbols without impedance, from one busbar or impedance to the next. */
function runOf(network: Network, id: ElementId): Run {
  const seen = new Set([id]);
  const open = [id];
  const run = { inline: [] as Element[], buses: [] as ElementOf<'bus'>[], others: [] as Run['others'][number][] };
  while (open.length > 0) {
    const at = open.pop()!;
    run.inline.push(network.elements.get(at)!);
    for (const { from, to } of connectionsAt(network).get(at) ?? []) {
      const far = from.element === at ? to : from;
      const element = network.elements.get(far.element);
      if (!element || seen.has(far.element)) continue;
      if (element.kind === 'bus') run.buses.push(element);
      else if (element.kind === 'switch' || element.kind === 'currentTransformer') {
        seen.add(far.element);
        open.push(far.element);
      } else run.others.push({ element, terminal: far.terminal });
    }
  }
  return run;
}

/** Breakers of feeders that no relay in use trips, and no fuse stands in for: one finding for all. Couplers and spare breakers are left out. */
function unprotected(network: Network): Problem[] {
  const tripped = new Set(
    ofKind(network, 'relay').flatMap((relay) => (relay.functions.some((fn) => fn.enabled) ? relay.trips : [])),
  );
  const loose: Switch[] = [];
  const seen = new Set<ElementId>();
  for (const device of ofKind(network, 'switch')) {
    if (device.type !== 'breaker' || seen.has(device.id)) continue;
    const run = runOf(network, device.id);
    const switches = run.inline.filter((element): element is Switch => element.kind === 'switch');
    for (const { id } of switches) seen.add(id);
    const isProtected = switches.some(({ id, type }) => type === 'fuse' || tripped.has(id));
    if (!isProtected && run.others.length > 0 && run.buses.length > 0)
      loose.push(...switches.filter(({ type }) => type === 'breaker'));
  }
  if (loose.length === 0) return [];
  return [
    {
      severity: 'warning',
      code: 'protection.none',
      message: `no relay trips ${listed(loose.map(nameOf))}`,
      element: loose[0].id,
      elements: loose.map(({ id }) => id),
    },
  ];
}

/** One finding for each kind of element with values nobody has confirmed. */
function assumptions(network: Network): Problem[] {
  const byKind = new Map<ElementKind, Element[]>();
  for (const element of network.elements.values())
    if ('assumed' in element && element.assumed && element.assumed.length > 0)
      byKind.set(element.kind, [...(byKind.get(element.kind) ?? []), element]);
  return [...byKind].map(([kind, elements]) => ({
    severity: 'assumed',
    code: 'data.assumed',
    message: `${kinds[kind].title}: typical values stand in for data of ${listed(elements.map(nameOf))}`,
    element: elements[0].id,
    elements: elements.map(({ id }) => id),
  }));
}

const listed = (names: readonly string[]): string =>
  names.length <= 4 ? names.join(', ') : `${names.slice(0, 3).join(', ')} and ${names.length - 3} more`;
