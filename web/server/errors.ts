/** Errors that reach the user: a status, a code for the program, a sentence for the reader. */
import type { Problem } from '@mesura/core/model/problem';

export class ServiceError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly details: { problems?: readonly Problem[]; [key: string]: unknown } = {},
  ) {
    super(message);
  }
}

export const notFound = (what: string) => new ServiceError(404, 'missing', `${what} does not exist, or was deleted.`);

const unreachable = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'PROTOCOL_CONNECTION_LOST',
  'ETIMEDOUT',
  'EPIPE',
  'ER_SERVER_SHUTDOWN',
  'ENOTFOUND',
  'PROTOCOL_SEQUENCE_TIMEOUT',
  'ER_LOCK_WAIT_TIMEOUT',
  'ER_CON_COUNT_ERROR',
  'ER_STATEMENT_TIMEOUT',
  'ER_QUERY_INTERRUPTED',
]);

const refusedData = new Set([
  'ER_TRUNCATED_WRONG_VALUE_FOR_FIELD',
  'ER_DATA_TOO_LONG',
  'ER_CONSTRAINT_FAILED',
  'ER_WARN_DATA_OUT_OF_RANGE',
]);

/** Where an error came from, without its message. */
const withoutData = (error: unknown): string =>
  ((error as Error)?.stack ?? '')
    .split('\n')
    .filter((line) => /^\s+at /.test(line))
    .slice(0, 12)
    .join('\n');

/** Any error as one to answer with. Faults of the program are logged and told without their insides. */
export function toServiceError(error: unknown): ServiceError {
  if (error instanceof ServiceError) return error;
  const { code, message } = error as { code?: string; message?: string };
  if (
    (code && unreachable.has(code)) ||
    /closed state|pool is closed|queue limit reached|no connections available/i.test(message ?? '')
  )
    return new ServiceError(
      503,
      'database.unreachable',
      'The database does not answer. Nothing is lost: changes wait here until it does.',
    );
  if (code === 'ER_RECORD_FILE_FULL' || code === 'ER_DISK_FULL')
    return new ServiceError(507, 'database.full', 'The disk of the database is full.');
  if (code && refusedData.has(code))
    return new ServiceError(
      422,
      'data.refused',
      'The database cannot store this: a text is too long or holds unusual characters.',
    );
  // Without what was sent: the message of a database error may hold project data.
  console.error(`${new Date().toISOString()} ${code ?? (error as Error)?.name ?? 'error'}`, withoutData(error));
  return new ServiceError(500, 'internal', 'Something went wrong in Mesura itself; it has been written to the log.');
}
