/** A page of the one-line as PDF: A3 across or upright, whichever it fills better, as vectors, with a title block. */
import type { ElementId } from '@mesura/core/model/fields';
import { find, settingsOf, type Network } from '@mesura/core/model/network';
import { pageOfDrawing, printed } from '../../diagram/picture/print';
import { light } from '../../theme/tokens';
import { pdfOf, pictureFoot } from './base';

/** A3 in points, long side first; what is left of it beside margins and title block. */
const [long, short] = [1190, 842];
const margin = 40;
const foot = 62;

/** Null where nothing stands on the page. */
export async function drawingPdf(
  network: Network,
  page: ElementId | null,
  { project, revision, date }: { readonly project: string; readonly revision: number; readonly date: string },
): Promise<Buffer | null> {
  const drawn = pageOfDrawing(network, page);
  if (!drawn) return null;
  const { svg, width, height } = printed(drawn.marks, drawn.box);
  const isWide = width >= height;
  const room = { width: (isWide ? long : short) - 2 * margin, height: (isWide ? short : long) - margin - foot - 10 };
  const title = find(network, 'page', page)?.name ?? 'One-line diagram';
  return pdfOf({
    pageSize: 'A3',
    pageOrientation: isWide ? 'landscape' : 'portrait',
    pageMargins: [margin, margin, margin, foot],
    info: { title: `${title}, ${project}` },
    defaultStyle: { font: 'Sans', fontSize: 8, color: light.ink },
    footer: () => pictureFoot(title, { owner: settingsOf(network).owner, project, revision, date }),
    content: [{ svg, fit: [room.width, room.height], alignment: 'center' }],
  });
}
