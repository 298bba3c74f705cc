/**
 * A network as a file tells it, before it meets a project: elements under identifiers of the file, which of their fields the file states, and what joins them. An importer fills
 * it in; `merge` compares it with a project and makes the changes.
 */
import { elementSchemas, type Element, type ElementOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { newElement, type PlaceableKind } from '../model/defaults';
import type { Network } from '../model/network';
import type { LineCoupling } from '../model/branches';
import type { ConnectionEnd } from '../model/switching';
import { Remarks } from './remarks';

export interface BroughtElement {
  readonly element: Element;
  /** Paths of the fields that the file states; all others are the program's own. */
  readonly says: readonly string[];
}

/** What becomes of an element that is here already, where that is more than single fields. */
export type LayingOn = (here: Element, network: Network) => Element;

export type Joint = readonly [ConnectionEnd, ConnectionEnd];

/** What a file states of an element, and what the program takes where it does not. */
type Fields<K extends PlaceableKind> = Partial<Omit<ElementOf<K>, 'kind' | 'id' | 'name' | 'foreign' | 'assumed'>>;

const longestName = 80;

export class Brought {
  readonly elements: BroughtElement[] = [];
  readonly joints: Joint[] = [];
  /** Busbars that the file has none of: places where more than two things meet. */
  readonly junctions = new Set<ElementId>();
  readonly layings = new Map<ElementId, LayingOn>();
  readonly assumed = new Remarks();
  readonly left = new Remarks();
  /** What is wrong in the file: the value or element concerned is not taken. */
  readonly wrong = new Remarks();
  /** Whether a part of a field that the file states is none that it can tell. */
  isUnsaid: (path: string) => boolean = () => false;
  /** Whether the file says where things stand. */
  isPlaced = false;
  /** Of what: all but these. */
  unplaced: readonly ElementId[] = [];
  private readonly index = new Map<ElementId, number>();
  private readonly names = new Map<string, number>();
  private readonly ids = new Set<string>();

  constructor(
    /** Title of the format. */
    readonly format: string,
    /** Under which identifiers of its elements are kept. */
    readonly source: string,
    /** What the file calls itself. */
    readonly name: string,
  ) {}

  /**
   * An element; null, and told, where what the file states does not make one. `foreign`: its identifier in the file, once only. Names are made
   * unique and cut where they are too long.
   */
  add<K extends PlaceableKind>(
    kind: K,
    foreign: string,
    name: string,
    says: Fields<K>,
    assumes: Fields<K> = {},
  ): ElementOf<K> | null {
    const title = `${name.trim() || foreign}`;
    if (this.ids.has(foreign)) {
      this.wrong.add('an identifier is used twice; the second is left out', `${title} (${foreign})`);
      return null;
    }
    const assumed = Object.keys(assumes);
    const given = { ...assumes, ...says };
    const element = newElement(kind, `b${this.ids.size + 1}` as ElementId, this.freeName(kind, title), {
      ...given,
      foreign: [{ source: this.source, id: foreign.slice(0, 200) }],
      ...(assumed.length > 0 && { assumed }),
    } as Partial<ElementOf<K>>);
    const parsed = elementSchemas[kind].safeParse(element);
    if (!parsed.success) {
      const { path, message } = parsed.error.issues[0];
      this.wrong.add(`a value cannot be taken, and the element is left out: ${path.join('.')} ${message}`, title);
      return null;
    }
    this.ids.add(foreign);
    const made = parsed.data as ElementOf<K>;
    this.index.set((made as Element).id, this.elements.length);
    this.elements.push({ element: made as Element, says: Object.keys(says) });
    return made;
  }

  /** Something that is not on the drawing. */
  addCoupling(coupling: Omit<LineCoupling, 'kind' | 'id'>): void {
    const element = {
      kind: 'lineCoupling',
      id: `b${this.ids.size + 1}`,
      ...coupling,
      name: this.freeName('lineCoupling', coupling.name),
    };
    const parsed = elementSchemas.lineCoupling.safeParse(element);
    if (!parsed.success)
      return this.wrong.add(`a coupling of lines is left out: ${parsed.error.issues[0].message}`, coupling.name);
    this.ids.add(`coupling ${coupling.name} ${this.ids.size}`);
    this.elements.push({
      element: parsed.data as Element,
      says: Object.keys(coupling).filter((key) => key !== 'name'),
    });
  }

  /** An element in its new form, under the same identifier. */
  replace(element: Element): void {
    const k = this.index.get(element.id);
    if (k !== undefined) this.elements[k] = { ...this.elements[k], element };
  }

  layOn(id: ElementId, laying: LayingOn): void {
    this.layings.set(id, laying);
  }

  join(from: ConnectionEnd, to: ConnectionEnd): void {
    this.joints.push([from, to]);
  }

  /** Names on the drawing are unique, whatever stands in the file. */
  private freeName(kind: string, wanted: string): string {
    const clean = wanted.replace(/\s+/g, ' ').trim().slice(0, longestName) || kind;
    const space = kind === 'lineCoupling' ? kind : '';
    const key = (name: string) => `${space}:${name.toLowerCase()}`;
    let name = clean;
    for (let n = (this.names.get(key(clean)) ?? 0) + 1; this.names.has(key(name)); n++)
      name = `${clean.slice(0, longestName - 8)} ${n}`;
    this.names.set(key(clean), (this.names.get(key(clean)) ?? 0) + 1);
    if (name !== clean) this.names.set(key(name), 1);
    return name;
  }
}
