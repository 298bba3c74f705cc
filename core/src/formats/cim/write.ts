/** A network as a CIM model: equipment with short-circuit data (EQ), operation (SSH) and drawing (DL), in a bundle. What CIM has no class for is left out, and told. */
import { isDrawn } from '../../drawing/shape/shapes';
import { alternating } from '../../model/directPart';
import { kinds, nameOf, type Element, type ElementKind } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { elementsByKind, find, ofKind, settingsOf, type Network } from '../../model/network';
import { stationsOf } from '../../model/stations';
import { buildTopology } from '../../model/topology';
import type { Written } from '../format';
import { Remarks } from '../remarks';
import { CimDocument, uuidOf, type Property } from './document';
import { joinedTerminals, terminalName, type Union } from '../zeroImpedance';
import { writers } from './writeEquipment';

/** Everything that writing an element needs. */
export class Writing {
  readonly eq: CimDocument;
  readonly ssh: CimDocument;
  readonly left = new Remarks();
  private readonly nodes: Union;
  private readonly levels = new Map<string, string>();
  private readonly baseVoltages = new Map<number, string>();
  private readonly madeNodes = new Set<string>();
  private readonly stations = new Map<ElementId, string>();
  private readonly topology;

  constructor(
    readonly network: Network,
    private readonly name: string,
    modelId: string,
  ) {
    this.eq = new CimDocument('EQ', modelId, name);
    this.ssh = new CimDocument('SSH', uuidOf(`${modelId} SSH`), name, [modelId]);
    this.topology = buildTopology(network);
    this.nodes = nodesOf(network);
    this.eq.add('GeographicalRegion', this.id('region'), { 'IdentifiedObject.name': name });
    this.eq.add('SubGeographicalRegion', this.id('subregion'), {
      'IdentifiedObject.name': name,
      'SubGeographicalRegion.Region': { to: this.id('region') },
    });
    for (const station of stationsOf(network)) {
      const id = this.id(`station ${station.id}`);
      this.substation(id, station.name);
      for (const element of station.elements) this.stations.set(element, id);
    }
  }

  /** Of something that is no element of its own. */
  id(key: string): string {
    return uuidOf(`${this.name} ${key}`);
  }

  idOf(element: Element): string {
    const own = 'foreign' in element ? element.foreign?.find(({ source }) => source === 'cim')?.id : undefined;
    return own ?? this.id(`element ${element.id}`);
  }

  private substation(id: string, name: string): void {
    this.eq.add('Substation', id, {
      'IdentifiedObject.name': name,
      'Substation.Region': { to: this.id('subregion') },
    });
  }

  /** The station that an element stands in; what stands in none has one together. */
  stationOf(element: ElementId): string {
    const found = this.stations.get(element);
    if (found) return found;
    const id = this.id('station of nothing');
    if (!this.stations.has('' as ElementId)) {
      this.stations.set('' as ElementId, id);
      this.substation(id, this.name);
    }
    return id;
  }

  baseVoltage(kv: number): string {
    let id = this.baseVoltages.get(kv);
    if (!id) {
      this.baseVoltages.set(kv, (id = this.id(`base voltage ${kv}`)));
      this.eq.add('BaseVoltage', id, { 'IdentifiedObject.name': `${kv} kV`, 'BaseVoltage.nominalVoltage': kv });
    }
    return id;
  }

  level(element: ElementId, kv: number): string {
    const station = this.stationOf(element);
    const key = `${station} ${kv}`;
    let id = this.levels.get(key);
    if (!id) {
      this.levels.set(key, (id = this.id(`level ${key}`)));
      this.eq.add('VoltageLevel', id, {
        'IdentifiedObject.name': `${kv} kV`,
        'VoltageLevel.Substation': { to: station },
        'VoltageLevel.BaseVoltage': { to: this.baseVoltage(kv) },
      });
    }
    return id;
  }

  /** Nominal voltage at a terminal, else `fallback`. */
  kvAt(element: ElementId, terminal: number, fallback: number): number {
    const node = this.topology.nodeAt(element, terminal);
    return (node === undefined ? null : this.topology.nodes[node].nominalKv) ?? fallback;
  }

  /** Terminals of equipment with the nodes they stand at. */
  terminals(element: Element, count: number, kv: (terminal: number) => number): string[] {
    return Array.from({ length: count }, (_, k) => this.terminal(element, k, k, kv(k)));
  }

  /** A terminal of an element, as the terminal `number` of the equipment `of` (the element itself unless given). */
  terminal(element: Element, terminal: number, number: number, kv: number, of = this.idOf(element)): string {
    const node = this.id(`node ${this.nodes.root(terminalName(element.id, terminal))}`);
    if (!this.madeNodes.has(node)) {
      this.madeNodes.add(node);
      this.eq.add('ConnectivityNode', node, {
        'IdentifiedObject.name': `N${this.madeNodes.size}`,
        'ConnectivityNode.ConnectivityNodeContainer': { to: this.level(element.id, kv) },
      });
    }
    return this.terminalAt(of, node, number);
  }

