/** What is told about a file, gathered: the same remark once, with the places that it is true of. */

/** Something told about a file, once for all places that it is true of. */
export interface Remark {
  readonly message: string;
  readonly count: number;
  /** The first of them, by name. */
  readonly places: readonly string[];
}

/** So many places are named. */
const mostPlaces = 8;

export class Remarks {
  private readonly found = new Map<string, { count: number; places: string[] }>();

  add(message: string, place?: string): void {
    const known = this.found.get(message);
    const entry = known ?? { count: 0, places: [] };
    if (!known) this.found.set(message, entry);
    entry.count++;
    if (place !== undefined && entry.places.length < mostPlaces) entry.places.push(place);
  }

  get all(): readonly Remark[] {
    return [...this.found].map(([message, { count, places }]) => ({ message, count, places }));
  }
}

/** "message: A, B and 3 more". */
export function remarkText({ message, count, places }: Remark): string {
  if (places.length === 0) return count > 1 ? `${message} (${count} times)` : message;
  const more = count - places.length;
  return `${message}: ${places.join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
}
