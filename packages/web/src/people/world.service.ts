import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import { readWorld, type World } from '@relvik/core';
import { mergeMap, type Observable, of, EMPTY } from 'rxjs';

/** Fields, people, rates, loads and turns as they stand now: all by which a record is decided besides the charter. */
@Injectable({ providedIn: 'root' })
export class WorldService {
  private readonly http = inject(HttpClient);

  read(): Observable<World> {
    return this.http.get<unknown>('/api/world').pipe(
      mergeMap((document) => {
        const reading = readWorld(document);
        return reading.ok ? of(reading.world) : EMPTY;
      }),
    );
  }
}
