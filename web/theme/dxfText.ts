/** What DXF of this age cannot hold in a text is told by its number. */
export const plainDxfText = (text: string): string =>
  text
    .replace(/[\r\n]+/g, ' ')
    .replace(/[^\x20-\x7e]/g, (sign) => `\\U+${sign.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`);
