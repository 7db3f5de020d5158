import { computed, inject, type Signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { of, switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { HomeService } from '../home/home.service';
import { type AxisBars, storedBars } from '../impact/bars-of';
import { ImpactService } from '../impact/impact.service';
import { SetChoice } from '../charter/set-choice';

/** What is drawn of the chosen set: all records by both charters as the impact computes it, else open ones as they are stored. */
export function chosenBars(): Signal<AxisBars> {
  const home = inject(HomeService);
  const impacts = inject(ImpactService);
  const stored = toSignal(
    toObservable(inject(SetChoice).key).pipe(
      switchMap((key) => (key === null ? of(LOADING) : asLoaded(home.distribution(key)))),
    ),
    { initialValue: LOADING },
  );
  return computed(() => impacts.bars() ?? storedBars(valueOf(stored())));
}
