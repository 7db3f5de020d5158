import { type DataSource, In } from 'typeorm';
import { Refused } from '../problem/refused';
import { IntakeKeyEntity } from '../store/entity/intake.entity';
import { SharedRead } from '../store/shared-read';
import { sha256 } from './session-store';

/** A key's last use is written at most so often, ms. */
const USE_NOTED = 60_000;

/** Finds whose a key is. */
export interface KeyCheck {
  /** @throws Refused `key-not-accepted` for one that is missing, wrong or revoked */
  find(secret: string | undefined, now: Date): Promise<IntakeKeyEntity>;
}

/** Keys as they are stored: many requests at once share one look. */
export class IntakeKeys implements KeyCheck {
  private readonly shared: SharedRead<string, IntakeKeyEntity | null>;

  constructor(private readonly source: DataSource) {
    this.shared = new SharedRead(async (hashes) => {
      const keys = await source.manager.findBy(IntakeKeyEntity, { hash: In([...new Set(hashes)]), revoked: false });
      const byHash = new Map(keys.map((key) => [key.hash, key]));
      return hashes.map((hash) => byHash.get(hash) ?? null);
    });
  }

  async find(secret: string | undefined, now: Date): Promise<IntakeKeyEntity> {
    const key = secret === undefined ? null : await this.shared.get(sha256(secret));
    if (key === null) throw Refused.as('key-not-accepted');
    if (key.lastUsedAt === null || now.getTime() - key.lastUsedAt.getTime() > USE_NOTED) {
      key.lastUsedAt = now;
      await this.source.manager.update(IntakeKeyEntity, key.id, { lastUsedAt: now });
    }
    return key;
  }
}
