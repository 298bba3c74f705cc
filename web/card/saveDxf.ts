import type { Scene } from '../plots/scene';
import { saveText } from './saveText';

/** A plot for drawing programs; the writer is loaded when it is wanted. */
export async function saveDxf(name: string, scene: Scene): Promise<void> {
  const { sceneDxf } = await import('../plots/dxf');
  saveText(`${name}.dxf`, sceneDxf(scene), 'image/vnd.dxf');
}
