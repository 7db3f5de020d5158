import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';

const COST = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };
const LENGTH = 32;

function derive(password: string, salt: Buffer): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    scrypt(password.normalize('NFKC'), salt, LENGTH, COST, (error, key) => {
      if (error) reject(error);
      else resolve(key);
    });
  });
}

/** A password as it is stored: scrypt with a salt of its own. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  return `scrypt:${salt.toString('base64url')}:${(await derive(password, salt)).toString('base64url')}`;
}

/** Whether a password is the stored one. Takes as long for a stored text that is none. */
export async function isPassword(password: string, stored: string): Promise<boolean> {
  const [method, salt = '', hash = ''] = stored.split(':');
  const derived = await derive(password, Buffer.from(salt, 'base64url'));
  const expected = Buffer.from(hash, 'base64url');
  return method === 'scrypt' && expected.length === LENGTH && timingSafeEqual(derived, expected);
}
