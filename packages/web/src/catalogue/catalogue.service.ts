import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  ChangeField,
  ChangeKind,
  Correct,
  Corrected,
  FieldRow,
  KindRow,
  NewField,
  NewKind,
  NewOwnRegion,
  NewRate,
  NoCompanyRow,
  OptionListRow,
  RateGiven,
  RateList,
  SaidRow,
  SpellingRow,
  SpellingsFile,
  SpellingsRead,
  Take,
  TakeBack,
  Taken,
  TakenBack,
  TakePreview,
  UnjudgedRow,
} from '@relvik/contracts';
import type { OwnRegion } from '@relvik/core';
import { type Observable, tap } from 'rxjs';
import { WordingService } from '../wording/wording.service';

/** Fields, kinds of activities, and the values that can't be judged. What is added is known everywhere at once. */
@Injectable({ providedIn: 'root' })
export class CatalogueService {
  private readonly http = inject(HttpClient);
  private readonly words = inject(WordingService);

  fields(): Observable<FieldRow[]> {
    return this.http.get<FieldRow[]>('/api/fields');
  }

  addField(field: NewField): Observable<FieldRow[]> {
    return this.known(this.http.post<FieldRow[]>('/api/fields', field));
  }

  changeField(key: string, change: ChangeField): Observable<FieldRow[]> {
    return this.known(this.http.patch<FieldRow[]>(`/api/fields/${key}`, change));
  }

  lists(): Observable<readonly OptionListRow[]> {
    return this.http.get<OptionListRow[]>('/api/option-lists');
  }

  keepList(
    key: string,
    list: { readonly name: string; readonly options: readonly string[] },
  ): Observable<readonly OptionListRow[]> {
    return this.known(this.http.put<OptionListRow[]>(`/api/option-lists/${key}`, list));
  }

  noCompanies(): Observable<readonly NoCompanyRow[]> {
    return this.http.get<NoCompanyRow[]>('/api/no-companies');
  }

  /** From now on a word, or a domain, names no company. */
  namesNone(row: NoCompanyRow): Observable<readonly NoCompanyRow[]> {
    return this.http.post<NoCompanyRow[]>('/api/no-companies', row);
  }

  /** From now on it may name one again. */
  namesCompany(row: NoCompanyRow): Observable<readonly NoCompanyRow[]> {
    return this.http.delete<NoCompanyRow[]>('/api/no-companies', { body: row });
  }

  kinds(): Observable<KindRow[]> {
    return this.http.get<KindRow[]>('/api/activity-kinds');
  }

  addKind(kind: NewKind): Observable<KindRow[]> {
    return this.known(this.http.post<KindRow[]>('/api/activity-kinds', kind));
  }

  changeKind(key: string, change: ChangeKind): Observable<KindRow[]> {
    return this.known(this.http.patch<KindRow[]>(`/api/activity-kinds/${key}`, change));
  }

  unjudged(): Observable<UnjudgedRow[]> {
    return this.http.get<UnjudgedRow[]>('/api/unjudged');
  }

  correct(correct: Correct): Observable<Corrected> {
    return this.http.post<Corrected>('/api/unjudged', correct);
  }

  said(): Observable<SaidRow[]> {
    return this.http.get<SaidRow[]>('/api/said');
  }

  spellings(): Observable<SpellingRow[]> {
    return this.http.get<SpellingRow[]>('/api/spellings');
  }

  /** The number of values that a spelling would correct. */
  previewTake(take: Take): Observable<TakePreview> {
    return this.http.post<TakePreview>('/api/spellings/preview', take);
  }

  takeFor(take: Take): Observable<Taken> {
    return this.known(this.http.post<Taken>('/api/spellings', take));
  }

  takeBack(spelling: TakeBack): Observable<TakenBack> {
    return this.known(this.http.post<TakenBack>('/api/spellings/take-back', spelling));
  }

  /** Spellings from a file: with `apply` they come into force. */
  spellingsFile(file: SpellingsFile): Observable<SpellingsRead> {
    return this.known(this.http.post<SpellingsRead>('/api/spellings/file', file));
  }

  addRegion(region: NewOwnRegion): Observable<OwnRegion[]> {
    return this.known(this.http.post<OwnRegion[]>('/api/own-regions', region));
  }

  renameRegion(code: string, name: string): Observable<OwnRegion[]> {
    return this.known(this.http.patch<OwnRegion[]>(`/api/own-regions/${code}`, { name }));
  }

  removeRegion(code: string): Observable<OwnRegion[]> {
    return this.known(this.http.delete<OwnRegion[]>(`/api/own-regions/${code}`));
  }

  regions(): Observable<OwnRegion[]> {
    return this.http.get<OwnRegion[]>('/api/own-regions');
  }

  rates(): Observable<RateList> {
    return this.http.get<RateList>('/api/rates');
  }

  giveRate(rate: NewRate): Observable<RateGiven> {
    return this.http.post<RateGiven>('/api/rates', rate);
  }

  correctRate({ currency, from, rate }: NewRate): Observable<RateGiven> {
    return this.http.put<RateGiven>(`/api/rates/${currency}/${from}`, { rate });
  }

  private known<T>(answer: Observable<T>): Observable<T> {
    return answer.pipe(
      tap(() => {
        this.words.load();
      }),
    );
  }
}
