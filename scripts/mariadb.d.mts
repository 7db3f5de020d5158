/** What the benchmarks use of the scripts. */
export function emptyDatabase(socket: string, name: string): void;
export function startMariadb(how: {
  readonly folder: string;
  readonly port?: number | null;
  readonly fast?: boolean;
}): Promise<{ readonly socket: string; stop(): Promise<void> }>;
