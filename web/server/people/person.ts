/** Who asks: found from the cookie of a request, with the roles on the project in the address. */
import { storableText } from '@mesura/core/model/text';
import { ServiceError } from '../errors';
import type { Doer } from './audit';
import { addressHeader, secureHeader } from './heads';
import { modeOf } from './mode';
import { bearerIn, ownerOf } from '../programs/tokens';
import { roles, type Admission, type Role, type Scope, type Standing } from './permissions';
import { sessionOf, tokenIn, type SignedIn } from './sessions';

export interface Person extends Standing, Doer {
  /** Of the session; empty without one. */
  readonly sessionId: string;
  /** What the token allows by which a program works; null for people themselves. */
  readonly scopes: ReadonlySet<Scope> | null;
}

/** Not signed in, and nowhere at home. */
export const nobody: Person = {
  signedIn: false,
  ownDesk: false,
  administrator: false,
  roles: new Set(),
  engineerSomewhere: false,
  sessionId: '',
  accountId: null,
  name: '',
  address: '',
  scopes: null,
};

type Heads = Pick<Headers, 'get'>;

export const isSecure = (heads: Heads): boolean => heads.get(secureHeader) === '1';
/** Whether the way here is one that passwords may take: TLS, or this machine itself. */
export const mayCarryPasswords = (heads: Heads): boolean =>
  isSecure(heads) || /^(127\.\d+\.\d+\.\d+|localhost|\[::1\])(:\d+)?$/.test(heads.get('host') ?? '');
export const addressOf = (heads: Heads): string => heads.get(addressHeader) ?? '';

/** `byToken`: a token in the request counts, and then nothing else. */
export async function personOf(heads: Heads, projectId: string | null, byToken = false): Promise<Person> {
  const address = addressOf(heads);
  if (modeOf() === 'ownDesk')
    return {
      ...nobody,
      ownDesk: true,
      administrator: true,
      roles: new Set<Role>(roles),
      engineerSomewhere: true,
      name: 'engineer',
      address,
    };
  const token = byToken ? bearerIn(heads.get('authorization')) : null;
  if (token !== null) {
    const owner = await ownerOf(token, projectId);
    return owner ? signedInAs(owner, address) : { ...nobody, address };
  }
  const session = await sessionOf(tokenIn(heads.get('cookie'), isSecure(heads)), projectId);
  return session ? signedInAs(session, address) : { ...nobody, address };
}

const signedInAs = ({ fullName, ...rest }: SignedIn, address: string): Person => ({
  ...nobody,
  ...rest,
  signedIn: true,
  name: fullName,
  address,
});

/** The name that stands beside what somebody does: of the account, or what was typed on one's own desk. */
export const nameFor = ({ signedIn, name }: Pick<Person, 'signedIn' | 'name'>, typed?: string): string =>
  signedIn
    ? name
    : storableText(typed ?? '')
        .trim()
        .slice(0, 80) || 'engineer';

/** What was sent, under the name of who is signed in, whatever stood there. */
export const authored = (body: unknown, { signedIn, name }: Pick<Person, 'signedIn' | 'name'>): unknown =>
  signedIn && typeof body === 'object' && body !== null ? { ...body, author: name } : body;

/** The same person, under the name that was typed where nobody signs in. */
export const under = (person: Person, typed?: string): Person => ({ ...person, name: nameFor(person, typed) });

export function refusalFor(admitted: Exclude<Admission, 'admitted'>): ServiceError {
  switch (admitted) {
    case 'signIn':
      return new ServiceError(401, 'signIn', 'Nobody is signed in. Sign in first, if need be in another tab.');
    case 'hidden':
      return new ServiceError(404, 'missing', 'This project does not exist, or you do not belong to it.');
    case 'forbidden':
      return new ServiceError(403, 'role', 'Your role does not allow this.');
  }
}
