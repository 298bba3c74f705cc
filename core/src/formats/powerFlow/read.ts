/** Cards of the IEEE common data format, as figures. */
import { FileRefusal } from '../format';
import { branchCard, busCard, textIn, titleCard, type Card } from './form';

export type BusFigures = Readonly<Record<Exclude<keyof typeof busCard, 'name'>, number>> & {
  readonly name: string;
  readonly line: number;
};
export type BranchFigures = Readonly<Record<keyof typeof branchCard, number>> & { readonly line: number };

export interface PowerFlowCase {
  readonly title: string;
  readonly baseMva: number;
  readonly buses: readonly BusFigures[];
  readonly branches: readonly BranchFigures[];
  /** Sections of the file that hold something else, with the number of their cards. */
  readonly others: readonly { readonly title: string; readonly count: number }[];
}

export const isPowerFlowCase = (text: string): boolean => /^BUS DATA FOLLOWS/m.test(text.slice(0, 5000));

const longestLine = 400;
const mostCards = 400_000;

/** Throws a `FileRefusal` with the line where a card is no card. Yields the share that is read. */
export function* readCase(text: string): Generator<number, PowerFlowCase> {
  const lines = text.split(/\r\n?|\n/);
  if (lines.length > mostCards) throw new FileRefusal(`the file has more than ${mostCards} lines`);
  const head = lines[0] ?? '';
  const baseMva = figure(head, 1, titleCard.baseMva, 'MVA base', 100) || 100;
  if (!(baseMva > 0 && baseMva < 1e6)) throw new FileRefusal(`line 1: an MVA base of ${baseMva} is none`);
  const buses: BusFigures[] = [];
  const branches: BranchFigures[] = [];
  const others: { title: string; count: number }[] = [];
  let section: 'none' | 'bus' | 'branch' | 'other' = 'none';
  for (let k = 1; k < lines.length; k++) {
    if (k % 2000 === 0) yield k / lines.length;
    const line = lines[k];
    const number = k + 1;
    if (line.trim() === '') continue;
    if (line.length > longestLine)
      throw new FileRefusal(`line ${number}: a card has at most 128 columns, this line has ${line.length}`);
    const begins = /^ ?([A-Z][A-Z ]*?)(?: DATA)? +FOLLOWS?/i.exec(line)?.[1].trim().toUpperCase();
    if (begins !== undefined) {
      section = begins === 'BUS' ? 'bus' : begins === 'BRANCH' ? 'branch' : 'other';
      if (section === 'other') others.push({ title: begins.toLowerCase(), count: 0 });
    } else if (/^ ?-9{1,3}(\s|$)/.test(line)) section = 'none';
    else if (/^END OF DATA/i.test(line)) break;
    else if (section === 'bus') buses.push(busOf(line, number));
    else if (section === 'branch') branches.push(cardOf(line, number, branchCard) as unknown as BranchFigures);
    else if (section === 'other') others[others.length - 1].count++;
    else throw new FileRefusal(`line ${number}: what stands here belongs to no section of the file`);
  }
  if (buses.length === 0) throw new FileRefusal('there is no bus in it');
  return {
    title: textIn(head, titleCard.caseName),
    baseMva,
    buses,
    branches,
    others: others.filter(({ count }) => count > 0),
  };
}

function busOf(line: string, number: number): BusFigures {
  const { name, ...numbers } = busCard;
  return { ...(cardOf(line, number, numbers) as unknown as BusFigures), name: textIn(line, name) };
}

/** Empty columns count as nought. */
function cardOf(line: string, number: number, card: Card): Record<string, number> {
  const found: Record<string, number> = { line: number };
  for (const [name, columns] of Object.entries(card)) found[name] = figure(line, number, columns, name, 0);
  return found;
}

function figure(line: string, number: number, columns: readonly [number, number], name: string, empty: number): number {
  const text = textIn(line, columns);
  if (text === '') return empty;
  // Fortran writes exponents with a D, too.
  const value = Number(text.replace(/d/i, 'e'));
  if (!Number.isFinite(value))
    throw new FileRefusal(`line ${number}, columns ${columns[0]} to ${columns[1]}: "${text}" is no number (${name})`);
  return value;
}
