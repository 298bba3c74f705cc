/** XML read piece by piece (saxes), with what a file may not do refused by its place: entities of its own, endless depth, broken markup. */
import { SaxesParser, type SaxesTagNS } from 'saxes';
import { FileRefusal } from './format';

/** Where in a file. */
export interface Place {
  readonly line: number;
  readonly column: number;
}

export interface XmlReader {
  /** `attributes` by local name after the URI of their namespace: "{http://…}about", plain ones without it. */
  open(name: string, uri: string, attributes: ReadonlyMap<string, string>, place: Place): void;
  text(value: string): void;
  close(name: string, uri: string): void;
}

/** A file that cannot be read further; the message tells the place. */
export class XmlRefusal extends FileRefusal {
  constructor(message: string, { line, column }: Place) {
    super(`line ${line}, column ${column + 1}: ${message}`);
  }
}

const deepest = 100;
const piece = 1 << 16;

/** Yields the share of the text that is read. Throws a {@link XmlRefusal}. */
export function* readXml(text: string, reader: XmlReader): Generator<number, void> {
  const parser = new SaxesParser({ xmlns: true, position: true });
  const here = (): Place => ({ line: parser.line, column: parser.column });
  let depth = 0;
  parser.on('error', (error) => {
    // The package puts the place in front of its message; here every message has it in one form.
    throw new XmlRefusal(error.message.replace(/^[\d:]+ /, ''), here());
  });
  parser.on('doctype', () => {
    throw new XmlRefusal('the file declares a document type, which may define entities; that is not read', here());
  });
  parser.on('opentag', (tag) => {
    if (++depth > deepest) throw new XmlRefusal(`elements are nested deeper than ${deepest}`, here());
    reader.open(tag.local, tag.uri, attributesOf(tag), here());
  });
  parser.on('text', (value) => reader.text(value));
  parser.on('cdata', (value) => reader.text(value));
  parser.on('closetag', (tag) => {
    depth--;
    reader.close(tag.local, tag.uri);
  });
  for (let at = 0; at < text.length; at += piece) {
    parser.write(text.slice(at, at + piece));
    yield Math.min(1, (at + piece) / text.length);
  }
  parser.close();
}

const none: ReadonlyMap<string, string> = new Map();

function attributesOf({ attributes }: SaxesTagNS): ReadonlyMap<string, string> {
  let found: Map<string, string> | null = null;
  for (const key in attributes) {
    const { local, uri, value, prefix } = attributes[key];
    if (prefix === 'xmlns' || local === 'xmlns') continue;
    (found ??= new Map()).set(uri && prefix ? `{${uri}}${local}` : local, value);
  }
  return found ?? none;
}

/** Text as it may stand in an element or an attribute. What XML 1.0 has no sign for is left out. */
export const escaped = (text: string): string =>
  text
    // eslint-disable-next-line no-control-regex -- just these are meant
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '')
    .replace(/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g, '')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
    .replaceAll('\n', '&#10;')
    .replaceAll('\r', '&#13;')
    .replaceAll('\t', '&#9;');
