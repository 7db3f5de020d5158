import type { Role } from '@relvik/contracts';
import type { SendingKey } from '../session/intake-keys';
import type { User } from '../session/session-store';

/** Who may use an endpoint: these roles, whoever has an intake key, or anyone without sign-in. */
export type Who = readonly Role[] | 'key' | 'anyone';

/** The type of the caller, by who may call. */
type Caller<W extends Who> = W extends 'key' ? SendingKey : W extends 'anyone' ? null : User;

/** A Yup schema, as far as types are concerned: what it gives back. */
interface Reads<T> {
  readonly __outputType: T;
}

/** Text in place of JSON, and its most bytes. */
export interface TextBody extends Reads<string> {
  readonly kind: 'text';
  readonly type: string;
  readonly most: string;
}

/** What an endpoint answers with; the type of what its call returns. */
export type AnswerShape<A> =
  | { readonly kind: 'json'; readonly status: number; readonly is?: A }
  | { readonly kind: 'nothing'; readonly status: number; readonly is?: A }
  /** Bytes, sent as they come. */
  | { readonly kind: 'bytes'; readonly status: number; readonly type: string; readonly is?: A };

export const json = <A>(status = 200): AnswerShape<A> => ({ kind: 'json', status });
export const nothing = (status = 204): AnswerShape<void> => ({ kind: 'nothing', status });
export const bytes = (type: string): AnswerShape<AsyncIterable<Uint8Array>> => ({ kind: 'bytes', status: 200, type });
export const textBody = (type: string, most: string): TextBody =>
  ({ kind: 'text', type, most }) as Omit<TextBody, '__outputType'> as TextBody;

export interface Cookies {
  read(name: string): string | undefined;
  /** @param readable whether scripts may read it */
  set(name: string, value: string, readable: boolean): void;
  clear(name: string): void;
}

/** One request, read and checked. */
export interface Call<W extends Who, P, Q, B> {
  readonly caller: Caller<W>;
  readonly params: P;
  readonly query: Q;
  readonly body: B;
  readonly header: (name: string) => string | undefined;
  readonly cookies: Cookies;
  /** Whether it came from this machine itself, by a name of loopback, and through no proxy. */
  readonly isLocal: () => boolean;
  /** From which address it came, as far as trusted proxies say. */
  readonly address: string;
  readonly now: Date;
}

/** An endpoint as data: who may call it, what it reads, what it answers, and what it does. */
interface EndpointData<W extends Who, P, Q, B, A> {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  readonly path: string;
  readonly who: W;
  /** Path parameters; a path that does not match the schema is 404. */
  readonly params?: Reads<P>;
  readonly query?: Reads<Q>;
  readonly body?: Reads<B>;
  /** The most bytes of a JSON body; a megabyte where it isn't said. */
  readonly most?: string;
  /** Requests from one address are counted. */
  readonly limit?: 'sign-in' | 'form';
  /** How long the answer may take, ms; 20 s where it isn't said. */
  readonly patience?: number;
  readonly answer: AnswerShape<A>;
  call(call: Call<W, P, Q, B>): Promise<A> | A;
}

/** An endpoint whose types were checked where it was written. */
export type Endpoint = EndpointData<Who, unknown, unknown, unknown, unknown>;

/** Checks an endpoint's types: what its schemas read is what its call gets, and what its call returns is its answer. */
export function endpoint<W extends Who, P = unknown, Q = unknown, B = unknown, A = void>(
  data: EndpointData<W, P, Q, B, A>,
): Endpoint {
  return data;
}

export const EVERYONE: readonly Role[] = ['admin', 'manager', 'rep'];
export const ADMIN: readonly Role[] = ['admin'];
