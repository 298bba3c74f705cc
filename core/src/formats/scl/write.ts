/**
 * Stations and relays as an SCL file (IEC 61850-6, schema 2007B4 as remembered): a substation section with bays, an IED for each relay, its functions as logical nodes with their settings.
 */
import { alternating } from '../../model/directPart';
import { kinds, nameOf, type Element, type ElementKind } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { find, ofKind, type Network } from '../../model/network';
import { breakersOf, type Relay } from '../../model/protection';
import { stationsOf, type Station } from '../../model/stations';
import { buildTopology, type Topology } from '../../model/topology';
import type { Written } from '../format';
import { Remarks } from '../remarks';
import { escaped } from '../xml';
import { joinedTerminals, terminalName, Union } from '../zeroImpedance';
import { secondaryIn } from './read';
import { logicalNodes, type DataObject, type LogicalNode } from './settings';
import { templates } from './templates';

const namespace = 'http://www.iec.ch/61850/2003/SCL';

/** An element of the file. */
type Xml = readonly [string, Readonly<Record<string, string | number | undefined>>, (readonly Xml[] | string)?];

function text([name, attributes, content]: Xml, depth = 0): string {
  const indent = '  '.repeat(depth);
  const told = Object.entries(attributes)
    .flatMap(([key, value]) => (value === undefined || value === '' ? [] : [` ${key}="${escaped(String(value))}"`]))
    .join('');
  if (content === undefined || content.length === 0) return `${indent}<${name}${told}/>`;
  if (typeof content === 'string') return `${indent}<${name}${told}>${escaped(content)}</${name}>`;
  return `${indent}<${name}${told}>\n${content.map((each) => text(each, depth + 1)).join('\n')}\n${indent}</${name}>`;
}

/** Types of IEC 61850-6, table of primary equipment. */
const types: Partial<Record<ElementKind, string>> = {
  currentTransformer: 'CTR',
  voltageTransformer: 'VTR',
  synchronousMachine: 'GEN',
  powerStationUnit: 'GEN',
  asynchronousMotor: 'MOT',
  networkFeeder: 'IFL',
  load: 'IFL',
  line: 'IFL',
  earthingSwitch: 'DIS',
};

/** What types of power transformers begin with: R the whole of one, W a winding. */
const power = 'PT';

export function sclOf(whole: Network, name: string): Written {
  const network = alternating(whole);
  const left = new Remarks();
  const writing = new Stations(network, left);
  const relays = ofKind(network, 'relay');
  const substations = stationsOf(network).map((station) => writing.station(station));
  const ieds = relays.map((relay) => iedOf(relay, network, writing.iedNames.get(relay.id)!, left));
  if (network.elements.size < whole.elements.size) left.add('networks of direct current');
  left.add('impedances, ratings and everything else that the substation section has no word for');
  const root: Xml = [
    'SCL',
    { xmlns: namespace, version: '2007', revision: 'B', release: '4' },
    [
      ['Header', { id: name, version: '1', revision: '', toolID: 'Mesura', nameStructure: 'IEDName' }],
      ...substations,
      ...ieds,
      ...(ieds.length > 0 ? templates : []),
    ],
  ];
  return { content: `<?xml version="1.0" encoding="UTF-8"?>\n${text(root)}\n`, left: left.all };
}

/** Names that SCL allows in a path: unique where they stand. */
class Names {
  private readonly taken = new Set<string>();

  free(wanted: string, fallback: string): string {
    const plain = wanted.replace(/[^\p{L}\p{N}_.-]+/gu, '_').replace(/^_+|_+$/g, '') || fallback;
    let name = plain;
    for (let n = 2; this.taken.has(name.toLowerCase()); n++) name = `${plain}_${n}`;
    this.taken.add(name.toLowerCase());
    return name;
  }
}

interface Bay {
  readonly name: string;
  readonly elements: Element[];
}

