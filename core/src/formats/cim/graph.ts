/**
 * CIM RDF/XML (IEC 61970-552) as a graph: objects with what is stated of them, gathered from any number of files of one model. Equipment, short-circuit data, operation and diagrams
 * come in files of their own that speak of the same objects.
 */
import { FileRefusal, type TextFile } from '../format';
import { readXml, type Place, type XmlReader } from '../xml';

export const rdf = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#';
const about = `{${rdf}}about`;
const idName = `{${rdf}}ID`;
const resource = `{${rdf}}resource`;
const nodeId = `{${rdf}}nodeID`;

/** More objects than these are no network that this program opens. */
const mostObjects = 6_000_000;

/** More than these a hostile file states of one object. */
const few = 64;

/** What is stated of one object: a handful, and hundreds of thousands of objects, for which a map each takes several times the memory. */
export class Stated {
  private readonly pairs: string[] = [];
  private more: Map<string, string> | null = null;

  get size(): number {
    return this.pairs.length / 2 + (this.more?.size ?? 0);
  }

  get(name: string): string | undefined {
    const at = this.at(name);
    return at < 0 ? this.more?.get(name) : this.pairs[at + 1];
  }

  has(name: string): boolean {
    return this.get(name) !== undefined;
  }

  set(name: string, value: string): void {
    const at = this.at(name);
    if (at >= 0) this.pairs[at + 1] = value;
    else if (this.pairs.length < 2 * few) this.pairs.push(name, value);
    else (this.more ??= new Map()).set(name, value);
  }

  *keys(): Generator<string> {
    for (let k = 0; k < this.pairs.length; k += 2) yield this.pairs[k];
    if (this.more) yield* this.more.keys();
  }

  private at(name: string): number {
    for (let k = 0; k < this.pairs.length; k += 2) if (this.pairs[k] === name) return k;
    return -1;
  }
}

export class CimObject {
  /** Attributes, numbers and texts as they stand. */
  readonly values = new Stated();
  /** Identifiers of other objects, or names of enumerated values. */
  readonly links = new Stated();

  constructor(
    readonly id: string,
    public type: string,
    private readonly line: number,
  ) {}

  get place(): string {
    return `line ${this.line}`;
  }

  get name(): string {
    return this.values.get('IdentifiedObject.name')?.trim() ?? '';
  }
}

export class CimGraph {
  readonly objects = new Map<string, CimObject>();
  readonly profiles = new Set<string>();
  /** Identifiers that a file defines twice. */
  readonly doubled: string[] = [];
  description = '';
  private byType: Map<string, CimObject[]> | null = null;
  private readonly reverse = new Map<string, Map<string, CimObject[]>>();

  ofType(...types: readonly string[]): readonly CimObject[] {
    if (!this.byType) {
      this.byType = new Map();
      for (const object of this.objects.values()) {
        const list = this.byType.get(object.type);
        if (list) list.push(object);
        else this.byType.set(object.type, [object]);
      }
    }
    return types.flatMap((type) => this.byType!.get(type) ?? []);
  }

  get types(): ReadonlyMap<string, readonly CimObject[]> {
    this.ofType();
    return this.byType!;
  }

  /** An identifier as it is kept already, where it is. */
  known(id: string): string {
    return this.objects.get(id)?.id ?? id;
  }

  /** The object that a link leads to; undefined when there is none. */
  linked(object: CimObject, link: string): CimObject | undefined {
    const id = object.links.get(link);
    return id === undefined ? undefined : this.objects.get(id);
  }

  /** Objects whose link leads here. */
  linking(link: string, object: CimObject): readonly CimObject[] {
    let index = this.reverse.get(link);
    if (!index) {
      this.reverse.set(link, (index = new Map()));
      for (const from of this.objects.values()) {
        const id = from.links.get(link);
        if (id === undefined) continue;
        const list = index.get(id);
        if (list) list.push(from);
        else index.set(id, [from]);
      }
    }
    return index.get(object.id) ?? [];
  }
}

