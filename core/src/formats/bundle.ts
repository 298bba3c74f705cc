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
  const files: { name: string; content: Growing; ended: boolean }[] = [];
  let total = 0;
  let refusal: Error | null = null;
  const refuse = (message: string): never => {
    // The package catches what its callbacks throw and reports it as a broken file.
    throw (refusal ??= new Error(message));
  };
  const unzip = new Unzip((file) => {
    if (file.name.endsWith('/')) return;
    if (files.length >= limits.files) refuse(`it holds more than ${limits.files} files`);
    const found = { name: file.name, content: new Growing(), ended: false };
    files.push(found);
    file.ondata = (error, part, final) => {
      if (error) refuse(`${file.name} in it is broken`);
      total += part.length;
      if (total > limits.bytes) refuse(`unpacked it is larger than ${limits.bytes >> 20} MB`);
      found.content.add(part);
      if (final) found.ended = true;
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  for (let at = 0; at < bytes.length; at += piece)
    unzip.push(bytes.subarray(at, at + piece), at + piece >= bytes.length);
  const broken = files.find(({ ended }) => !ended);
  if (broken) throw new Error(`${broken.name} in it is cut off`);
  return files.map(({ name, content }) => ({ name, bytes: content.bytes }));
}

/** One block that doubles as it fills: pieces kept and put together in the end would take three times the file. */
class Growing {
  private block = new Uint8Array(0);
  private length = 0;

  add(part: Uint8Array): void {
    const wanted = this.length + part.length;
    if (wanted > this.block.length) {
      const larger = new Uint8Array(Math.max(wanted, 2 * this.block.length, piece));
      larger.set(this.block.subarray(0, this.length));
      this.block = larger;
    }
    this.block.set(part, this.length);
    this.length = wanted;
  }

  get bytes(): Uint8Array {
    return this.block.subarray(0, this.length);
  }
}