class Stations {
  readonly iedNames = new Map<ElementId, string>();
  private readonly union: Union;
  private readonly topology: Topology;
  private readonly stationNames = new Names();
  /** Relays that measure at a current transformer or open a switch. */
  private readonly atElement = new Map<ElementId, string[]>();

  constructor(
    private readonly network: Network,
    private readonly left: Remarks,
  ) {
    this.union = joinedTerminals(network);
    this.topology = buildTopology(network);
    const names = new Names();
    for (const relay of ofKind(network, 'relay')) {
      // Names of IEDs hold letters, digits and the low line.
      const name = names.free(relay.name.replace(/[^A-Za-z0-9]+/g, '_'), 'IED');
      this.iedNames.set(relay.id, name);
      for (const id of [...relay.inputs.flatMap(({ element }) => element ?? []), ...breakersOf(relay)])
        this.atElement.set(id, [...(this.atElement.get(id) ?? []), name]);
    }
  }

  station(station: Station): Xml {
    const name = this.stationNames.free(station.name, 'Station');
    const own = [...station.elements].flatMap((id) => this.network.elements.get(id) ?? []);
    const lines = ofKind(this.network, 'line');
    const nodeAt = (id: ElementId, terminal: number) => this.union.root(terminalName(id, terminal));
    const buses = own.filter((element) => element.kind === 'bus');
    const stationNodes = new Set(
      own.flatMap((element) => Array.from({ length: kinds[element.kind].terminals }, (_, k) => nodeAt(element.id, k))),
    );
    const lineEnds = lines.flatMap((line) =>
      [0, 1].flatMap((terminal) => (stationNodes.has(nodeAt(line.id, terminal)) ? [{ line, terminal }] : [])),
    );
    const levels = new Map<number, { names: Names; bays: { xml: Xml; kv: number }[] }>();
    const level = (kv: number) => {
      const known = levels.get(kv) ?? { names: new Names(), bays: [] };
      levels.set(kv, known);
      return known;
    };
    const paths = new Map<string, string>();
    const voltageName = (kv: number) => `${String(kv).replace('.', '_')}kV`;
    for (const bus of buses) {
      const node = nodeAt(bus.id, 0);
      const at = level(bus.nominalKv);
      const bay = at.names.free(bus.name.replace(station.name, '').trim(), 'B');
      const path = `${name}/${voltageName(bus.nominalKv)}/${bay}/N`;
      if (paths.has(node)) {
        this.left.add('busbars that are joined without a switch: one of them', bus.name);
        continue;
      }
      paths.set(node, path);
      at.bays.push({
        kv: bus.nominalKv,
        xml: ['Bay', { name: bay, desc: bus.name }, [['ConnectivityNode', { name: 'N', pathName: path }]]],
      });
    }
    const bays = this.baysOf(own, nodeAt, new Set(buses.map((bus) => nodeAt(bus.id, 0))));
    for (const { line, terminal } of lineEnds) {
      const node = nodeAt(line.id, terminal);
      const bay = bays.find(({ elements }) =>
        elements.some((element) =>
          Array.from({ length: kinds[element.kind].terminals }, (_, k) => nodeAt(element.id, k)).includes(node),
        ),
      );
      if (bay) bay.elements.push({ ...line });
      else bays.push({ name: line.name, elements: [line] });
    }
    const ends = new Map(lineEnds.map(({ line, terminal }) => [line.id, terminal]));
    for (const bay of bays) {
      const kv = this.kvOf(bay.elements, buses[0]?.nominalKv ?? 1);
      const at = level(kv);
      const bayName = at.names.free(bay.name.replace(station.name, '').trim(), 'Q');
      const prefix = `${name}/${voltageName(kv)}/${bayName}`;
      const fresh: Xml[] = [];
      const pathAt = (node: string): string => {
        const known = paths.get(node);
        if (known) return known;
        const path = `${prefix}/N${fresh.length + 1}`;
        paths.set(node, path);
        fresh.push(['ConnectivityNode', { name: `N${fresh.length + 1}`, pathName: path }]);
        return path;
      };
      const names = new Names();
      const equipment = bay.elements.map((element) =>
        this.equipment(
          element,
          names,
          prefix,
          (terminal) => pathAt(nodeAt(element.id, terminal)),
          ends.get(element.id) ?? 0,
        ),
      );
      at.bays.push({ kv, xml: ['Bay', { name: bayName }, [...equipment, ...fresh]] });
    }
    const transformers = own.flatMap((element): Xml[] =>
      element.kind === 'transformer' || element.kind === 'threeWindingTransformer'
        ? [this.transformer(element, new Names(), (terminal) => paths.get(nodeAt(element.id, terminal)))]
        : [],
    );
    for (const element of own)
      if (
        !types[element.kind] &&
        !['switch', 'bus', 'relay', 'transformer', 'threeWindingTransformer', 'connection', 'shunt'].includes(
          element.kind,
        ) &&
        kinds[element.kind].terminals > 0
      )
        this.left.add(`${kinds[element.kind].title}: no type of equipment of its own`, nameOf(element));
    return [
      'Substation',
      { name, desc: station.name },
      [
        ...transformers,
        ...[...levels]
          .sort(([p], [q]) => q - p)
          .map(([kv, { bays: own }]): Xml => [
            'VoltageLevel',
            { name: voltageName(kv) },
            [['Voltage', { multiplier: 'k', unit: 'V' }, String(kv)], ...own.map(({ xml }) => xml)],
          ]),
      ],
    ];
  }

