import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { Agent, request } from 'node:http';
import { join } from 'node:path';

/** A server of the product as a process of its own, that can be killed and started again on the same port. */
export class TrustServer {
  private child: ChildProcess | null = null;

  constructor(
    private readonly accessFile: string,
    readonly port: number,
  ) {}

  async start(): Promise<void> {
    const child = spawn(process.execPath, [join(__dirname, '../packages/server/dist/main.js')], {
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      env: {
        ...process.env,
        RELVIK_ACCESS: this.accessFile,
        RELVIK_PORT: String(this.port),
        RELVIK_DEMO: 'no',
        RELVIK_LIMITS: 'none',
        RELVIK_LOG: 'silent',
      },
    });
    this.child = child;
    await Promise.race([once(child, 'message'), once(child, 'exit').then(() => Promise.reject(new Error('it ended')))]);
  }

  async end(signal: 'SIGKILL' | 'SIGTERM'): Promise<void> {
    const child = this.child;
    this.child = null;
    if (child === null) return;
    const gone = once(child, 'exit');
    child.kill(signal);
    await gone;
  }
}

export interface Reply {
  /** 0: the connection was refused or ended without an answer. */
  readonly status: number;
  readonly body: { readonly id?: number; readonly joined?: boolean };
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
}

const agent = new Agent({ keepAlive: true });

export function call(
  port: number,
  method: string,
  path: string,
  body: string | object,
  headers: Record<string, string> = {},
): Promise<Reply> {
  const text = typeof body === 'string' ? body : JSON.stringify(body);
  return new Promise((resolve) => {
    const sent = request(
      {
        agent,
        host: '127.0.0.1',
        port,
        method,
        path,
        headers: {
          'Content-Type': typeof body === 'string' ? 'text/csv' : 'application/json',
          'Content-Length': Buffer.byteLength(text),
          ...headers,
        },
      },
      (answer) => {
        const parts: Buffer[] = [];
        answer.on('data', (part: Buffer) => parts.push(part));
        answer.on('error', () => {
          resolve({ status: 0, body: {}, headers: {} });
        });
        answer.on('end', () => {
          let read: Reply['body'] = {};
          try {
            read = JSON.parse(Buffer.concat(parts).toString()) as Reply['body'];
          } catch {
            // No body.
          }
          resolve({ status: answer.statusCode ?? 0, body: read, headers: answer.headers });
        });
      },
    );
    sent.on('error', () => {
      resolve({ status: 0, body: {}, headers: {} });
    });
    sent.end(text);
  });
}

/** The headers of someone who is signed in. */
export async function signedIn(port: number, email: string): Promise<Record<string, string>> {
  const { headers } = await call(port, 'POST', '/api/session', { email, password: 'brackish harbour 7' });
  const cookies = (headers['set-cookie'] as string[]).map((one) => one.split(';')[0] ?? '');
  const csrf = /XSRF-TOKEN=(.+)/.exec(cookies.join('\n'))?.[1] ?? '';
  return { Cookie: cookies.join('; '), 'X-XSRF-TOKEN': csrf };
}

export const pause = (ms: number): Promise<void> => new Promise((resume) => setTimeout(resume, ms));
