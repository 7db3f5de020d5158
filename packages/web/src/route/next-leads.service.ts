import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { NextLeads } from '@relvik/contracts';
import type { World } from '@relvik/core';
import { forkJoin, type Observable } from 'rxjs';
import { WorldService } from '../people/world.service';

/** Leads to try routes with, and the world around them as it is now. */
@Injectable({ providedIn: 'root' })
export class NextLeadsService {
  private readonly http = inject(HttpClient);
  private readonly worlds = inject(WorldService);

  /** @param written ids and e-mails; null: the last leads that were routed */
  read(written: readonly string[] | null): Observable<{ readonly world: World; readonly next: NextLeads }> {
    return forkJoin({
      world: this.worlds.read(),
      next: this.http.post<NextLeads>('/api/next-leads', { written }),
    });
  }
}
