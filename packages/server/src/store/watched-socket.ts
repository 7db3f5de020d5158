import { connect, type Socket } from 'node:net';
import type { Access } from './open-database';

/**
 * A connection to the database that is cut when it does not answer: once something was written, something must come back within
 * the time given. A database that is frozen would otherwise hold whoever asked for ever.
 *
 * @param patience ms
 */
export function watchedSocket(access: Access, patience: number): Socket {
  const socket =
    'socketPath' in access ? connect(access.socketPath) : connect({ host: access.host, port: access.port });
  let timer: NodeJS.Timeout | null = null;
  const calm = (): void => {
    if (timer !== null) clearTimeout(timer);
    timer = null;
  };
  const write = socket.write.bind(socket) as (...sent: unknown[]) => boolean;
  socket.write = (...sent: unknown[]) => {
    timer ??= setTimeout(() => {
      const error = Object.assign(new Error('The database did not answer in time'), { code: 'ETIMEDOUT', fatal: true });
      socket.destroy(error);
    }, patience);
    return write(...sent);
  };
  socket.on('data', calm).on('close', calm);
  socket.setNoDelay(true);
  return socket;
}
