import { connect, createServer, type Server, type Socket } from 'node:net';
import type { AddressInfo } from 'node:net';

const COM_QUERY = 3;

/** The texts of whole statements in what a client sent, and the bytes of one that is not whole yet. */
function statementsIn(bytes: Buffer): { readonly statements: string[]; readonly rest: Buffer } {
  const statements: string[] = [];
  let at = 0;
  while (bytes.length - at >= 4) {
    const length = bytes.readUIntLE(at, 3);
    if (bytes.length - at < 4 + length) break;
    if (bytes[at + 4] === COM_QUERY) statements.push(bytes.toString('utf8', at + 5, at + 4 + length));
    at += 4 + length;
  }
  return { statements, rest: bytes.subarray(at) };
}

/** Stands between a server and its database, and can lose the database's reply to a COMMIT that was carried out. */
export class LosingProxy {
  /** How many replies to COMMIT are still to be lost. */
  toLose = 0;
  lost = 0;
  /** While frozen nothing passes, in either direction, and nothing is closed. */
  private frozen = false;
  private readonly open = new Set<Socket>();

  private constructor(
    private readonly server: Server,
    private readonly target: string,
  ) {}

  /** @param target the database's socket */
  static async start(target: string): Promise<LosingProxy> {
    const server = createServer();
    const proxy = new LosingProxy(server, target);
    server.on('connection', (client) => {
      proxy.join(client);
    });
    await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
    return proxy;
  }

  get port(): number {
    return (this.server.address() as AddressInfo).port;
  }

  freeze(): void {
    this.frozen = true;
    for (const socket of this.open) socket.pause();
  }

  thaw(): void {
    this.frozen = false;
    for (const socket of this.open) socket.resume();
  }

  /** Cuts every connection and takes no new ones, as a database that is away. */
  cut(): void {
    this.server.close();
    for (const socket of this.open) socket.destroy();
  }

  async stop(): Promise<void> {
    const closed = this.server.listening ? new Promise((done) => this.server.close(done)) : undefined;
    for (const socket of this.open) socket.destroy();
    await closed;
  }

  private join(client: Socket): void {
    const database = connect(this.target);
    const end = (): void => {
      client.destroy();
      database.destroy();
      this.open.delete(client);
      this.open.delete(database);
    };
    for (const socket of [client, database]) {
      this.open.add(socket);
      socket.on('error', end).on('close', end);
      if (this.frozen) socket.pause();
    }
    let rest: Buffer = Buffer.alloc(0);
    let losing = false;
    client.on('data', (bytes: Buffer) => {
      const read = statementsIn(Buffer.concat([rest, bytes]));
      rest = read.rest;
      if (read.statements.includes('COMMIT') && this.toLose > 0) {
        this.toLose -= 1;
        this.lost += 1;
        losing = true;
      }
      database.write(bytes);
    });
    database.on('data', (bytes: Buffer) => {
      if (losing) end();
      else client.write(bytes);
    });
  }
}
