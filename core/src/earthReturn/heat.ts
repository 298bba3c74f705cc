/** What shield wires, sheaths and buried wires bear for as long as a fault lasts: adiabatic, IEC 60949, clause 4. */
import { adiabaticDensity, type WireMetal } from '../ratings/conductors';

export interface HeatedWire {
  readonly name: string;
  /** Null: not known. */
  readonly sectionMm2: number | null;
  readonly metal: WireMetal;
  readonly kind: 'bare' | 'insulated' | 'sheath';
}

/** Temperatures in °C at the beginning and at the end of a fault, as remembered of IEC 60949 and IEC 61443, and of practice with shield wires. */
export function temperaturesOf({ kind, metal }: HeatedWire): { readonly fromC: number; readonly toC: number } {
  if (kind === 'sheath') return { fromC: 70, toC: metal === 'lead' ? 210 : 250 };
  if (kind === 'insulated') return { fromC: 40, toC: 160 };
  return { fromC: 40, toC: { aluminium: 200, copper: 300, steel: 400, lead: 210 }[metal] };
}

/** Amperes that a wire bears for so many seconds; null where its section is not known. */
export function borneA(wire: HeatedWire, seconds: number): number | null {
  if (wire.sectionMm2 === null) return null;
  const { fromC, toC } = temperaturesOf(wire);
  return (adiabaticDensity(wire.metal, fromC, toC) * wire.sectionMm2) / Math.sqrt(seconds);
}
