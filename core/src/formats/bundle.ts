/** Bundles (zip), opened with limits that hold whatever the file says of itself: a few kilobytes may claim to be gigabytes, or be them. */
import { Unzip, UnzipInflate } from 'fflate';

export interface BundleLimits {
  readonly files: number;
  /** Of all files together, as they come out. */
  readonly bytes: number;
}

export const usualLimits: BundleLimits = { files: 1000, bytes: 400 << 20 };

export interface BundledFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** What a bundle ends with; one without it is cut off. */
const endMark = [0x50, 0x4b, 0x05, 0x06];
const longestComment = 65_557;
const piece = 1 << 16;

const hasEnd = (bytes: Uint8Array): boolean => {
  for (let k = bytes.length - 4; k >= Math.max(0, bytes.length - longestComment); k--)
    if (endMark.every((mark, j) => bytes[k + j] === mark)) return true;
  return false;
};

/** The files in a bundle; folders are left out. Throws in words what is cut off, broken, locked or too large. */
export function unbundled(bytes: Uint8Array, limits: BundleLimits = usualLimits): BundledFile[] {
  if (!hasEnd(bytes)) throw new Error('it is cut off');
  const files: { name: string; parts: Uint8Array[]; ended: boolean }[] = [];
  let total = 0;
  let refusal: Error | null = null;
  const refuse = (message: string): never => {
    // The package catches what its callbacks throw and reports it as a broken file.
    throw (refusal ??= new Error(message));
  };
  const unzip = new Unzip((file) => {
    if (file.name.endsWith('/')) return;
    if (files.length >= limits.files) refuse(`it holds more than ${limits.files} files`);
    const found = { name: file.name, parts: [] as Uint8Array[], ended: false };
    files.push(found);
    file.ondata = (error, part, final) => {
      if (error) refuse(`${file.name} in it is broken`);
      total += part.length;
      if (total > limits.bytes) refuse(`unpacked it is larger than ${limits.bytes >> 20} MB`);
      found.parts.push(part);
      if (final) found.ended = true;
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  for (let at = 0; at < bytes.length; at += piece)
    unzip.push(bytes.subarray(at, at + piece), at + piece >= bytes.length);
  const broken = files.find(({ ended }) => !ended);
  if (broken) throw new Error(`${broken.name} in it is cut off`);
  return files.map(({ name, parts }) => ({ name, bytes: joined(parts) }));
}

function joined(parts: readonly Uint8Array[]): Uint8Array {
  if (parts.length === 1) return parts[0];
  const all = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}
