import { inject, Injectable } from '@angular/core';
import type { UnroutedKind } from '@relvik/core';
import { ServerDesk } from './server-desk';

/** The desk over contacts; it stands on the server. */
@Injectable({ providedIn: 'root' })
class ContactDesk extends ServerDesk {
  protected override readonly base = '/api/contacts';
}

/** The desk over companies. */
@Injectable({ providedIn: 'root' })
class CompanyDesk extends ServerDesk {
  protected override readonly base = '/api/companies';
}

/** The desk over deals. */
@Injectable({ providedIn: 'root' })
class DealDesk extends ServerDesk {
  protected override readonly base = '/api/deals';
}

/** The desks over the kinds of records that are no leads: they stand on the server. */
@Injectable({ providedIn: 'root' })
export class RecordDesks {
  private readonly desks: Readonly<Record<UnroutedKind, ServerDesk>> = {
    contact: inject(ContactDesk),
    company: inject(CompanyDesk),
    deal: inject(DealDesk),
  };

  of(kind: UnroutedKind): ServerDesk {
    return this.desks[kind];
  }
}
