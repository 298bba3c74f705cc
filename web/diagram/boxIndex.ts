import type { Box } from '@mesura/core/drawing/shapes';

const cell = 400;
/** What spreads over more squares than this is kept in a list of its own. */
const mostCells = 60;

/** Things by the squares of the sheet that they touch: those in a region are found without looking at all. */
export class BoxIndex<T> {
  private readonly cells = new Map<number, number[]>();
  private readonly wide: number[] = [];
  private readonly items: T[] = [];
  private readonly boxes: Box[] = [];
  private readonly seen: Int32Array;
  private round = 0;

  constructor(items: readonly T[], boxOf: (item: T) => Box) {
    for (const item of items) {
      const box = boxOf(item);
      const k = this.items.push(item) - 1;
      this.boxes.push(box);
      const [i0, i1, j0, j1] = cellsOf(box);
      if ((i1 - i0 + 1) * (j1 - j0 + 1) > mostCells) {
        this.wide.push(k);
        continue;
      }
      for (let i = i0; i <= i1; i++)
        for (let j = j0; j <= j1; j++) {
          const key = i * 65536 + j;
          const list = this.cells.get(key);
          if (list) list.push(k);
          else this.cells.set(key, [k]);
        }
    }
    this.seen = new Int32Array(this.items.length);
  }

  /** Each thing whose box touches the region, once. */
  within(region: Box): T[] {
    const found: T[] = [];
    const round = ++this.round;
    const take = (k: number) => {
      if (this.seen[k] === round) return;
      this.seen[k] = round;
      const box = this.boxes[k];
      if (
        box.x <= region.x + region.width &&
        region.x <= box.x + box.width &&
        box.y <= region.y + region.height &&
        region.y <= box.y + box.height
      )
        found.push(this.items[k]);
    };
    this.wide.forEach(take);
    const [i0, i1, j0, j1] = cellsOf(region);
    if ((i1 - i0 + 1) * (j1 - j0 + 1) > this.cells.size) for (let k = 0; k < this.items.length; k++) take(k);
    else for (let i = i0; i <= i1; i++) for (let j = j0; j <= j1; j++) this.cells.get(i * 65536 + j)?.forEach(take);
    return found;
  }
}

const cellsOf = ({ x, y, width, height }: Box): [number, number, number, number] => [
  Math.floor(x / cell),
  Math.floor((x + width) / cell),
  Math.floor(y / cell),
  Math.floor((y + height) / cell),
];
