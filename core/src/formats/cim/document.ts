/** CIM RDF/XML as text: objects in the order in which they are made, one file for each profile. */
import { escaped } from '../xml';
import { rdf } from './graph';

/** Namespace of IEC 61970-301 as the 2019 exchange profiles (CGMES 3) use it, as remembered. */
const cim = 'http://iec.ch/TC57/CIM100#';
const modelDescription = 'http://iec.ch/TC57/61970-552/ModelDescription/1#';

export const profiles = {
  EQ: ['http://iec.ch/TC57/ns/CIM/CoreEquipment-EU/3.0', 'http://iec.ch/TC57/ns/CIM/ShortCircuit-EU/3.0'],
  SSH: ['http://iec.ch/TC57/ns/CIM/SteadyStateHypothesis-EU/3.0'],
  DL: ['http://iec.ch/TC57/ns/CIM/DiagramLayout-EU/3.0'],
} as const satisfies Record<string, readonly string[]>;
export type Profile = keyof typeof profiles;

/** A link to another object, or the name of an enumerated value. */
export interface Link {
  readonly to?: string;
  readonly choice?: string;
}
export type Property = string | number | boolean | Link | null | undefined;

export class CimDocument {
  private readonly lines: string[] = [];

  constructor(
    private readonly profile: Profile,
    private readonly modelId: string,
    private readonly description: string,
    private readonly dependsOn: readonly string[] = [],
  ) {}

  /** An object with its properties; those without a value are left out. `about`: it is defined in another file. */
  add(type: string, id: string, properties: Readonly<Record<string, Property>>, about = this.profile !== 'EQ'): void {
    this.lines.push(`<cim:${type} ${about ? `rdf:about="#_${escaped(id)}"` : `rdf:ID="_${escaped(id)}"`}>`);
    for (const [name, value] of Object.entries(properties)) {
      if (value === null || value === undefined || (typeof value === 'number' && !Number.isFinite(value))) continue;
      if (typeof value !== 'object') this.lines.push(`<cim:${name}>${escaped(String(value))}</cim:${name}>`);
      else if (value.to !== undefined) this.lines.push(`<cim:${name} rdf:resource="#_${escaped(value.to)}"/>`);
      else if (value.choice !== undefined) this.lines.push(`<cim:${name} rdf:resource="${cim}${value.choice}"/>`);
    }
    this.lines.push(`</cim:${type}>`);
  }

  get text(): string {
    const head = [
      '<?xml version="1.0" encoding="UTF-8"?>',
      `<rdf:RDF xmlns:rdf="${rdf}" xmlns:cim="${cim}" xmlns:md="${modelDescription}">`,
      `<md:FullModel rdf:about="urn:uuid:${this.modelId}">`,
      // The same project gives the same file.
      '<md:Model.created>2000-01-01T00:00:00Z</md:Model.created>',
      '<md:Model.scenarioTime>2000-01-01T00:00:00Z</md:Model.scenarioTime>',
      `<md:Model.description>${escaped(this.description)}</md:Model.description>`,
      '<md:Model.version>1</md:Model.version>',
      ...profiles[this.profile].map((uri) => `<md:Model.profile>${uri}</md:Model.profile>`),
      ...this.dependsOn.map((id) => `<md:Model.DependentOn rdf:resource="urn:uuid:${id}"/>`),
      '</md:FullModel>',
    ];
    return `${[...head, ...this.lines].join('\n')}\n</rdf:RDF>\n`;
  }
}

/** An identifier in the form of a UUID, always the same for the same text (four 32-bit hashes of FNV-1a with different beginnings; no claim beyond being apart). */
export function uuidOf(text: string): string {
  const part = (seed: number): string => {
    let hash = (0x811c9dc5 ^ seed) >>> 0;
    for (let k = 0; k < text.length; k++) hash = Math.imul(hash ^ text.charCodeAt(k), 0x01000193) >>> 0;
    hash = Math.imul(hash ^ (hash >>> 15), 0x85ebca6b) >>> 0;
    return ((hash ^ (hash >>> 13)) >>> 0).toString(16).padStart(8, '0');
  };
  const hex = [0x1, 0x9e3779b9, 0x7f4a7c15, 0xf39cc060].map(part).join('');
  // Version 8: made in a way of one's own (RFC 9562, 5.8).
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-9${hex.slice(17, 20)}-${hex.slice(20)}`;
}
