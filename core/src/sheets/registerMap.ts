/**
 * Settings in the holding registers of a relay, by a map of our own (docs/simulated-relay.md): a head, then a slot of eight registers for each value, once as they are active and once as
 * they are staged. Words stand high word first; numbers are IEEE 754 single precision.
 */

/** Of the head. */
export const head = {
  magic: 0,
  version: 1,
  slots: 2,
  /** Grows with every set of values that is taken over. */
  edition: 3,
  status: 4,
  command: 5,
  /** How many staged slots count. */
  staged: 6,
  /** For training: slot (from 1 on) and parts in a thousand that its active value is made wrong by. */
  wrongSlot: 7,
  wrongBy: 8,
  /** Two letters each. */
  name: 16,
  nameLength: 32,
} as const;
export const headLength = 64;
export const magic = 0x4d53;
export const mapVersion = 1;

export const activeFrom = 100;
export const stagedFrom = 10_000;
export const slotLength = 8;
export const mostSlots = 1000;

export const commands = { clear: 1, take: 2, deviate: 3, obey: 4 } as const;
export const statuses = { idle: 0, staged: 1, taken: 2, refused: 3 } as const;

/** A value under its key; words are kept by their code. */
export interface HeldValue {
  /** {@link codeOf} the key. */
  readonly key: number;
  /** A number, or {@link codeOf} a word. */
  readonly value: number;
  readonly isWord: boolean;
}

/** 32 bits that stand for a text (FNV-1a). */
export function codeOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let k = 0; k < text.length; k++) {
    hash ^= text.charCodeAt(k) & 0xff;
    hash = Math.imul(hash, 0x01000193) >>> 0;
  }
  return hash;
}

const words = (bits: number): [number, number] => [(bits >>> 16) & 0xffff, bits & 0xffff];
const bitsOf = (high: number, low: number): number => ((high << 16) | low) >>> 0;

function singleOf(value: number): number {
  const view = new DataView(new ArrayBuffer(4));
  view.setFloat32(0, value);
  return view.getUint32(0);
}
function numberOf(bits: number): number {
  const view = new DataView(new ArrayBuffer(4));
  view.setUint32(0, bits);
  return view.getFloat32(0);
}

/** Registers of one slot. */
export const slotOf = ({ key, value, isWord }: HeldValue): number[] => [
  ...words(key),
  isWord ? 1 : 0,
  0,
  ...words(isWord ? value : singleOf(value)),
  0,
  0,
];

/** Values of slots that stand one behind the other. */
export const heldIn = (registers: readonly number[]): HeldValue[] =>
  Array.from({ length: Math.floor(registers.length / slotLength) }, (_, k) => {
    const [keyHigh, keyLow, isWord, , high, low] = registers.slice(k * slotLength, (k + 1) * slotLength);
    const bits = bitsOf(high, low);
    return { key: bitsOf(keyHigh, keyLow), value: isWord === 1 ? bits : numberOf(bits), isWord: isWord === 1 };
  });

/** A name as registers, cut to what has room; other letters than those of ASCII become question marks. */
export function nameRegisters(name: string): number[] {
  const letters = name
    .replace(/[^\x20-\x7e]/g, '?')
    .slice(0, 2 * head.nameLength)
    .padEnd(2 * head.nameLength, '\0');
  return Array.from(
    { length: head.nameLength },
    (_, k) => (letters.charCodeAt(2 * k) << 8) | letters.charCodeAt(2 * k + 1),
  );
}

export const nameIn = (registers: readonly number[]): string =>
  registers
    .flatMap((word) => [word >> 8, word & 0xff])
    .filter((code) => code !== 0)
    .map((code) => String.fromCharCode(code))
    .join('');
