import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { IntakeKeyEntity } from '../store/entity/intake.entity';
import { SharedRead } from '../store/shared-read';
import { sha256 } from './session-store';

/** A key's last use is written at most so often, ms. */
const USE_NOTED = 60_000;

/** A key that may be used. */
export interface SendingKey extends Pick<
  IntakeKeyEntity,
  'id' | 'name' | 'fields' | 'trusted' | 'pipeline' | 'handling'
> {
  lastUsedAt: Date | null;
}

interface KeyRow extends Omit<SendingKey, 'fields' | 'trusted'> {
  readonly trusted: 0 | 1;
  readonly hash: string;
  readonly fields: string;
}

/** Finds whose a key is. */
export interface KeyCheck {
  /** @throws Refused `key-not-accepted` for one that is missing, wrong or revoked */
  find(secret: string | undefined, now: Date): Promise<SendingKey>;
}

/** Keys as they are stored: many requests at once share one look. */
export class IntakeKeys implements KeyCheck {
  private readonly shared: SharedRead<string, SendingKey | null>;

  constructor(private readonly source: DataSource) {
    this.shared = new SharedRead(async (hashes) => {
      const keys = await source.query<KeyRow[]>(
        'SELECT id, name, hash, fields, trusted, pipeline, handling, last_used_at AS lastUsedAt FROM intake_key WHERE hash IN (?) AND NOT revoked',
        [[...new Set(hashes)]],
      );
      const byHash = new Map(
        keys.map(({ hash, fields, ...key }) => [
          hash,
          { ...key, trusted: key.trusted === 1, fields: JSON.parse(fields) as string[] },
        ]),
      );
      return hashes.map((hash) => byHash.get(hash) ?? null);
    });
  }

  async find(secret: string | undefined, now: Date): Promise<SendingKey> {
    const key = secret === undefined ? null : await this.shared.get(sha256(secret));
    if (key === null) throw Refused.as('key-not-accepted');
    if (key.lastUsedAt === null || now.getTime() - key.lastUsedAt.getTime() > USE_NOTED) {
      key.lastUsedAt = now;
      await this.source.manager.update(IntakeKeyEntity, key.id, { lastUsedAt: now });
    }
    return key;
  }
}
