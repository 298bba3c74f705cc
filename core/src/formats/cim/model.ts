/** A CIM graph with what a network needs to know of it: terminals and nodes, voltages, containers, names. */
import type { Brought } from '../brought';
import type { CimGraph, CimObject } from './graph';

export interface CimNode {
  readonly object: CimObject;
  readonly terminals: CimTerminal[];
}

export interface CimTerminal {
  readonly object: CimObject;
  readonly equipment: CimObject;
  /** Null: not connected. */
  readonly node: CimNode | null;
}

export class CimModel {
  readonly nodes = new Map<string, CimNode>();
  private readonly byEquipment = new Map<string, CimTerminal[]>();
  private readonly nameCount = new Map<string, number>();
  /** Whether nodes are those of the single switches, or busbars with all that is switched together merged. */
  readonly isNodeBreaker: boolean;

  constructor(
    readonly graph: CimGraph,
    private readonly brought: Brought,
  ) {
    const terminals = graph.ofType('Terminal');
    const withNodes = terminals.filter((each) => each.links.has('Terminal.ConnectivityNode')).length;
    this.isNodeBreaker = withNodes > 0 && withNodes >= terminals.length / 2;
    for (const terminal of terminals) this.addTerminal(terminal);
    for (const list of this.byEquipment.values()) list.sort((p, q) => order(p) - order(q));
    for (const object of graph.objects.values())
      if (object.name !== '' && this.byEquipment.has(object.id)) this.count(object.name);
    for (const { object } of this.nodes.values()) if (object.name !== '') this.count(object.name);
  }

  private count(name: string): void {
    const key = name.toLowerCase();
    this.nameCount.set(key, (this.nameCount.get(key) ?? 0) + 1);
  }

  private addTerminal(terminal: CimObject): void {
    const { graph, brought } = this;
    const equipment = graph.linked(terminal, 'Terminal.ConductingEquipment');
    if (!equipment)
      return void brought.wrong.add(
        'a terminal belongs to no equipment of the file',
        `${terminal.id} (${terminal.place})`,
      );
    const link = this.isNodeBreaker ? 'Terminal.ConnectivityNode' : 'Terminal.TopologicalNode';
    const at =
      graph.linked(terminal, link) ??
      (this.isNodeBreaker ? undefined : graph.linked(terminal, 'Terminal.ConnectivityNode'));
    const isOpen = terminal.values.get('ACDCTerminal.connected') === 'false';
    if (!at && terminal.links.has(link))
      brought.wrong.add(
        'a terminal leads to a node that is not in the files',
        `${this.labelOf(equipment)} (${terminal.place})`,
      );
    let node: CimNode | null = null;
    if (at && !isOpen) {
      node = this.nodes.get(at.id) ?? { object: at, terminals: [] };
      this.nodes.set(at.id, node);
    }
    const made: CimTerminal = { object: terminal, equipment, node };
    node?.terminals.push(made);
    const list = this.byEquipment.get(equipment.id);
    if (list) list.push(made);
    else this.byEquipment.set(equipment.id, [made]);
  }

  terminalsOf(equipment: CimObject): readonly CimTerminal[] {
    return this.byEquipment.get(equipment.id) ?? [];
  }

  /** A figure; undefined where there is none or none that can be read, which is told. */
  readonly number = (object: CimObject, property: string): number | undefined => {
    const text = object.values.get(property);
    if (text === undefined) return undefined;
    const value = Number(text);
    if (Number.isFinite(value)) return value;
    this.brought.wrong.add(
      `a value is no number: ${property}`,
      `"${text.slice(0, 40)}" of ${this.labelOf(object)} (${object.place})`,
    );
    return undefined;
  };

  flag(object: CimObject, property: string): boolean | undefined {
    const text = object.values.get(property);
    return text === undefined ? undefined : text === 'true' || text === '1';
  }

  /** Name of an enumerated value, such as "Yn" of "WindingConnection.Yn". */
  readonly choice = (object: CimObject, property: string): string | undefined =>
    object.links.get(property)?.replace(/^.*\./, '');

  labelOf(object: CimObject): string {
    return object.name || `${object.type} ${object.id}`.slice(0, 60);
  }

  /** A name that tells it from others: with the station before it where several bear it. */
  nameOf(object: CimObject): string {
    const { name } = object;
    if (name === '') return `${object.type} ${object.id.slice(0, 8)}`;
    if ((this.nameCount.get(name.toLowerCase()) ?? 0) < 2) return name;
    const station = this.stationOf(object);
    return station && station.name !== '' && !name.startsWith(station.name) ? `${station.name} ${name}` : name;
  }

  private containerOf(object: CimObject): CimObject | undefined {
    return (
      this.graph.linked(object, 'Equipment.EquipmentContainer') ??
      this.graph.linked(object, 'ConnectivityNode.ConnectivityNodeContainer') ??
      this.graph.linked(object, 'TopologicalNode.ConnectivityNodeContainer') ??
      this.graph.linked(object, 'Bay.VoltageLevel') ??
      this.graph.linked(object, 'VoltageLevel.Substation')
    );
  }

  stationOf(object: CimObject): CimObject | undefined {
    let at: CimObject | undefined = object;
    for (let step = 0; at && step < 6; step++) {
      if (at.type === 'Substation') return at;
      at = this.containerOf(at);
    }
    return undefined;
  }

  /** Nominal voltage in kV of equipment or a node; undefined where nothing tells it. */
  kvOf(object: CimObject): number | undefined {
    const own =
      this.graph.linked(object, 'ConductingEquipment.BaseVoltage') ??
      this.graph.linked(object, 'TopologicalNode.BaseVoltage') ??
      this.graph.linked(object, 'TransformerEnd.BaseVoltage');
    let at: CimObject | undefined = object;
    let base = own;
    for (let step = 0; at && !base && step < 6; step++) {
      base = this.graph.linked(at, 'VoltageLevel.BaseVoltage');
      at = this.containerOf(at);
    }
    const kv = base && this.number(base, 'BaseVoltage.nominalVoltage');
    return kv !== undefined && kv > 0 ? kv : undefined;
  }

  /** The same of a node, by what hangs on it where it does not say itself. */
  kvAt({ object, terminals }: CimNode): number | undefined {
    return this.kvOf(object) ?? terminals.map(({ equipment }) => this.kvOf(equipment)).find((kv) => kv !== undefined);
  }

  /** Of one equipment at a terminal: of the node, else of itself. */
  kvAtTerminal(terminal: CimTerminal | undefined, equipment: CimObject): number | undefined {
    return (terminal?.node && this.kvAt(terminal.node)) || this.kvOf(equipment);
  }
}

const order = ({ object }: CimTerminal): number =>
  Number(object.values.get('ACDCTerminal.sequenceNumber') ?? object.values.get('Terminal.sequenceNumber') ?? 0) || 0;
