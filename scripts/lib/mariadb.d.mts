export interface Database {
  readonly pid: number;
  readonly port: number;
  readonly url: string;
  isAlive(): boolean;
  stop(): Promise<void>;
}
export function startMariadb(dir: string): Promise<Database>;
