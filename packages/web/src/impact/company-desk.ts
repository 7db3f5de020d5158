import { Injectable } from '@angular/core';
import { ServerDesk } from './server-desk';

/** The desk over companies: it stands on the server, which puts them together from leads. */
@Injectable({ providedIn: 'root' })
export class CompanyDesk extends ServerDesk {
  protected override readonly base = '/api/companies';
}