  /** What hangs together without a busbar in between stands in one bay. */
  private baysOf(
    own: readonly Element[],
    nodeAt: (id: ElementId, terminal: number) => string,
    busNodes: ReadonlySet<string>,
  ): Bay[] {
    const inBays = own.filter(
      ({ kind }) => kind === 'switch' || kind === 'shunt' || (types[kind] !== undefined && kind !== 'line'),
    );
    const union = new Union();
    for (const element of inBays)
      for (let k = 0; k < kinds[element.kind].terminals; k++) {
        const node = nodeAt(element.id, k);
        if (!busNodes.has(node)) union.join(element.id, `node ${node}`);
      }
    const groups = new Map<string, Element[]>();
    for (const element of inBays) {
      const key = union.root(element.id);
      groups.set(key, [...(groups.get(key) ?? []), element]);
    }
    return [...groups.values()].map((elements) => {
      const first = elements.find(({ kind }) => kind === 'switch') ?? elements[0];
      return { name: nameOf(first), elements };
    });
  }

  private kvOf(elements: readonly Element[], fallback: number): number {
    for (const element of elements)
      for (let k = 0; k < kinds[element.kind].terminals; k++) {
        const node = this.topology.nodeAt(element.id, k);
        const kv = node === undefined ? null : this.topology.nodes[node].nominalKv;
        if (kv !== null) return kv;
      }
    return fallback;
  }

  private equipment(
    element: Element,
    names: Names,
    prefix: string,
    pathOf: (terminal: number) => string,
    lineTerminal: number,
  ): Xml {
    const type =
      element.kind === 'switch'
        ? switchType(element.type)
        : element.kind === 'shunt'
          ? element.type === 'capacitor'
            ? 'CAP'
            : 'REA'
          : types[element.kind]!;
    if (element.kind === 'switch' && !['breaker', 'disconnector'].includes(element.type))
      this.left.add('that a switch is a fuse, a link, a contactor or a recloser', element.name);
    const name = names.free(nameOf(element), type);
    const terminal = (k: number) => terminalAt(pathOf(k), `T${k + 1}`);
    const terminals =
      element.kind === 'line'
        ? [terminal(lineTerminal)]
        : element.kind === 'earthingSwitch'
          ? [terminal(0), ['Terminal', { connectivityNode: `${prefix}/grounded`, cNodeName: 'grounded' }] as Xml]
          : Array.from({ length: Math.min(2, kinds[element.kind].terminals) }, (_, k) => terminal(k)).slice(
              0,
              element.kind === 'powerStationUnit' ? 1 : 2,
            );
    const references = (this.atElement.get(element.id) ?? []).map((iedName): Xml => [
      'LNode',
      { iedName, ldInst: 'PROT', lnClass: type === 'CTR' ? 'TCTR' : type === 'VTR' ? 'TVTR' : 'PTRC', lnInst: '1' },
    ]);
    return ['ConductingEquipment', { name, type, desc: nameOf(element) }, [...references, ...terminals]];
  }

