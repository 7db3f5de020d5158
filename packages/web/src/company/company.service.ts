import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { CompanyDetail, CompanyPage, CompanyQuery } from '@relvik/contracts';
import type { Observable } from 'rxjs';

/** Companies: pages of them, and one. */
@Injectable({ providedIn: 'root' })
export class CompanyService {
  private readonly http = inject(HttpClient);

  page({ find, set, after }: CompanyQuery): Observable<CompanyPage> {
    const params = { ...(find ? { find } : {}), ...(set ? { set } : {}), ...(after ? { after } : {}) };
    return this.http.get<CompanyPage>('/api/companies', { params });
  }

  one(id: number): Observable<CompanyDetail> {
    return this.http.get<CompanyDetail>(`/api/companies/${id}`);
  }
}
