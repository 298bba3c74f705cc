/** Several sheets in one file: a cover with contents, then the sheets as they were issued, with the page of the whole on each. */
import { PDFDocument, rgb, StandardFonts } from 'pdf-lib';
import type { Content } from 'pdfmake/interfaces';
import { light } from '../../theme/tokens';
import type { FolderJob } from '../jobs/sheets';
import { cell, head, list, number, pdfOf, runs } from './base';

const right = { alignment: 'right' };

export async function folderPdf({ title, subtitle, date, owner, parts }: Omit<FolderJob, 'task'>): Promise<Uint8Array> {
  const sources = await Promise.all(parts.map(({ pdf }) => PDFDocument.load(pdf)));
  // How long the contents are decides where the sheets begin: made once with a guess, then as it is.
  let contents = await PDFDocument.load(await cover(1));
  if (contents.getPageCount() > 1) contents = await PDFDocument.load(await cover(contents.getPageCount()));
  const whole = await PDFDocument.create();
  whole.setTitle(title);
  whole.setCreator('Mesura');
  for (const source of [contents, ...sources])
    for (const page of await whole.copyPages(source, source.getPageIndices())) whole.addPage(page);
  const font = await whole.embedFont(StandardFonts.Helvetica);
  const pages = whole.getPages();
  pages.forEach((page, k) => {
    const text = `${k + 1} / ${pages.length}`;
    const size = 7;
    page.drawText(text, {
      x: page.getWidth() - 40 - font.widthOfTextAtSize(text, size),
      y: page.getHeight() - 26,
      size,
      font,
      color: rgb(0.42, 0.47, 0.5),
    });
  });
  return whole.save();

  function cover(own: number): Promise<Buffer> {
    let at = own + 1;
    const rows = parts.map(({ title: name, note }, k) => {
      const from = at;
      at += sources[k].getPageCount();
      return [cell(name), cell(note, { color: light.muted }), number(String(from))];
    });
    return pdfOf({
      pageSize: 'A4',
      pageMargins: [40, 56, 40, 40],
      defaultStyle: { font: 'Sans', fontSize: 9, color: light.ink },
      content: [
        { text: runs(title), fontSize: 20, bold: true, margin: [0, 40, 0, 2] },
        { text: runs([owner, subtitle, date].filter(Boolean).join(' · ')), color: light.muted, margin: [0, 0, 0, 24] },
        { text: 'Contents', bold: true, fontSize: 12, margin: [0, 0, 0, 6] },
        list(['*', 'auto', 30], [head('Sheet'), head('State'), head('Page', right)], rows),
      ] as Content[],
    });
  }
}
