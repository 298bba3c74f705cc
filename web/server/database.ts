/** The pool of connections, and transactions. Plain SQL with mysql2; nothing waits for a database that does not answer. */
import mysql, { type Pool, type PoolConnection } from 'mysql2/promise';
import { ServiceError } from './errors';

// Next loads modules more than once (routes, hot reload); the pool must be one.
const shared = globalThis as typeof globalThis & { mesuraPool?: Pool; mesuraTimedPool?: Pick<Pool, 'query'> };

/** A connection is had, and a statement answered, within this time, or the request ends with 503. */
const patience = { connectionMs: 1500, statementMs: 3000 };

function realPool(): Pool {
  if (shared.mesuraPool) return shared.mesuraPool;
  const uri = process.env.MESURA_DATABASE_URL;
  if (!uri)
    throw new ServiceError(503, 'database.none', 'No database is configured: start the application with "npm start".');
  shared.mesuraPool = mysql.createPool({
    uri,
    connectionLimit: 8,
    queueLimit: 200,
    connectTimeout: patience.connectionMs,
    timezone: 'Z',
    dateStrings: false,
    supportBigNumbers: true,
    jsonStrings: true,
  });
  return shared.mesuraPool;
}

/** For single statements. */
export function pool(): Pick<Pool, 'query'> {
  return (shared.mesuraTimedPool ??= {
    query: ((sql: string, values?: unknown[]) =>
      withConnection((connection) => connection.query(sql, values))) as Pool['query'],
  });
}

export async function closePool(): Promise<void> {
  await shared.mesuraPool?.end();
  delete shared.mesuraPool;
  delete shared.mesuraTimedPool;
}

const tooLate = () => Object.assign(new Error('no connection in time'), { code: 'ETIMEDOUT' });

/** A connection, or ETIMEDOUT; one that comes too late goes back. */
async function connectionInTime(): Promise<PoolConnection> {
  let late = false;
  const coming = realPool().getConnection();
  coming.then(
    (connection) => late && connection.release(),
    () => undefined,
  );
  let timer: NodeJS.Timeout | undefined;
  const limit = new Promise<never>((_, reject) => {
    timer = setTimeout(() => {
      late = true;
      reject(tooLate());
    }, patience.connectionMs);
  });
  return Promise.race([coming, limit]).finally(() => clearTimeout(timer));
}

/** The connection with a limit of time on every statement; past it the connection is closed, since its answer may come any time. */
function timed(connection: PoolConnection): PoolConnection {
  const query = (sql: string, values?: unknown[]) => connection.query({ sql, timeout: patience.statementMs }, values);
  return new Proxy(connection, {
    get: (target, key) => {
      if (key === 'query') return query;
      const value: unknown = Reflect.get(target, key, target);
      return typeof value === 'function' ? value.bind(target) : value;
    },
  });
}

async function withConnection<T>(work: (connection: PoolConnection) => Promise<T>): Promise<T> {
  const connection = await connectionInTime();
  try {
    return await work(timed(connection));
  } catch (error) {
    if ((error as { fatal?: boolean }).fatal) connection.destroy();
    throw error;
  } finally {
    connection.release();
  }
}

/** Runs `work` in one transaction: all of it is stored or nothing. A deadlock is tried again twice. */
export async function transaction<T>(work: (connection: PoolConnection) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await withConnection(async (connection) => {
        await connection.query('START TRANSACTION');
        try {
          const result = await work(connection);
          await connection.query('COMMIT');
          return result;
        } catch (error) {
          await connection.query('ROLLBACK').catch(() => connection.destroy());
          throw error;
        }
      });
    } catch (error) {
      const { code } = error as { code?: string };
      if ((code === 'ER_LOCK_DEADLOCK' || code === 'ER_CHECKREAD') && attempt < 3) continue;
      throw error;
    }
  }
}
