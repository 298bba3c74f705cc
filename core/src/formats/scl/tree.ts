/** An SCL file (IEC 61850-6) as a tree of elements with their places. Such files are of one station or a few, and small enough to be held as a whole. */
import { FileRefusal } from '../format';
import { readXml, type Place } from '../xml';

export interface SclNode {
  readonly name: string;
  readonly attributes: ReadonlyMap<string, string>;
  readonly children: SclNode[];
  readonly place: Place;
  text: string;
}

/** More elements are no description of stations. */
const mostNodes = 2_000_000;

export const isScl = (text: string): boolean => /<(\w+:)?SCL[\s>]/.test(text.slice(0, 4000));

export const attribute = ({ attributes }: SclNode, name: string): string => attributes.get(name)?.trim() ?? '';
export const childrenOf = ({ children }: SclNode, ...names: readonly string[]): SclNode[] =>
  children.filter(({ name }) => names.includes(name));
export const descendants = (node: SclNode, ...path: readonly string[]): SclNode[] =>
  path.reduce(
    (nodes: readonly SclNode[], name) => nodes.flatMap((each) => childrenOf(each, name)),
    [node],
  ) as SclNode[];
export const lineOf = ({ place }: SclNode): string => `line ${place.line}`;

/** The SCL element. Throws a `FileRefusal` with the place where it is broken. */
export function* readTree(text: string): Generator<number, SclNode> {
  const open: SclNode[] = [];
  let root: SclNode | null = null;
  let count = 0;
  yield* readXml(text, {
    open(name, _uri, attributes, place) {
      if (++count > mostNodes) throw new FileRefusal(`there are more than ${mostNodes} elements in it`);
      const node: SclNode = { name, attributes, children: [], place, text: '' };
      if (open.length === 0) {
        if (name !== 'SCL') throw new FileRefusal('the file is not of IEC 61850-6: it does not begin with SCL');
        root = node;
      } else open[open.length - 1].children.push(node);
      open.push(node);
    },
    text(value) {
      if (open.length > 0) open[open.length - 1].text += value;
    },
    close() {
      open.pop();
    },
  });
  if (!root) throw new FileRefusal('there is nothing in it');
  return root;
}