  private transformer(element: Element, names: Names, pathOf: (terminal: number) => string | undefined): Xml {
    const name = names.free(nameOf(element), 'T');
    const windings = Array.from({ length: kinds[element.kind].terminals }, (_, k): Xml => {
      const path = pathOf(k);
      const terminal = path ? [terminalAt(path)] : [];
      return ['TransformerWinding', { name: `W${k + 1}`, type: `${power}W` }, terminal];
    });
    return ['PowerTransformer', { name, type: `${power}R`, desc: nameOf(element) }, windings];
  }
}

/** A terminal at a connectivity node, with the parts of its path as the schema asks for them. */
function terminalAt(path: string, name?: string): Xml {
  const [substationName, voltageLevelName, bayName, cNodeName] = path.split('/');
  return ['Terminal', { name, connectivityNode: path, substationName, voltageLevelName, bayName, cNodeName }];
}

const switchType = (type: string): string =>
  type === 'breaker' || type === 'recloser' || type === 'contactor' ? 'CBR' : 'DIS';

function iedOf(relay: Relay, network: Network, name: string, left: Remarks): Xml {
  const { nodes, without } = logicalNodes(relay, secondaryIn(network, relay));
  for (const fn of without)
    left.add(
      'functions other than time-overcurrent, distance and differential protection',
      `${relay.name}: ${'code' in fn ? fn.code : fn.family}`,
    );
  if (relay.functions.some((fn) => fn.family === 'distance'))
    left.add(
      'of distance protection the shape of zones, starting, load and the reach of earth loops by itself',
      relay.name,
    );
  if (find(network, 'currentTransformer', relay.inputs[1]?.element ?? null))
    left.add('further inputs of relays', relay.name);
  return [
    'IED',
    { name, desc: relay.name, type: relay.device, manufacturer: 'generic', configVersion: '1' },
    [
      [
        'AccessPoint',
        { name: 'AP1' },
        [
          [
            'Server',
            {},
            [
              ['Authentication', { none: 'true' }],
              [
                'LDevice',
                { inst: 'PROT' },
                [
                  ['LN0', { lnClass: 'LLN0', inst: '', lnType: 'LLN0' }],
                  ['LN', { lnClass: 'LPHD', inst: '1', lnType: 'LPHD' }],
                  ['LN', { lnClass: 'PTRC', inst: '1', lnType: 'PTRC' }],
                  ...nodes.map(nodeOf),
                ],
              ],
            ],
          ],
        ],
      ],
    ],
  ];
}

const nodeOf = (node: LogicalNode): Xml => [
  'LN',
  { prefix: node.prefix, lnClass: node.class, inst: node.instance, lnType: node.class, desc: node.description },
  node.objects.map(objectOf),
];

function objectOf({ name, form, value, unit }: DataObject): Xml {
  const val: Xml = ['Val', {}, value];
  if (form !== 'setMag') return ['DOI', { name }, [['DAI', { name: form }, [val]]]];
  const units: Xml[] = unit ? [['SDI', { name: 'units' }, [['DAI', { name: 'SIUnit' }, [['Val', {}, unit]]]]]] : [];
  return ['DOI', { name }, [['SDI', { name: 'setMag' }, [['DAI', { name: 'f' }, [val]]]], ...units]];
}

export type { Xml };
