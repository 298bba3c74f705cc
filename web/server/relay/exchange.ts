/** An issued sheet and the relay that is set by it: sent, read back, compared, written down. */
import { z } from 'zod';
import { valueKey, type SheetContent, type SheetValue } from '@mesura/core/sheets/content';
import type { ReadValue } from '@mesura/core/sheets/readBack';
import { codeOf, type HeldValue } from '@mesura/core/sheets/registerMap';
import { ServiceError } from '../errors';
import { under, type Person } from '../people/person';
import { plainText } from '../texts';
import { sheetInForce, storeReading, type ReadingCard } from '../sheets/readings';
import { readRelay, setRelay, type RelayState } from './modbus';

export const relaySchema = z.object({
  do: z.enum(['read', 'send']),
  port: z.int().min(1).max(65_535),
  as: plainText(80).optional(),
});

const heldOf = (value: SheetValue): HeldValue =>
  typeof value.value === 'string'
    ? { key: codeOf(valueKey(value)), value: codeOf(value.value), isWord: true }
    : { key: codeOf(valueKey(value)), value: value.value, isWord: false };

/** What a relay holds, under the keys of a sheet; figures as they come out of single precision. */
export function readValues(
  { values }: Pick<SheetContent, 'values'>,
  { values: held }: Pick<RelayState, 'values'>,
): ReadValue[] {
  const byKey = new Map(values.map((value) => [codeOf(valueKey(value)), value]));
  return held.map(({ key, value, isWord }): ReadValue => {
    const sheet = byKey.get(key);
    const title = sheet
      ? { code: sheet.code, setting: sheet.setting }
      : { code: '', setting: `slot ${key.toString(16)}` };
    const word = isWord && sheet && typeof sheet.value === 'string' && codeOf(sheet.value) === value;
    return {
      key: sheet ? valueKey(sheet) : null,
      ...title,
      value: word
        ? (sheet.shown ?? String(sheet.value))
        : isWord
          ? `word ${value.toString(16)}`
          : `${Number(value.toPrecision(6))}${sheet?.unit ? ` ${sheet.unit}` : ''}`,
    };
  });
}

/** Errors: the sheet is not in force; the relay does not answer, is another one's, or does not take the values over. */
export async function exchangeWithRelay(
  projectId: string,
  sheetId: number,
  { do: what, port, as }: z.infer<typeof relaySchema>,
  person: Person,
): Promise<ReadingCard> {
  const signer = under(person, as);
  const { content } = await sheetInForce(projectId, sheetId);
  const codes = new Set(content.values.map((value) => codeOf(valueKey(value))));
  if (codes.size < content.values.length)
    throw new ServiceError(409, 'relay.codes', 'Two values of this sheet have the same code in the register map.');
  const state =
    what === 'send' ? await setRelay(port, content.relay.name, content.values.map(heldOf)) : await readRelay(port);
  return storeReading(
    projectId,
    sheetId,
    {
      source: `relay at port ${port}${state.name ? ` (${state.name})` : ''}`,
      whole: true,
      values: readValues(content, state),
      sent: what === 'send',
    },
    signer,
  );
}
