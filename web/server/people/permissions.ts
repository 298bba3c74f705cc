/**
 * Who may ask for what: the one table of routes and roles. A route that does not stand here does not compile; a test asks each of them in every role.
 */
export const roles = ['viewer', 'engineer', 'checker', 'approver', 'administrator'] as const;
/** On a project. Whoever has any of them may look at it. */
export type Role = (typeof roles)[number];

/**
 * `anyone`: also who is not signed in. `signedIn`. `installation`: administrators of the installation, with accounts only. `somewhere`: engineers of any project.
 * A list: whoever has one of these roles on the project in the address; for what only administrators of the project may do, those of the installation count too.
 */
export type Need = 'anyone' | 'signedIn' | 'installation' | 'somewhere' | readonly Role[];

const looking = roles;
const editing: readonly Role[] = ['engineer'];
const managing: readonly Role[] = ['administrator'];
const judging: readonly Role[] = ['checker', 'approver'];
const signing: readonly Role[] = ['engineer', 'checker', 'approver'];

export const permissions = {
  'GET /api/health': 'anyone',
  'GET /api/session': 'anyone',
  'POST /api/session': 'anyone',
  'DELETE /api/session': 'anyone',
  'GET /api/invitations/:token': 'anyone',
  'POST /api/invitations/:token': 'anyone',

  'GET /api/account': 'signedIn',
  'POST /api/account/password': 'signedIn',
  'POST /api/account/codes': 'signedIn',
  'DELETE /api/account/sessions/:session': 'signedIn',
  'GET /api/account/tokens': 'signedIn',
  'POST /api/account/tokens': 'signedIn',
  'DELETE /api/account/tokens/:token': 'signedIn',
  'GET /api/accounts': 'installation',
  'POST /api/accounts': 'installation',
  'PATCH /api/accounts/:account': 'installation',
  'GET /api/audit': 'installation',

  'GET /api/projects': 'signedIn',
  'POST /api/projects': 'signedIn',
  'POST /api/projects/import': 'signedIn',
  'GET /api/types': 'signedIn',
  'POST /api/types': 'somewhere',
  'DELETE /api/types/:type': 'somewhere',
  'GET /api/rulebooks': 'signedIn',
  'POST /api/rulebooks': 'somewhere',
  'DELETE /api/rulebooks/:rulebook': 'somewhere',

  'GET /api/projects/:id': looking,
  'PATCH /api/projects/:id': managing,
  'DELETE /api/projects/:id': managing,
  'POST /api/projects/:id/restore': managing,
  'GET /api/projects/:id/members': looking,
  'POST /api/projects/:id/members': managing,
  'GET /api/projects/:id/audit': managing,
  'GET /api/projects/:id/file': looking,
  'GET /api/projects/:id/archive': managing,
  'POST /api/projects/:id/duplicate': looking,
  'GET /api/projects/:id/live': looking,
  'POST /api/projects/:id/presence': looking,
  'GET /api/projects/:id/changes': looking,
  'POST /api/projects/:id/changes': editing,
  'GET /api/projects/:id/changes/:revision': looking,
  'GET /api/projects/:id/history': looking,
  'GET /api/projects/:id/compare': looking,
  'GET /api/projects/:id/state': looking,
  'POST /api/projects/:id/versions': editing,
  'POST /api/projects/:id/reports': looking,

  'GET /api/projects/:id/sheets': looking,
  /** What one may do to a sheet depends on the step: `sheets/life` asks for the role of each. */
  'POST /api/projects/:id/sheets': signing,
  'GET /api/projects/:id/sheets/:sheet': looking,
  'GET /api/projects/:id/sheets/:sheet/pdf': looking,
  'GET /api/projects/:id/sheets/:sheet/xlsx': looking,
  'POST /api/projects/:id/sheets/folder': looking,
  'GET /api/projects/:id/readings': looking,
  'POST /api/projects/:id/sheets/:sheet/readings': editing,
  /** Sets a relay, or reads it. */
  'POST /api/projects/:id/sheets/:sheet/relay': editing,
  /** Accepts deviations: not whoever sets relays. */
  'POST /api/projects/:id/readings/:reading': judging,

  'GET /api/v1/openapi.json': 'anyone',
  'GET /api/v1/elements.schema.json': 'anyone',
  'GET /api/v1/projects': 'signedIn',
  'POST /api/v1/projects': 'signedIn',
  'GET /api/v1/projects/:id': looking,
  'GET /api/v1/projects/:id/elements': looking,
  'GET /api/v1/projects/:id/changes': looking,
  'POST /api/v1/projects/:id/changes': editing,
  'POST /api/v1/projects/:id/imports': editing,
  'GET /api/v1/projects/:id/export': looking,
  'GET /api/v1/projects/:id/sheets': looking,
  'GET /api/v1/projects/:id/sheets/:sheet': looking,
  'POST /api/v1/projects/:id/studies/:study': looking,
  'GET /api/v1/jobs': 'signedIn',
  'GET /api/v1/jobs/:job': 'signedIn',
  'DELETE /api/v1/jobs/:job': 'signedIn',
  'GET /api/v1/jobs/:job/result': 'signedIn',
  'GET /api/v1/formulas': 'signedIn',
  'POST /api/v1/formulas/:formula': 'signedIn',
} as const satisfies Readonly<Record<string, Need>>;

