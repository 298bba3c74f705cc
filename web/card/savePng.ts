import type { Paper } from '../plots/scene';

/** So many pixels of the picture for one of the screen. */
const sharpness = 3;

/** Paints a plot as a picture and hands it to the browser as a file. */
export async function savePng(name: string, svg: string, { width, height }: Paper): Promise<void> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await image.decode();
  const canvas = Object.assign(document.createElement('canvas'), {
    width: sharpness * width,
    height: sharpness * height,
  });
  const paint = canvas.getContext('2d')!;
  paint.fillStyle = '#fff';
  paint.fillRect(0, 0, canvas.width, canvas.height);
  paint.drawImage(image, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'));
  if (!blob) return;
  const url = URL.createObjectURL(blob);
  Object.assign(document.createElement('a'), { href: url, download: name }).click();
  setTimeout(() => URL.revokeObjectURL(url), 10000);
}
