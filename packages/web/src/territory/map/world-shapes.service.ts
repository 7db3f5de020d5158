import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import { map, type Observable, shareReplay } from 'rxjs';
import { type GroundShape, shapesOf, type World } from './ground-shapes';

/** The shapes of countries and regions, read once, when a map is first wanted. */
@Injectable({ providedIn: 'root' })
export class WorldShapes {
  private readonly http = inject(HttpClient);

  readonly world: Observable<World> = this.http
    .get<World>('/maps/world_50m.json')
    .pipe(shareReplay({ bufferSize: 1, refCount: false }));

  readonly shapes: Observable<readonly GroundShape[]> = this.world.pipe(
    map(shapesOf),
    shareReplay({ bufferSize: 1, refCount: false }),
  );
}
