import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { bayWords, type Place } from '@relvik/core';
import { WordingService } from '../wording/wording.service';

/** Where a lead is, short; in the bay with its reason. */
@Component({
  selector: 'rv-place',
  template: `<span [class]="'place ' + place().kind" [title]="title()">{{ short() }}</span>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlaceLabel {
  private readonly words = inject(WordingService);
  readonly place = input.required<Place>();

  protected readonly title = computed(() => {
    const place = this.place();
    return place.kind === 'bay' ? bayWords(place.reason, this.words.wording().names) : '';
  });

  protected readonly short = computed(() => {
    const place = this.place();
    const { names } = this.words.wording();
    switch (place.kind) {
      case 'owner':
        return names.rep(place.rep);
      case 'queue':
        return `Queue ${names.queue(place.queue)}`;
      case 'bay':
        return {
          'nobody-free': 'Bay: nobody free',
          scheduled: 'Bay: goes when its stream runs',
          unjudged: 'Bay: can’t be judged',
          loop: 'Bay: runs in a circle',
        }[place.reason.why];
      case 'not-handed-over':
        return place.verdict === null ? 'Not handed over' : `Not handed over: ${names.verdict(place.verdict)}`;
    }
  });
}
