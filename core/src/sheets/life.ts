/**
 * The life of a sheet: prepared, checked, approved and so issued; or rejected with a reason, and prepared anew. Told by its events, which are only ever added. A draft is what
 * stands in the network, and has none.
 */

export const lifeSteps = ['prepared', 'checked', 'rejected', 'approved', 'withdrawn', 'comment', 'resolved'] as const;
export type LifeStep = (typeof lifeSteps)[number];

/** Who may take a step, by role on the project. */
export const stepRoles = {
  prepared: ['engineer'],
  checked: ['checker'],
  rejected: ['checker', 'approver'],
  approved: ['approver'],
  withdrawn: ['approver'],
  comment: ['engineer', 'checker', 'approver'],
  resolved: ['engineer', 'checker', 'approver'],
} as const satisfies Readonly<Record<LifeStep, readonly string[]>>;

export interface SheetEvent {
  /** From 0 on, without gaps. */
  readonly seq: number;
  readonly step: LifeStep;
  /** Null on one's own desk, where nobody signs in. */
  readonly accountId: string | null;
  readonly name: string;
  readonly signedIn: boolean;
  /** Reason, or comment. */
  readonly text: string;
  /** A comment: the value that it is about, or nothing; `resolved`: the number of the comment. */
  readonly about: string;
  readonly at: string;
}

export type SheetState = 'prepared' | 'checked' | 'rejected' | 'issued' | 'withdrawn';

export const stateTitles: Readonly<Record<SheetState, string>> = {
  prepared: 'prepared',
  checked: 'checked',
  rejected: 'rejected',
  issued: 'issued',
  withdrawn: 'withdrawn',
};

const becomes: Readonly<Partial<Record<LifeStep, SheetState>>> = {
  prepared: 'prepared',
  checked: 'checked',
  rejected: 'rejected',
  approved: 'issued',
  withdrawn: 'withdrawn',
};

export const stateOf = (events: readonly Pick<SheetEvent, 'step'>[]): SheetState =>
  events.reduce<SheetState>((state, { step }) => becomes[step] ?? state, 'prepared');

/** Comments that nobody has resolved. */
export function openComments(events: readonly SheetEvent[]): SheetEvent[] {
  const done = new Set(events.flatMap(({ step, about }) => (step === 'resolved' ? [about] : [])));
  return events.filter(({ step, seq }) => step === 'comment' && !done.has(String(seq)));
}

/** The last signature of a step; null where there is none. */
export const signatureOf = (events: readonly SheetEvent[], step: LifeStep): SheetEvent | null =>
  events.filter((event) => event.step === step).at(-1) ?? null;

export interface Signer {
  readonly accountId: string | null;
  readonly name: string;
}

const plain = (name: string): string => name.trim().replace(/\s+/g, ' ').toLowerCase();

/** One person by account; where nobody signs in, by the name that was written. */
export const isSamePerson = (p: Signer, q: Signer): boolean =>
  p.accountId !== null && q.accountId !== null ? p.accountId === q.accountId : plain(p.name) === plain(q.name);

/** From which states a step leads on. */
const from: Readonly<Record<LifeStep, readonly SheetState[]>> = {
  prepared: [],
  checked: ['prepared'],
  rejected: ['prepared', 'checked'],
  approved: ['checked'],
  withdrawn: ['issued'],
  comment: ['prepared', 'checked', 'rejected'],
  resolved: ['prepared', 'checked', 'rejected'],
};

/** Why a step cannot be taken, in words; null when it can. Who has the role for it is not asked here. */
export function whyNot(
  events: readonly SheetEvent[],
  { step, text = '', about = '' }: { readonly step: LifeStep; readonly text?: string; readonly about?: string },
  signer: Signer,
): string | null {
  const state = stateOf(events);
  if (!from[step].includes(state)) return `This sheet is ${stateTitles[state]}: it cannot be ${said[step]}.`;
  if ((step === 'rejected' || step === 'withdrawn') && text.trim() === '')
    return `Say why it is ${step === 'rejected' ? 'rejected' : 'withdrawn'}.`;
  if (step === 'comment' && text.trim() === '') return 'A comment needs words.';
  if (step === 'resolved' && !openComments(events).some(({ seq }) => String(seq) === about))
    return 'There is no such open comment.';
  const own = (of: LifeStep) => {
    const signed = signatureOf(events, of);
    return signed !== null && isSamePerson(signed, signer) ? signed : null;
  };
  if ((step === 'checked' || step === 'approved') && own('prepared'))
    return `${signer.name} has prepared this sheet: nobody ${step === 'checked' ? 'checks' : 'approves'} their own work.`;
  if (step === 'approved' && own('checked'))
    return `${signer.name} has checked this sheet: somebody else has to approve it.`;
  if (step === 'checked' || step === 'approved') {
    const open = openComments(events).length;
    if (open > 0)
      return `${open === 1 ? 'One comment is' : `${open} comments are`} still open: resolve ${open === 1 ? 'it' : 'them'} first, or reject the sheet.`;
  }
  return null;
}

const said: Readonly<Record<LifeStep, string>> = {
  prepared: 'prepared again here',
  checked: 'checked',
  rejected: 'rejected',
  approved: 'approved',
  withdrawn: 'withdrawn',
  comment: 'commented on',
  resolved: 'commented on',
};
