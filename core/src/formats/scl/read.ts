/** An SCL file (IEC 61850-6) as a network: the substation section gives equipment and what joins it, IEDs the relays with their settings. It tells no impedances: those are assumed, and marked. */
import { newElement, type PlaceableKind } from '../../model/defaults';
import type { Element, ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { find, type Network } from '../../model/network';
import { currentInput, tripCircuit, type Relay } from '../../model/protection';
import type { Bus, ConnectionEnd } from '../../model/switching';
import { Brought } from '../brought';
import { FileRefusal, type Source } from '../format';
import { freshFunctions, laidOn, type DataObject, type LogicalNode, type Told } from './settings';
import { attribute, childrenOf, descendants, isScl, lineOf, readTree, type SclNode } from './tree';

export const title = 'SCL (IEC 61850-6)';
export const source = 'scl';

export function* readScl({ files }: Source): Generator<number, Brought> {
  const own = files.filter(({ text }) => isScl(text));
  const root = yield* readTree(own[0].text);
  const name = attribute(childrenOf(root, 'Header')[0] ?? root, 'id') || 'SCL';
  const brought = new Brought(title, source, name.slice(0, 120));
  for (const { name: other } of files.filter((file) => file !== own[0]))
    brought.left.add('further files of the bundle', other);
  const reading = new Reading(brought);
  for (const station of childrenOf(root, 'Substation')) reading.station(station);
  reading.lines();
  reading.joints();
  for (const ied of childrenOf(root, 'IED')) reading.relay(ied);
  for (const [section, why] of [
    ['Communication', 'networks of communication'],
    ['Process', 'processes other than substations'],
    ['Line', 'lines between substations: draw them, or let both stations name them'],
  ] as const)
    if (childrenOf(root, section).length > 0) brought.left.add(why);
  if (brought.elements.length === 0)
    throw new FileRefusal('there is neither a substation nor a relay with protection in it');
  return brought;
}

/** What a new element has in these fields: named, so that they carry the mark of what is assumed. */
function usual<K extends PlaceableKind, F extends keyof ElementOf<K>>(kind: K, ...fields: F[]): Pick<ElementOf<K>, F> {
  const fresh = newElement(kind, 'usual' as ElementId, 'usual');
  return Object.fromEntries(fields.map((field) => [field, fresh[field]])) as Pick<ElementOf<K>, F>;
}

/** Equipment of SCL with two terminals in a run. */
const runs: Readonly<Record<string, (reading: Reading, node: SclNode, id: string, name: string) => Element | null>> = {
  CBR: ({ brought }, _, id, name) => brought.add('switch', id, name, {}, { type: 'breaker' }),
  DIS: ({ brought }, _, id, name) => brought.add('switch', id, name, {}, { type: 'disconnector', openingTimeS: null }),
  CTR: ({ brought }, _, id, name) => {
    brought.assumed.add('ratio 400/1 and class of current transformers', name);
    return brought.add(
      'currentTransformer',
      id,
      name,
      {},
      usual('currentTransformer', 'primaryA', 'secondaryA', 'accuracy'),
    );
  },
};

/** With one. */
const ends: Readonly<Record<string, (reading: Reading, id: string, name: string, kv: number) => Element | null>> = {
  VTR: ({ brought }, id, name, kv) => brought.add('voltageTransformer', id, name, { primaryKv: kv }),
  GEN: ({ brought }, id, name, kv) => {
    brought.assumed.add('data of generators', name);
    return brought.add(
      'synchronousMachine',
      id,
      name,
      {},
      { ...usual('synchronousMachine', 'ratedMva', 'powerFactor', 'xd2Percent'), ratedKv: kv },
    );
  },
  MOT: ({ brought }, id, name, kv) => {
    brought.assumed.add('data of motors', name);
    return brought.add(
      'asynchronousMotor',
      id,
      name,
      {},
      { ...usual('asynchronousMotor', 'ratedMw', 'powerFactor', 'efficiencyPercent', 'startingRatio'), ratedKv: kv },
    );
  },
  CAP: ({ brought }, id, name, kv) => {
    brought.assumed.add('power of capacitors and reactors', name);
    return brought.add('shunt', id, name, { type: 'capacitor' }, { ...usual('shunt', 'ratedMvar'), ratedKv: kv });
  },
  REA: ({ brought }, id, name, kv) => {
    brought.assumed.add('power of capacitors and reactors', name);
    return brought.add('shunt', id, name, { type: 'reactor' }, { ...usual('shunt', 'ratedMvar'), ratedKv: kv });
  },
};

interface LineEnd {
  readonly name: string;
  /** Which end of the line, where the file says. */
  readonly terminal: string;
  readonly node: string;
  readonly kv: number;
}

class Reading {
  private readonly nodes = new Map<
    string,
    { name: string; kv: number | undefined; ends: ConnectionEnd[]; isBus: boolean; line: string }
  >();
  private readonly lineEnds: LineEnd[] = [];
  /** By the name of an IED: what it measures at and what it opens. */
  private readonly measures = new Map<string, ElementId[]>();
  private readonly opens = new Map<string, ElementId[]>();

  constructor(readonly brought: Brought) {}

  station(station: SclNode): void {
    const name = attribute(station, 'name');
    for (const level of childrenOf(station, 'VoltageLevel')) {
      const kv = voltageOf(level);
      if (kv === undefined)
        this.brought.wrong.add(
          'a voltage level tells no voltage',
          `${name}/${attribute(level, 'name')} (${lineOf(level)})`,
        );
      for (const bay of childrenOf(level, 'Bay'))
        this.nodesOf(bay, [name, attribute(level, 'name'), attribute(bay, 'name')], kv);
    }
    for (const level of childrenOf(station, 'VoltageLevel')) {
      const kv = voltageOf(level) ?? 1;
      for (const bay of childrenOf(level, 'Bay')) {
        const path = [name, attribute(level, 'name'), attribute(bay, 'name')];
        for (const equipment of childrenOf(bay, 'ConductingEquipment')) this.equipment(equipment, path, kv);
        for (const transformer of childrenOf(bay, 'PowerTransformer')) this.transformer(transformer, path);
      }
      for (const transformer of childrenOf(level, 'PowerTransformer'))
        this.transformer(transformer, [name, attribute(level, 'name')]);
    }
    for (const transformer of childrenOf(station, 'PowerTransformer')) this.transformer(transformer, [name]);
  }

  /** A bay that holds nothing but connectivity nodes is a busbar. */
  private nodesOf(bay: SclNode, path: readonly string[], kv: number | undefined): void {
    const isBus = childrenOf(bay, 'ConductingEquipment', 'PowerTransformer').length === 0;
    for (const node of childrenOf(bay, 'ConnectivityNode')) {
      const full = attribute(node, 'pathName') || [...path, attribute(node, 'name')].join('/');
      if (this.nodes.has(full))
        this.brought.wrong.add('a connectivity node is defined twice', `${full} (${lineOf(node)})`);
      else
        this.nodes.set(full, {
          name: attribute(bay, 'desc') || `${path[0]} ${path[2]}`,
          kv,
          ends: [],
          isBus,
          line: lineOf(node),
        });
    }
  }

  private equipment(node: SclNode, path: readonly string[], kv: number): void {
    const id = [...path, attribute(node, 'name')].join('/');
    const name = attribute(node, 'desc') || `${path[0]} ${path[2]} ${attribute(node, 'name')}`;
    const type = attribute(node, 'type');
    const terminals = childrenOf(node, 'Terminal');
    const earthed = terminals.some((terminal) => attribute(terminal, 'cNodeName') === 'grounded');
    if (type === 'IFL') {
      const [terminal] = terminals;
      if (terminal)
        this.lineEnds.push({
          name,
          terminal: attribute(terminal, 'name'),
          node: attribute(terminal, 'connectivityNode'),
          kv,
        });
      return;
    }
    if (type === 'DIS' && earthed) {
      this.tie(
        this.brought.add('earthingSwitch', id, name, {}),
        terminals.filter((terminal) => attribute(terminal, 'cNodeName') !== 'grounded'),
        1,
      );
      return;
    }
    const made = runs[type] ? runs[type](this, node, id, name) : ends[type]?.(this, id, name, kv);
    if (made === undefined) return this.brought.left.add(`equipment of type ${type || '?'}`, name);
    this.tie(made, terminals, runs[type] ? 2 : 1);
    if (!made) return;
    for (const reference of childrenOf(node, 'LNode')) {
      const ied = attribute(reference, 'iedName');
      const list = type === 'CTR' ? this.measures : type === 'CBR' ? this.opens : null;
      if (list && ied !== '' && ied !== 'None') list.set(ied, [...(list.get(ied) ?? []), made.id]);
    }
  }

  private transformer(node: SclNode, path: readonly string[]): void {
    const id = [...path, attribute(node, 'name')].join('/');
    const name = attribute(node, 'desc') || `${path[0]} ${attribute(node, 'name')}`;
    const terminals = childrenOf(node, 'TransformerWinding').flatMap((winding) =>
      childrenOf(winding, 'Terminal').slice(0, 1),
    );
    const kvOf = (terminal: SclNode) => this.nodes.get(attribute(terminal, 'connectivityNode'))?.kv ?? 0;
    const sorted = [...terminals].sort((p, q) => kvOf(q) - kvOf(p));
    const kv = sorted.map(kvOf);
    if (kv.some((each) => each <= 0))
      return this.brought.wrong.add('a winding leads to a node without voltage', `${name} (${lineOf(node)})`);
    this.brought.assumed.add('data of transformers', name);
    if (kv.length === 2)
      this.tie(
        this.brought.add(
          'transformer',
          id,
          name,
          {},
          {
            ...usual('transformer', 'vectorGroup'),
            hvKv: kv[0],
            lvKv: kv[1],
            ratedMva: 10,
            ukPercent: 8,
            uRPercent: 0.6,
          },
        ),
        sorted,
        2,
      );
    else if (kv.length === 3)
      this.tie(
        this.brought.add(
          'threeWindingTransformer',
          id,
          name,
          {},
          {
            ...usual('threeWindingTransformer', 'vectorGroup', 'hvMv', 'hvLv', 'mvLv'),
            hvKv: kv[0],
            mvKv: kv[1],
            lvKv: kv[2],
          },
        ),
        sorted,
        3,
      );
    else this.brought.left.add(`transformers with ${kv.length} windings`, name);
  }

  private tie(element: Element | null, terminals: readonly SclNode[], most: number): void {
    if (!element) return;
    terminals.slice(0, most).forEach((terminal, k) => {
      const path = attribute(terminal, 'connectivityNode');
      const node = this.nodes.get(path);
      if (node) node.ends.push({ element: element.id, terminal: k });
      else if (path !== '' && !path.endsWith('/grounded'))
        this.brought.wrong.add('a terminal leads to a node that is not in the file', `${path} (${lineOf(terminal)})`);
    });
  }

  /** Two stations that name the same line are joined by it. */
  lines(): void {
    const byName = new Map<string, LineEnd[]>();
    for (const end of this.lineEnds) byName.set(end.name, [...(byName.get(end.name) ?? []), end]);
    for (const [name, list] of byName) {
      if (list.length !== 2) {
        this.brought.left.add('ends of lines whose other end is not in the file', name);
        continue;
      }
      this.brought.assumed.add('data of lines', name);
      const line = this.brought.add(
        'line',
        `line ${name}`,
        name,
        {},
        usual('line', 'type', 'lengthKm', 'r1OhmPerKm', 'x1OhmPerKm'),
      );
      const inOrder = list[0].terminal === 'T2' && list[1].terminal === 'T1' ? [list[1], list[0]] : list;
      inOrder.forEach((end, k) => line && this.nodes.get(end.node)?.ends.push({ element: line.id, terminal: k }));
    }
  }

  joints(): void {
    for (const [path, { name, kv, ends: joined, isBus, line }] of this.nodes) {
      if (!isBus && joined.length < 2) continue;
      if (!isBus && joined.length === 2) {
        this.brought.join(joined[0], joined[1]);
        continue;
      }
      if (kv === undefined) {
        this.brought.wrong.add('a node tells no voltage: what hangs on it is not joined', `${path} (${line})`);
        continue;
      }
      const bus: Bus | null = this.brought.add('bus', path, isBus ? name : path.split('/').slice(0, 3).join(' '), {
        nominalKv: kv,
      });
      if (bus && !isBus) this.brought.junctions.add(bus.id);
      if (bus) for (const end of joined) this.brought.join(end, { element: bus.id, terminal: 0 });
    }
  }

  /** An IED with protection in it as a relay; its settings are laid on those of the relay that is here already. */
  relay(ied: SclNode): void {
    const name = attribute(ied, 'name');
    const nodes = logicalNodesOf(ied);
    if (!nodes.some(({ class: of }) => /^P(TOC|IOC|DIS|DIF)$/.test(of)))
      return this.brought.left.add(
        'devices without time-overcurrent, instantaneous, distance or differential protection',
        name,
      );
    const told: Told = {
      left: (message) => this.brought.left.add(message, name),
      assumed: (message) => this.brought.assumed.add(message, name),
      wrong: (message) => this.brought.wrong.add(message, `${name} (${lineOf(ied)})`),
    };
    const label = attribute(ied, 'desc') || name;
    const [ct = null] = this.measures.get(name) ?? [];
    const input = currentInput(ct);
    const type = attribute(ied, 'type').slice(0, 80);
    const made = this.brought.add(
      'relay',
      `IED ${name}`,
      label,
      { ...(type && { device: type }) },
      {
        inputs: [input],
        circuits: [tripCircuit(this.opens.get(name) ?? [])],
        functions: freshFunctions(nodes, input.id, 1, told),
      },
    );
    if (!made) return;
    this.brought.layOn(made.id, (here, network) =>
      here.kind === 'relay'
        ? { ...here, functions: laidOn(here.functions, nodes, secondaryIn(network, here), told) }
        : here,
    );
  }
}

/** Rated secondary currents by the inputs of a relay. */
export const secondaryIn =
  (network: Network, relay: Relay) =>
  (input: ElementId | null): number => {
    const of = relay.inputs.find(({ id }) => id === input) ?? relay.inputs[0];
    return of?.star?.secondaryA ?? find(network, 'currentTransformer', of?.element ?? null)?.secondaryA ?? 1;
  };

function voltageOf(level: SclNode): number | undefined {
  const [voltage] = childrenOf(level, 'Voltage');
  if (!voltage) return undefined;
  const value = Number(voltage.text.trim());
  const factor = ({ k: 1, M: 1000, '': 0.001 } as Record<string, number>)[attribute(voltage, 'multiplier')];
  return Number.isFinite(value) && value > 0 && factor !== undefined ? value * factor : undefined;
}

/** Logical nodes of an IED with the settings that stand in them. */
export function logicalNodesOf(ied: SclNode): LogicalNode[] {
  const nodes = descendants(ied, 'AccessPoint', 'Server', 'LDevice', 'LN');
  return nodes.map((node) => ({
    class: attribute(node, 'lnClass'),
    prefix: attribute(node, 'prefix'),
    instance: Number(attribute(node, 'inst')) || 1,
    description: attribute(node, 'desc'),
    objects: childrenOf(node, 'DOI').flatMap(objectOf),
  }));
}

const valueIn = (nodes: readonly SclNode[]): string | undefined =>
  nodes.flatMap((node) => childrenOf(node, 'Val'))[0]?.text.trim();
const named = (nodes: readonly SclNode[], name: string): SclNode[] =>
  nodes.filter((node) => attribute(node, 'name') === name);

function objectOf(object: SclNode): DataObject[] {
  const name = attribute(object, 'name');
  const [direct, parts] = [childrenOf(object, 'DAI'), childrenOf(object, 'SDI')];
  for (const form of ['setVal', 'setCharact', 'stVal'] as const) {
    const value = valueIn(named(direct, form));
    if (value) return [{ name, form, value }];
  }
  const value = valueIn(
    named(
      named(parts, 'setMag').flatMap((part) => childrenOf(part, 'DAI')),
      'f',
    ),
  );
  const characteristic = valueIn(
    named(
      named(parts, 'setCharact').flatMap((part) => childrenOf(part, 'DAI')),
      'setCharact',
    ),
  );
  if (characteristic) return [{ name, form: 'setCharact', value: characteristic }];
  if (!value) return [];
  const unit = valueIn(
    named(
      named(parts, 'units').flatMap((part) => childrenOf(part, 'DAI')),
      'SIUnit',
    ),
  );
  return [{ name, form: 'setMag', value, ...(unit && { unit }) }];
}
