/** A record beside a trial: moved so that its trigger, or what was chosen, falls on the beginning of the fault. */
import { measured, toPrimary, type RecordPhase } from '@mesura/core/formats/comtrade/phasors';
import { FileRefusal } from '@mesura/core/formats/format';
import { isConfiguration, partsOfCff, readComtrade, type ComtradeRecord } from '@mesura/core/formats/comtrade/read';

export interface BesideRecord {
  readonly name: string;
  readonly record: ComtradeRecord;
  /** Second of the record, after its first sample, at which the fault begins. */
  readonly startS: number;
}

export type ReadFiles =
  { readonly ok: true; readonly beside: BesideRecord } | { readonly ok: false; readonly message: string };

/** Of files that were chosen together: a configuration with its data, or both in one. */
export async function recordOf(files: readonly File[]): Promise<ReadFiles> {
  const ending = (end: string) => files.find(({ name }) => name.toLowerCase().endsWith(end));
  const [single, cfg, dat] = [ending('.cff'), ending('.cfg'), ending('.dat')];
  const bytes = async (file: File) => new Uint8Array(await file.arrayBuffer());
  try {
    let record: ComtradeRecord;
    const named = single ?? cfg;
    if (single) {
      const parts = partsOfCff(await bytes(single), (part) => new TextDecoder().decode(part));
      if (!parts) return { ok: false, message: `${single.name} lacks its configuration or its data.` };
      record = readComtrade(parts.cfg, parts.data);
    } else if (cfg && dat) {
      const text = await cfg.text();
      if (!isConfiguration(text))
        return { ok: false, message: `${cfg.name} is no configuration of a COMTRADE record.` };
      record = readComtrade(text, await bytes(dat));
    } else
      return { ok: false, message: 'Choose the configuration (.cfg) and the data (.dat) together, or one .cff file.' };
    return { ok: true, beside: { name: named!.name.replace(/\.\w+$/, ''), record, startS: record.triggerS ?? 0 } };
  } catch (error) {
    if (error instanceof FileRefusal) return { ok: false, message: error.message };
    throw error;
  }
}

/** Samples of a channel in primary amperes or volts; null where the record has none of that phase. */
export function traceOf({ record, startS }: BesideRecord, quantity: 'current' | 'voltage', phase: RecordPhase) {
  const channel = record.channels.find((each) => {
    const what = measured(each);
    return what?.quantity === quantity && what.phase === phase;
  });
  if (!channel) return null;
  const factor = toPrimary(channel);
  const values = channel.values.map((value) => (Number.isFinite(value) ? value * factor : 0));
  return {
    channel: channel.name,
    values,
    /** Between two moments of the trial; thinned out to what a screen shows. */
    shown(fromS: number, toS: number): { atS: number; value: number }[] {
      const inside: number[] = [];
      for (let k = 0; k < values.length; k++) {
        const at = record.seconds[k] - startS;
        if (at >= fromS && at <= toS) inside.push(k);
      }
      const step = Math.max(1, Math.floor(inside.length / 6000));
      return inside
        .filter((_, j) => j % step === 0)
        .map((k) => ({ atS: record.seconds[k] - startS, value: values[k] }));
    },
  };
}
