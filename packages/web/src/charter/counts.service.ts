import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { PipelineFigures, RuleCounts } from '@relvik/contracts';
import type { GroundCount } from '@relvik/core';
import type { Observable } from 'rxjs';

/** Counts over all records by the parts of the charter in force. */
@Injectable({ providedIn: 'root' })
export class CountsService {
  private readonly http = inject(HttpClient);

  pipelines(): Observable<PipelineFigures> {
    return this.http.get<PipelineFigures>('/api/pipelines');
  }

  rules(): Observable<RuleCounts> {
    return this.http.get<RuleCounts>('/api/rule-counts');
  }

  /** Leads by country, region and territory. */
  grounds(): Observable<GroundCount[]> {
    return this.http.get<GroundCount[]>('/api/ground-counts');
  }
}
