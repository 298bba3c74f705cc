/** Files on their way into the project and out of it. */
import { create } from 'zustand';
import type { LibraryKind } from '@mesura/core/model/library';

export interface Incoming {
  readonly name: string;
  readonly bytes: Uint8Array;
  /** What types are of, where the file does not say. */
  readonly kind: LibraryKind | null;
  /** Tells one from the next of the same name. */
  readonly number: number;
}

interface ExchangeState {
  readonly incoming: Incoming | null;
  /** Exporter that is at work. */
  readonly outgoing: string | null;
  /** Form in which the page looked at is wanted. */
  readonly drawing: 'svg' | 'png' | 'pdf' | 'dxf' | null;
}

export const useExchange = create<ExchangeState>()(() => ({ incoming: null, outgoing: null, drawing: null }));

let number = 0;

/** Shows what a file would bring. */
export async function bringIn(file: File, kind: LibraryKind | null = null): Promise<void> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  useExchange.setState({ incoming: { name: file.name, bytes, kind, number: ++number } });
}

/** Asks for a file, then shows what it would bring. */
export function chooseFile(): void {
  const input = Object.assign(document.createElement('input'), { type: 'file' });
  input.onchange = () => input.files?.[0] && void bringIn(input.files[0]);
  input.click();
}

export const sendOut = (exporter: string): void => useExchange.setState({ outgoing: exporter });

export const drawOut = (drawing: NonNullable<ExchangeState['drawing']>): void => useExchange.setState({ drawing });
