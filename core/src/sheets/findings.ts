/** What issued sheets and what was read back from relays leave to be done, as findings. */
import type { ElementId } from '../model/fields';
import type { Problem } from '../model/problem';
import type { Subject } from './content';
import type { SheetDifference } from './difference';
import type { Deviation } from './readBack';

export interface MovedSheet {
  readonly subject: Subject;
  readonly name: string;
  readonly number: number;
  readonly differences: readonly SheetDifference[];
}

const elementOf = ({ kind, id }: Subject): ElementId => (kind === 'arcLabel' ? id.split(' ')[0] : id) as ElementId;

/** What was true when a sheet was signed and is not any more; and values that were changed and not issued. Figures that merely moved are none. */
export function movedFindings(moved: readonly MovedSheet[]): Problem[] {
  return moved.flatMap(({ subject, name, number, differences }): Problem[] => {
    const worse = differences.filter((each) => each.worse);
    const values = differences.filter(({ part }) => part === 'value' || part === 'function' || part === 'device');
    const common = { element: elementOf(subject) };
    return [
      ...(worse.length > 0
        ? [
            {
              ...common,
              severity: 'error' as const,
              code: 'sheet.moved',
              message: `${name}: ${worse.length === 1 ? 'a statement' : `${worse.length} statements`} of revision ${number} no longer ${worse.length === 1 ? 'holds' : 'hold'}: ${listed(worse)}`,
              todo: 'Open the sheet and see what has moved; propose anew, or issue a revision that says what is true now.',
            },
          ]
        : []),
      ...(values.length > 0
        ? [
            {
              ...common,
              severity: 'warning' as const,
              code: 'sheet.changed',
              message: `${name}: ${values.length === 1 ? 'one value differs' : `${values.length} values differ`} from revision ${number}, which is issued: ${listed(values)}`,
              todo: 'Prepare the next revision, or take the change back: the relay is set as the issued sheet says.',
            },
          ]
        : []),
    ];
  });
}

const listed = (of: readonly SheetDifference[]): string =>
  of
    .slice(0, 3)
    .map(({ what, before, after }) => `${what} (${before || '–'} → ${after || '–'})`)
    .join('; ') + (of.length > 3 ? ` and ${of.length - 3} more` : '');

export interface ReadDevice {
  readonly subject: Subject;
  readonly name: string;
  /** Of the sheet that it was compared with. */
  readonly number: number;
  readonly source: string;
  /** As text, the day. */
  readonly on: string;
  /** Those that nobody has accepted. */
  readonly deviations: readonly Deviation[];
  /** A later revision has been issued since. */
  readonly isOld: boolean;
}

/** What stands in relays and not on their sheets. */
export const readFindings = (read: readonly ReadDevice[]): Problem[] =>
  read.flatMap(({ subject, name, number, source, on, deviations, isOld }): Problem[] => {
    const common = { element: elementOf(subject) };
    if (isOld)
      return [
        {
          ...common,
          severity: 'warning',
          code: 'readBack.old',
          message: `${name}: what is in the relay was last compared with revision ${number}; a later one is issued`,
          todo: 'Enter the issued revision, read the relay and compare.',
        },
      ];
    if (deviations.length === 0) return [];
    const some = deviations
      .slice(0, 3)
      .map(({ title, issued, read: found }) => `${title} is ${found ?? 'missing'}, issued ${issued ?? 'nothing'}`);
    return [
      {
        ...common,
        severity: 'error',
        code: 'readBack.deviates',
        message: `${name}: read on ${on} from ${source}, ${deviations.length === 1 ? 'a value deviates' : `${deviations.length} values deviate`} from revision ${number}: ${some.join('; ')}${deviations.length > 3 ? ` and ${deviations.length - 3} more` : ''}`,
        todo: 'Set the relay as issued, or accept the deviation with a reason.',
      },
    ];
  });
