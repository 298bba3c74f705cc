export interface Database {
  readonly pid: number;
  readonly port: number;
  /** For the application: it reads and writes rows, and nothing else. */
  readonly url: string;
  /** With the right to change tables. */
  readonly ownerUrl: string;
  /** It ran before. */
  readonly tookOver?: boolean;
  isAlive(): boolean;
  stop(): Promise<void>;
}
export function startMariadb(dir: string): Promise<Database>;