/** Whether a text looks like one, by its first lines. */
export const isCim = (text: string): boolean => {
  const head = text.slice(0, 4000);
  return head.includes(rdf) && /iec\.ch\/TC57\/|iec\.ch\/TC57#|CIM-schema/i.test(head);
};

/** "#_a1", "urn:uuid:a1" and "_a1" are one identifier. */
const plainId = (text: string): string =>
  text
    .replace(/^.*#/, '')
    .replace(/^urn:uuid:/i, '')
    .replace(/^_/, '');

const isObject = (text: string): boolean => text.startsWith('#') || /^urn:uuid:/i.test(text);

/** Reads the files into one graph. Throws a `FileRefusal` with file, line and column. Yields the share that is read. */
export function* readGraph(files: readonly TextFile[]): Generator<number, CimGraph> {
  const graph = new CimGraph();
  const all = files.reduce((sum, { text }) => sum + text.length, 0);
  let before = 0;
  for (const { name, text } of files) {
    try {
      for (const share of readXml(text, readerInto(graph, name))) yield (before + share * text.length) / all;
    } catch (error) {
      if (error instanceof FileRefusal)
        throw new FileRefusal(files.length > 1 ? `${name}, ${error.message}` : error.message);
      throw error;
    }
    before += text.length;
  }
  return graph;
}

function readerInto(graph: CimGraph, file: string): XmlReader {
  let depth = 0;
  let object: CimObject | null = null;
  /** Of the property that is open. */
  let property: string | null = null;
  let text = '';
  const defined = new Set<string>();
  // A text of the file is one object for each place it stands at: names are kept once.
  const names = new Map<string, string>();
  const kept = (name: string): string => {
    const known = names.get(name);
    if (known === undefined) names.set(name, name);
    return known ?? name;
  };

  const begin = (name: string, attributes: ReadonlyMap<string, string>, place: Place) => {
    if (name === 'DifferenceModel' || name === 'differenceModel')
      throw new FileRefusal('the file tells differences from another model; only whole models are read');
    const own = attributes.get(idName);
    const raw = own ?? attributes.get(about) ?? attributes.get(nodeId);
    if (raw === undefined) return null;
    const id = plainId(raw);
    if (id === '' || id.length > 300) return null;
    if (own !== undefined) {
      if (defined.has(id)) {
        graph.doubled.push(`${id} (${file}, line ${place.line})`);
        return null;
      }
      defined.add(id);
    }
    const known = graph.objects.get(id);
    if (known) {
      if (known.type === 'Description' || known.type === '') known.type = name;
      return known;
    }
    if (graph.objects.size >= mostObjects) throw new FileRefusal(`there are more than ${mostObjects} objects in it`);
    const made = new CimObject(id, kept(name), place.line);
    graph.objects.set(id, made);
    return made;
  };

  return {
    open(name, uri, attributes, place) {
      depth++;
      if (depth === 1) {
        if (name !== 'RDF' || uri !== rdf) throw new FileRefusal('the file does not begin with rdf:RDF');
      } else if (depth === 2) object = begin(name, attributes, place);
      else if (depth === 3) {
        property = kept(name);
        text = '';
        const to = attributes.get(resource);
        if (to === undefined || !object) return;
        object.links.set(property, isObject(to) ? graph.known(plainId(to)) : kept(to.replace(/^.*#/, '')));
        property = null;
      }
    },
    text(value) {
      if (depth === 3 && property !== null) text += value;
    },
    close() {
      if (depth === 3 && property !== null && object) {
        const value = text.trim();
        if (object.type === 'FullModel') {
          if (property === 'Model.profile') graph.profiles.add(value);
          if (property === 'Model.description' && graph.description === '') graph.description = value;
        }
        // What several files state of one object: the later one, as operation follows equipment.
        if (value !== '') object.values.set(property, value);
      }
      if (depth === 3) property = null;
      if (depth === 2) object = null;
      depth--;
    },
  };
}
