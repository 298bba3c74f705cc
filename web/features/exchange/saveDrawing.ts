/** The page of the drawing that is looked at, as a file. */
import { find, type Network } from '@mesura/core/model/network';
import type { ElementId } from '@mesura/core/model/fields';
import { saveText } from '../../card/saveText';
import { pageOfDrawing, printed } from '../../diagram/picture/print';

export const drawingForms = ['svg', 'png', 'pdf', 'dxf'] as const;
export type DrawingForm = (typeof drawingForms)[number];

/** Pixels for a unit of the drawing, and most of them along a side: what browsers draw on. */
const scale = 2;
const mostPixels = 12_000;

/** In words why there is no file; null where there is one. PDF is written by the server, from what is stored. */
export async function saveDrawing(
  form: Exclude<DrawingForm, 'pdf'>,
  network: Network,
  page: ElementId | null,
  project: string,
): Promise<string | null> {
  const drawn = pageOfDrawing(network, page);
  if (!drawn) return 'Nothing stands on this page.';
  const name = `${project}, ${find(network, 'page', page)?.name ?? 'drawing'}.${form}`;
  if (form === 'dxf') {
    const { dxfOf } = await import('../../diagram/picture/dxf');
    saveText(name, dxfOf(drawn.marks), 'image/vnd.dxf');
    return null;
  }
  const { svg, width, height } = printed(drawn.marks, drawn.box);
  if (form === 'svg') saveText(name, svg, 'image/svg+xml');
  else saveText(name, await pixels(svg, width, height), 'image/png');
  return null;
}

async function pixels(svg: string, width: number, height: number): Promise<Uint8Array> {
  const factor = Math.min(scale, mostPixels / Math.max(width, height));
  const url = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    await new Promise<void>((resolve, reject) => {
      image.onload = () => resolve();
      image.onerror = () => reject(new Error('The drawing could not be turned into a picture.'));
      image.src = url;
    });
    const canvas = document.createElement('canvas');
    canvas.width = Math.ceil(width * factor);
    canvas.height = Math.ceil(height * factor);
    const context = canvas.getContext('2d')!;
    context.fillStyle = '#fff';
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.drawImage(image, 0, 0, canvas.width, canvas.height);
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
    if (!blob) throw new Error('The picture is too large for this browser.');
    return new Uint8Array(await blob.arrayBuffer());
  } finally {
    URL.revokeObjectURL(url);
  }
}