export type RouteName = keyof typeof permissions;
/** Routes for programs. */
export type ProgramRoute = Extract<RouteName, `${string} /api/v1/${string}`>;
export const isForPrograms = (name: RouteName): name is ProgramRoute => name.includes(' /api/v1/');

/** What a token may be used for: to look, to compute, to change projects. */
export const scopes = ['read', 'study', 'change'] as const;
export type Scope = (typeof scopes)[number];

/** What a token needs for each of these, beside the role of its owner. */
export const scopeOf: Readonly<Record<ProgramRoute, Scope>> = {
  'GET /api/v1/openapi.json': 'read',
  'GET /api/v1/elements.schema.json': 'read',
  'GET /api/v1/projects': 'read',
  'POST /api/v1/projects': 'change',
  'GET /api/v1/projects/:id': 'read',
  'GET /api/v1/projects/:id/elements': 'read',
  'GET /api/v1/projects/:id/changes': 'read',
  'POST /api/v1/projects/:id/changes': 'change',
  'POST /api/v1/projects/:id/imports': 'change',
  'GET /api/v1/projects/:id/export': 'read',
  'GET /api/v1/projects/:id/sheets': 'read',
  'GET /api/v1/projects/:id/sheets/:sheet': 'read',
  'POST /api/v1/projects/:id/studies/:study': 'study',
  'GET /api/v1/jobs': 'study',
  'GET /api/v1/jobs/:job': 'study',
  'DELETE /api/v1/jobs/:job': 'study',
  'GET /api/v1/jobs/:job/result': 'study',
  'GET /api/v1/formulas': 'read',
  'POST /api/v1/formulas/:formula': 'study',
};

/** What is asked of a person before anything is done. */
export interface Standing {
  readonly signedIn: boolean;
  /** On the desk of its owner: one local person, who may take any role. */
  readonly ownDesk: boolean;
  /** Administrator of the installation. */
  readonly administrator: boolean;
  /** On the project in the address. */
  readonly roles: ReadonlySet<Role>;
  /** Engineer of some project. */
  readonly engineerSomewhere: boolean;
}

/** `signIn`: nobody is signed in; `hidden`: not even that it exists is told; `forbidden`: seen, but not to be done. */
export type Admission = 'admitted' | 'signIn' | 'hidden' | 'forbidden';

export function admission(need: Need, who: Standing): Admission {
  if (need === 'anyone') return 'admitted';
  // Accounts made on the desk of its owner would outlive it: nobody made them who signed in.
  if (who.ownDesk) return need === 'installation' ? 'forbidden' : 'admitted';
  if (!who.signedIn) return 'signIn';
  if (need === 'signedIn') return 'admitted';
  if (need === 'installation') return who.administrator ? 'admitted' : 'forbidden';
  if (need === 'somewhere') return who.engineerSomewhere ? 'admitted' : 'forbidden';
  if (need.some((role) => who.roles.has(role))) return 'admitted';
  if (need === managing && who.administrator) return 'admitted';
  return who.roles.size > 0 ? 'forbidden' : 'hidden';
}
