/** Keeps a canvas painted: whatever changes asks for a frame, a frame paints once. Texts are placed anew when the view has come to rest. */
import { contains, type Box } from '@mesura/core/drawing/shape/shapes';
import { labelsFor, type Label, type Line, type Measure } from './labelling';
import { fontOf, regionOf, type Marks, type Port } from './figures';
import { paint } from './paint';
import type { Painting } from './strokes';
import type { Adjusted, Scene } from './scene';

export interface Picture {
  readonly painting: Painting;
  readonly marks: Marks;
  readonly adjusted: Adjusted;
  /** Where something would be put down. */
  readonly ghost: Box | null;
  /** Lines on which what is dragged stands in line with something else. */
  readonly guides: readonly { readonly x1: number; readonly y1: number; readonly x2: number; readonly y2: number }[];
}

/** Size of texts in drawing units: they grow on the sheet as the view shrinks, so that they stay readable as long as they have room. */
export const labelSize = (zoom: number): number => Math.max(11, 8.8 / Math.max(zoom, 0.02));
/** Smaller views than this carry no texts at all. */
const labelsFrom = 0.06;
const restMs = 90;
const keepMs = 240;

export class Easel {
  private picture: Picture | null = null;
  private port: Port = { x: 0, y: 0, zoom: 1, width: 0, height: 0 };
  private frame = 0;
  private labels: readonly Label[] = [];
  private labelled: { region: Box; size: number; picture: Picture } | null = null;
  private placedAt = 0;
  private resting: ReturnType<typeof setTimeout> | null = null;
  private readonly context: CanvasRenderingContext2D;
  private readonly widths = new Map<string, number>();

  constructor(private readonly canvas: HTMLCanvasElement) {
    this.context = canvas.getContext('2d', { alpha: false })!;
  }

  show(picture: Picture): void {
    this.picture = picture;
    this.ask();
  }

  look(port: Port): void {
    this.port = port;
    this.ask();
  }

  /** Fonts have come: widths are others. */
  measureAnew(): void {
    this.widths.clear();
    this.labelled = null;
    this.ask();
  }

  stop(): void {
    cancelAnimationFrame(this.frame);
    if (this.resting) clearTimeout(this.resting);
  }

  private ask(): void {
    if (!this.frame) this.frame = requestAnimationFrame(() => this.paint());
  }

  private paint(): void {
    this.frame = 0;
    const { picture, port, canvas } = this;
    if (!picture || port.width === 0) return;
    const scale = globalThis.devicePixelRatio || 1;
    const [width, height] = [Math.round(port.width * scale), Math.round(port.height * scale)];
    if (canvas.width !== width || canvas.height !== height) {
      canvas.width = width;
      canvas.height = height;
    }
    const size = this.place(picture, port);
    paint(this.context, port, picture.painting, this.labels, size, picture.marks, picture.adjusted, scale);
    this.paintHelp(picture, port);
    canvas.dataset.painted = 'true';
  }

  /** Texts for the view. While it moves those of before go along; they are placed anew when they do not cover it, or at rest. */
  private place(picture: Picture, port: Port): number {
    const wanted = labelSize(port.zoom);
    const view = regionOf(port);
    const last = this.labelled;
    const same = last !== null && alike(last.picture, picture);
    const covers = last !== null && contains(last.region, view);
    if (same && covers && last.size === wanted) return wanted;
    // A view in motion keeps its texts a while, also where they do not cover it yet: placing them is what takes longest.
    const fresh = performance.now() - this.placedAt < keepMs;
    if (same && last !== null && (covers ? last.size / wanted < 1.6 && wanted / last.size < 1.6 : fresh)) {
      if (this.resting) clearTimeout(this.resting);
      this.resting = setTimeout(() => {
        this.resting = null;
        this.labelled = null;
        this.ask();
      }, restMs);
      return last.size;
    }
    const region = regionOf(port, Math.max(view.width, view.height) * 0.25);
    this.labels = port.zoom < labelsFrom ? [] : this.labelsIn(picture, region, view, wanted);
    this.labelled = { region, size: wanted, picture };
    this.placedAt = performance.now();
    const shown = picture.painting.scene.within(view).length;
    this.canvas.dataset.visible = String(shown);
    this.canvas.dataset.labels = String(this.labels.length);
    return wanted;
  }

  private labelsIn({ painting, marks, adjusted }: Picture, region: Box, view: Box, size: number): Label[] {
    const scene: Scene = painting.scene;
    const moving = (id: string) => (adjusted as ReadonlyMap<string, unknown>).has(id);
    return labelsFor({
      placed: scene.within(region).filter((element) => !moving(element.id)),
      wires: scene
        .wiresWithin(region)
        .filter(({ connection }) => !moving(connection.from.element) && !moving(connection.to.element)),
      overlay: marks.overlay,
      layers: marks.layers,
      selected: marks.selected,
      view,
      size,
      measure: this.measure,
    });
  }

  private readonly measure: Measure = (text: string, size: number, tone: Line['tone']) => {
    // Widths grow with the size: one measurement at ten units does for all.
    const key = `${tone}|${text}`;
    let width = this.widths.get(key);
    if (width === undefined) {
      this.context.font = fontOf(
        { text, tone: tone === 'detail' ? 'name' : tone },
        tone === 'strong' || tone === 'level' ? 10 / 1.05 : 10,
      );
      width = this.context.measureText(text).width / 10;
      if (this.widths.size > 20000) this.widths.clear();
      this.widths.set(key, width);
    }
    return width * size;
  };

  private paintHelp({ ghost, guides, painting }: Picture, port: Port): void {
    const { context } = this;
    const { palette } = painting.pens;
    context.strokeStyle = palette.accent;
    context.lineWidth = 1 / port.zoom;
    context.setLineDash([4 / port.zoom, 3 / port.zoom]);
    for (const { x1, y1, x2, y2 } of guides) {
      context.beginPath();
      context.moveTo(x1, y1);
      context.lineTo(x2, y2);
      context.stroke();
    }
    if (ghost) {
      context.strokeRect(ghost.x, ghost.y, ghost.width, ghost.height);
      const [x, y] = [ghost.x + ghost.width / 2, ghost.y + ghost.height / 2];
      context.beginPath();
      context.moveTo(x - 8 / port.zoom, y);
      context.lineTo(x + 8 / port.zoom, y);
      context.moveTo(x, y - 8 / port.zoom);
      context.lineTo(x, y + 8 / port.zoom);
      context.stroke();
    }
    context.setLineDash([]);
  }
}

/** Pictures whose texts stand alike: what moves carries none, so that a drag is no reason to place them anew. */
const alike = (p: Picture, q: Picture): boolean =>
  p === q ||
  (p.painting === q.painting &&
    p.marks.overlay === q.marks.overlay &&
    p.marks.layers === q.marks.layers &&
    p.marks.selected === q.marks.selected);
