import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { RecordDetail } from '@relvik/contracts';
import type { Instant } from '@relvik/core';
import { causeWords, changeWords } from '../record/change-words';
import { singularHeadingOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';

interface Line {
  readonly at: Instant;
  readonly what: string;
  readonly more: string;
  readonly by: string;
}

/** Everything that happened with a record in one line of time: activities of it and of what is below it, moves and changes. */
@Component({
  selector: 'rv-record-timeline',
  imports: [DatePipe],
  template: `
    <ol class="plain history">
      @for (line of lines(); track $index) {
        <li>
          <b>{{ line.what }}</b> {{ line.more }}
          <span class="quiet">{{ line.at | date: 'd MMM y, HH:mm' }}{{ line.by && ', ' + line.by }}</span>
        </li>
      } @empty {
        <li class="quiet">Nothing yet.</li>
      }
    </ol>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecordTimeline {
  private readonly words = inject(WordingService);
  readonly record = input.required<RecordDetail>();

  protected readonly lines = computed((): Line[] => {
    const wording = this.words.wording();
    const { activities, history, kind } = this.record();
    const did = activities.map(({ kind: of, at, properties = {}, record }): Line => ({
      at,
      what: wording.names.activity(of),
      more: Object.entries(properties)
        .map(([key, text]) => `${key.replaceAll('_', ' ')} ${text}`)
        .join(', '),
      by: record?.name ?? '',
    }));
    const changed = history.map((change): Line => {
      if (change.field === 'made')
        return { at: change.at, what: `The ${kind} was made`, more: '', by: causeWords(change, wording) };
      if (change.field === 'joined')
        return {
          at: change.at,
          what: `${singularHeadingOf(kind)} ${changeWords(change, wording).to} was joined into it`,
          more: '',
          by: causeWords(change, wording),
        };
      const { what, from, to } = changeWords(change, wording);
      const name = wording.fields.get(change.field)?.name ?? what;
      return {
        at: change.at,
        what: name === 'Where it is' ? 'Owner' : name,
        more: from === null ? to : `${from} → ${to}`,
        by: change.cause === 'relvik' ? 'as its leads say' : causeWords(change, wording),
      };
    });
    return [...did, ...changed].sort((a, b) => b.at - a.at);
  });
}
