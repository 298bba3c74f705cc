/** Cells of a text: one of commas, semicolons or tabs between them, quoted where they hold one (RFC 4180, as spreadsheets write it). */

/** Whichever the first line has most of. */
export function separatorOf(text: string): string {
  const end = text.search(/[\r\n]/);
  const first = end < 0 ? text : text.slice(0, end);
  return [',', ';', '\t'].reduce((p, q) => (first.split(q).length > first.split(p).length ? q : p));
}

export function delimited(text: string, separator = separatorOf(text)): string[][] {
  const rows: string[][] = [[]];
  let cell = '';
  let quoted = false;
  const end = () => {
    rows[rows.length - 1].push(cell);
    cell = '';
  };
  const clean = text
    .replace(/^\uFEFF/, '')
    .replace(/\r\n?/g, '\n')
    .replace(/\n$/, '');
  for (let k = 0; k < clean.length; k++) {
    const sign = clean[k];
    if (quoted) {
      if (sign !== '"') cell += sign;
      else if (clean[k + 1] === '"') cell += clean[++k];
      else quoted = false;
    } else if (sign === '"' && cell === '') quoted = true;
    else if (sign === separator) end();
    else if (sign === '\n') {
      end();
      rows.push([]);
    } else cell += sign;
  }
  end();
  return rows;
}
