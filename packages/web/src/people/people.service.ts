import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  ChangePresence,
  ChangeQueue,
  ChangeRep,
  ChangeSkills,
  ChangeTeam,
  Fairness,
  FairnessQuery,
  TeamWeek,
  WeekQuery,
  HolidayPlace,
  LeadDetail,
  MakePerson,
  Retired,
  RetirePerson,
  People,
} from '@relvik/contracts';
import type { Observable } from 'rxjs';

@Injectable({ providedIn: 'root' })
export class PeopleService {
  private readonly http = inject(HttpClient);

  people(): Observable<People> {
    return this.http.get<People>('/api/people');
  }

  change(key: string, change: ChangeRep): Observable<People> {
    return this.http.patch<People>(`/api/people/${encodeURIComponent(key)}`, change);
  }

  make(person: MakePerson): Observable<People> {
    return this.http.post<People>('/api/people', person);
  }

  retire(key: string, retire: RetirePerson): Observable<Retired> {
    return this.http.post<Retired>(`/api/people/${encodeURIComponent(key)}/retire`, retire);
  }

  makeTeam(name: string): Observable<People> {
    return this.http.post<People>('/api/teams', { name });
  }

  removeTeam(key: string): Observable<People> {
    return this.http.delete<People>(`/api/teams/${encodeURIComponent(key)}`);
  }

  changePresence(change: ChangePresence): Observable<People> {
    return this.http.patch<People>('/api/presence', change);
  }

  changeTeam(key: string, change: ChangeTeam): Observable<People> {
    return this.http.patch<People>(`/api/teams/${encodeURIComponent(key)}`, change);
  }

  changeSkills(key: string, change: ChangeSkills): Observable<People> {
    return this.http.put<People>(`/api/skills/${encodeURIComponent(key)}`, change);
  }

  removeSkills(key: string): Observable<People> {
    return this.http.delete<People>(`/api/skills/${encodeURIComponent(key)}`);
  }

  /** Makes a queue, or changes it. */
  changeQueue(key: string, change: ChangeQueue): Observable<People> {
    return this.http.put<People>(`/api/queues/${encodeURIComponent(key)}`, change);
  }

  removeQueue(key: string): Observable<People> {
    return this.http.delete<People>(`/api/queues/${encodeURIComponent(key)}`);
  }

  /** Expected and actual leads by route and person. */
  fairness(query: FairnessQuery): Observable<Fairness> {
    return this.http.get<Fairness>('/api/fairness', { params: { since: query.since } });
  }

  /** The working time of a team’s members over some days. */
  week(query: WeekQuery): Observable<TeamWeek> {
    return this.http.get<TeamWeek>('/api/week', { params: { ...query } });
  }

  /** Picks the next lead of a queue up. */
  pickNext(queue: string): Observable<LeadDetail> {
    return this.http.post<LeadDetail>(`/api/queues/${encodeURIComponent(queue)}/next`, {});
  }

  /** @param country null: all countries; else the parts of one */
  holidayPlaces(country: string | null): Observable<readonly HolidayPlace[]> {
    return this.http.get<readonly HolidayPlace[]>('/api/holiday-places', {
      params: country === null ? {} : { country },
    });
  }
}
