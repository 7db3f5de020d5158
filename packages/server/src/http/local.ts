import type { Request } from 'express';
import { BlockList, isIP } from 'node:net';

const LOOPBACK = new BlockList();
LOOPBACK.addSubnet('127.0.0.0', 8, 'ipv4');
LOOPBACK.addAddress('::1', 'ipv6');

/** Headers that proxies add. */
const OF_PROXIES = ['forwarded', 'x-forwarded-for', 'x-forwarded-host', 'x-forwarded-proto', 'x-real-ip', 'via'];

function isLoopback(address: string | undefined): boolean {
  if (address === undefined) return false;
  // An IPv4 address on a socket for both is written ::ffff:127.0.0.1.
  const plain = address.replace(/^::ffff:/, '');
  const version = isIP(plain);
  return version !== 0 && LOOPBACK.check(plain, version === 6 ? 'ipv6' : 'ipv4');
}

/** Whether a request came from this machine itself, to an address and by a name of loopback, and through no proxy. */
export function isLocal(request: Request): boolean {
  const { remoteAddress, localAddress } = request.socket;
  const name = (request.get('host') ?? '').replace(/:\d+$/, '');
  return (
    isLoopback(remoteAddress) &&
    isLoopback(localAddress) &&
    (name === 'localhost' || isLoopback(name.replace(/^\[(.*)\]$/, '$1'))) &&
    OF_PROXIES.every((header) => request.get(header) === undefined)
  );
}
