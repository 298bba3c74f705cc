/** A plot of the screen as PDF: one page, A4 across or upright, whichever it fills better, as vectors, with a title block. */
import type { Scene } from '../../plots/scene';
import { svgOf } from '../../plots/svg';
import { light } from '../../theme/tokens';
import { pdfOf, pictureFoot } from './base';

/** A4 in points, long side first; what is left of it beside margins and title block. */
const [long, short] = [842, 595];
const margin = 40;
const foot = 62;

export function plotPdf(
  title: string,
  scene: Scene,
  {
    owner,
    project,
    revision,
    date,
  }: { readonly owner: string; readonly project: string; readonly revision: number; readonly date: string },
): Promise<Buffer> {
  const isWide = scene.paper.width >= scene.paper.height;
  const room = { width: (isWide ? long : short) - 2 * margin, height: (isWide ? short : long) - margin - foot - 40 };
  return pdfOf({
    pageSize: 'A4',
    pageOrientation: isWide ? 'landscape' : 'portrait',
    pageMargins: [margin, margin, margin, foot],
    info: { title: `${title}, ${project}` },
    defaultStyle: { font: 'Sans', fontSize: 8, color: light.ink },
    footer: () => pictureFoot(title, { owner, project, revision, date }),
    content: [
      { text: title, fontSize: 11, bold: true, margin: [0, 0, 0, 8] },
      { svg: svgOf(scene), fit: [room.width, room.height], alignment: 'center' },
    ],
  });
}
