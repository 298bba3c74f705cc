/** The pool of connections, and transactions. Plain SQL with mysql2. */
import mysql, { type Pool, type PoolConnection } from 'mysql2/promise';
import { ServiceError } from './errors';

// Next loads modules more than once (routes, hot reload); the pool must be one.
const shared = globalThis as typeof globalThis & { mesuraPool?: Pool };

export function pool(): Pool {
  if (shared.mesuraPool) return shared.mesuraPool;
  const uri = process.env.MESURA_DATABASE_URL;
  if (!uri)
    throw new ServiceError(503, 'database.none', 'No database is configured: start the application with "npm start".');
  shared.mesuraPool = mysql.createPool({
    uri,
    connectionLimit: 8,
    connectTimeout: 4000,
    timezone: 'Z',
    dateStrings: false,
    supportBigNumbers: true,
    jsonStrings: true,
  });
  return shared.mesuraPool;
}

export async function closePool(): Promise<void> {
  await shared.mesuraPool?.end();
  delete shared.mesuraPool;
}

/** Runs `work` in one transaction: all of it is stored or nothing. A deadlock is tried again twice. */
export async function transaction<T>(work: (connection: PoolConnection) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    const connection = await pool().getConnection();
    try {
      await connection.beginTransaction();
      const result = await work(connection);
      await connection.commit();
      return result;
    } catch (error) {
      await connection.rollback().catch(() => connection.destroy());
      const code = (error as { code?: string }).code;
      if ((code === 'ER_LOCK_DEADLOCK' || code === 'ER_CHECKREAD') && attempt < 3) continue;
      throw error;
    } finally {
      connection.release();
    }
  }
}
