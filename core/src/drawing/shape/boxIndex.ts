import { overlaps, type Box } from './shapes';

const cell = 200;
/** What spreads over more squares than this is kept in a list of its own. */
const mostCells = 120;

/** Things by the squares of the sheet that they touch: those in a region are found without looking at all. */
export class BoxIndex<T> {
  private readonly cells = new Map<number, number[]>();
  private readonly wide: number[] = [];
  private readonly items: T[] = [];
  private readonly boxes: Box[] = [];
  /** The round in which a thing was looked at last: each is given once. */
  private readonly seen: number[] = [];
  private round = 0;

  constructor(items: Iterable<T> = [], boxOf: (item: T) => Box = (item) => item as Box) {
    for (const item of items) this.add(item, boxOf(item));
  }

  add(item: T, box: Box): void {
    const k = this.items.push(item) - 1;
    this.boxes.push(box);
    this.seen.push(0);
    const [i0, i1, j0, j1] = cellsOf(box);
    if ((i1 - i0 + 1) * (j1 - j0 + 1) > mostCells) {
      this.wide.push(k);
      return;
    }
    for (let i = i0; i <= i1; i++)
      for (let j = j0; j <= j1; j++) {
        const key = i * 65536 + j;
        const list = this.cells.get(key);
        if (list) list.push(k);
        else this.cells.set(key, [k]);
      }
  }

  /** Each thing whose box touches the region, once. */
  within(region: Box): T[] {
    const found: T[] = [];
    const round = ++this.round;
    const take = (k: number) => {
      if (this.seen[k] === round) return;
      this.seen[k] = round;
      if (touches(this.boxes[k], region)) found.push(this.items[k]);
    };
    this.wide.forEach(take);
    const [i0, i1, j0, j1] = cellsOf(region);
    if ((i1 - i0 + 1) * (j1 - j0 + 1) > this.cells.size) for (let k = 0; k < this.items.length; k++) take(k);
    else for (let i = i0; i <= i1; i++) for (let j = j0; j <= j1; j++) this.cells.get(i * 65536 + j)?.forEach(take);
    return found;
  }

  /** Whether anything overlaps the region, which meeting at an edge is not. */
  overlapsAny(region: Box): boolean {
    const isHit = (k: number) => overlaps(this.boxes[k], region);
    if (this.wide.some(isHit)) return true;
    const [i0, i1, j0, j1] = cellsOf(region);
    if ((i1 - i0 + 1) * (j1 - j0 + 1) > this.cells.size) return this.boxes.some((box) => overlaps(box, region));
    for (let i = i0; i <= i1; i++)
      for (let j = j0; j <= j1; j++) if (this.cells.get(i * 65536 + j)?.some(isHit)) return true;
    return false;
  }
}

/** Whether two boxes meet, at an edge too. */
export const touches = (p: Box, q: Box): boolean =>
  p.x <= q.x + q.width && q.x <= p.x + p.width && p.y <= q.y + q.height && q.y <= p.y + p.height;

const cellsOf = ({ x, y, width, height }: Box): [number, number, number, number] => [
  Math.floor(x / cell),
  Math.floor((x + width) / cell),
  Math.floor(y / cell),
  Math.floor((y + height) / cell),
];
