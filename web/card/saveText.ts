/** Hands a text, or bytes, to the browser as a file to keep. */
export function saveText(name: string, content: string | Uint8Array, type = 'text/csv;charset=utf-8'): void {
  const url = URL.createObjectURL(new Blob([typeof content === 'string' ? content : content.slice()], { type }));
  const link = Object.assign(document.createElement('a'), { href: url, download: name });
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10000);
}
