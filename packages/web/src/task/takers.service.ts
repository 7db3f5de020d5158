import { inject, Injectable, signal } from '@angular/core';
import { PeopleService } from '../people/people.service';

/** The people to whom the user can give a task: those whom they see. */
@Injectable({ providedIn: 'root' })
export class TakersService {
  private readonly service = inject(PeopleService);
  private readonly known = signal<readonly { readonly key: string; readonly name: string }[]>([]);
  readonly people = this.known.asReadonly();

  load(): void {
    this.service.people().subscribe({
      next: ({ people }) => {
        this.known.set(people.map(({ key, name }) => ({ key, name })));
      },
      // Without the list of people tasks can't be given on for now.
      error: () => undefined,
    });
  }
}