  terminalAt(equipment: string, node: string, number: number): string {
    const id = this.id(`terminal ${equipment} ${number}`);
    this.eq.add('Terminal', id, {
      'Terminal.ConductingEquipment': { to: equipment },
      'Terminal.ConnectivityNode': { to: node },
      'ACDCTerminal.sequenceNumber': number + 1,
    });
    this.ssh.add('Terminal', id, { 'ACDCTerminal.connected': true });
    return id;
  }

  /** A node of nothing else, such as the earth side of an earthing switch. */
  ownNode(key: string, element: ElementId, kv: number): string {
    const node = this.id(`node ${key}`);
    this.eq.add('ConnectivityNode', node, {
      'IdentifiedObject.name': key.slice(0, 32),
      'ConnectivityNode.ConnectivityNodeContainer': { to: this.level(element, kv) },
    });
    return node;
  }

  /** Equipment in the voltage level of its first terminal. */
  equipment(
    type: string,
    element: Element,
    kv: number,
    properties: Readonly<Record<string, Property>>,
    id = this.idOf(element),
  ): void {
    this.eq.add(type, id, {
      'IdentifiedObject.name': nameOf(element),
      'Equipment.EquipmentContainer': { to: this.level(element.id, kv) },
      'ConductingEquipment.BaseVoltage': { to: this.baseVoltage(kv) },
      ...properties,
    });
  }
}

const silently: ReadonlySet<ElementKind> = new Set<ElementKind>([
  'connection',
  'projectSettings',
  'page',
  'tower',
  'panel',
  'condition',
  'libraryEntry',
  'rulebook',
  'textNote',
  'chartPicture',
  'gradingChart',
  'trial',
  'batch',
  'script',
  'earthStudy',
  'linePackage',
]);

export function cimOf(whole: Network, name: string): Written {
  const network = alternating(whole);
  const modelId = uuidOf(`model ${name}`);
  const writing = new Writing(network, name, modelId);
  const { left } = writing;
  for (const [kind, elements] of elementsByKind(network)) {
    const write = writers[kind] as ((element: Element, writing: Writing) => void) | undefined;
    if (write) for (const element of elements) write(element, writing);
    else if (!silently.has(kind))
      left.add(
        `${kinds[kind].title}: no class of these profiles`,
        elements.length > 1 ? `${elements.length} of them` : nameOf(elements[0]),
      );
  }
  if (network !== whole && network.elements.size < whole.elements.size) left.add('networks of direct current');
  if (ofKind(network, 'condition').length > 0) left.add('conditions: the model is the network as drawn');
  if (settingsOf(network).frequencyHz === 60) left.add('frequency: the profiles do not tell 60 Hz');
  const file = name.replace(/[^A-Za-z0-9]+/g, '_').slice(0, 60) || 'network';
  return {
    content: {
      files: [
        { name: `${file}_EQ.xml`, text: writing.eq.text },
        { name: `${file}_SSH.xml`, text: writing.ssh.text },
        { name: `${file}_DL.xml`, text: diagramOf(writing, name, modelId) },
      ],
    },
    left: left.all,
  };
}

/** What connections and current transformers join is one node. */
function nodesOf(network: Network): Union {
  const union = joinedTerminals(network);
  for (const { id } of ofKind(network, 'currentTransformer')) union.join(terminalName(id, 0), terminalName(id, 1));
  return union;
}

/** Where everything stands, in units of the drawing, heights counted downward as on a page: a diagram for each page. */
function diagramOf(writing: Writing, name: string, modelId: string): string {
  const document = new CimDocument('DL', uuidOf(`${modelId} DL`), name, [modelId]);
  const diagrams = new Map<ElementId | undefined, string>();
  const diagramOn = (page: ElementId | undefined): string => {
    let id = diagrams.get(page);
    if (!id) {
      diagrams.set(page, (id = writing.id(`diagram ${page ?? ''}`)));
      const title = find(writing.network, 'page', page ?? null)?.name ?? name;
      document.add(
        'Diagram',
        id,
        { 'IdentifiedObject.name': title, 'Diagram.orientation': { choice: 'OrientationKind.negative' } },
        false,
      );
    }
    return id;
  };
  diagramOn(undefined);
  for (const [kind, elements] of elementsByKind(writing.network)) {
    if (!(kind in writers)) continue;
    for (const element of elements) {
      if (!isDrawn(element)) continue;
      const object = writing.id(`drawn ${element.id}`);
      document.add(
        'DiagramObject',
        object,
        {
          'DiagramObject.Diagram': { to: diagramOn(element.page) },
          'DiagramObject.IdentifiedObject': { to: writing.idOf(element) },
          ...(element.turn !== 0 && { 'DiagramObject.rotation': element.turn }),
        },
        false,
      );
      const points = element.kind === 'bus' ? [element.x, element.x + element.length] : [element.x];
      points.forEach((x, k) =>
        document.add(
          'DiagramObjectPoint',
          writing.id(`point ${element.id} ${k}`),
          {
            'DiagramObjectPoint.DiagramObject': { to: object },
            'DiagramObjectPoint.sequenceNumber': k + 1,
            'DiagramObjectPoint.xPosition': x,
            'DiagramObjectPoint.yPosition': element.y,
          },
          false,
        ),
      );
    }
  }
  return document.text;
}
