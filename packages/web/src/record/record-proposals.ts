import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { LeadDetail, PastProposal } from '@relvik/contracts';
import type { Names } from '@relvik/core';
import { WordingService } from '../wording/wording.service';

const WITHDRAWN: Readonly<Record<NonNullable<PastProposal['why']>, string>> = {
  'not-true': 'withdrawn: its gate did not hold any more',
  'left-stage': 'withdrawn: it left the stage',
  closed: 'withdrawn: it was closed',
  joined: 'withdrawn: it was joined into another',
  'gate-gone': 'withdrawn: the charter does not ask it any more',
};

/** The state of a proposal in words: "Bo Rask moved it to Trial, the rule said Plan: knows them". */
export function proposalWords({ state, answer, rule, by, reason, why }: PastProposal, names: Names): string {
  const said = rule === null ? 'the rule would not have asked' : `the rule said ${names.stage(rule)}`;
  const because = reason === null ? '' : `: ${reason}`;
  switch (state) {
    case 'open':
      return 'waits for an answer';
    case 'taken':
      return `${by} moved it to ${names.stage(answer ?? '')}${answer === rule ? ', as the rule said' : `, ${said}`}${because}`;
    case 'refused':
      return `${by} refused, ${said}${because}`;
    case 'withdrawn':
      return why === null ? 'withdrawn' : WITHDRAWN[why];
  }
}

/** The proposals about a lead or deal: open ones to decide, earlier ones with their decisions. */
@Component({
  selector: 'rv-record-proposals',
  imports: [DatePipe, RouterLink],
  template: `
    @for (one of open(); track one.id) {
      <p class="told proposal" role="status">
        <b>{{ words.wording().names.gate(one.gate) }}</b> asks whether it goes to
        <b>{{ words.wording().names.stage(one.pick) }}</b>.
        @if (record().may.decide) {
          <button type="button" class="link" [disabled]="busy()" (click)="taken.emit(one)">Take the rule’s pick</button>
          <a routerLink="/to-decide">To decide</a>
        }
      </p>
    }
    @if (earlier().length > 0) {
      <details class="not-moved">
        <summary>What gates asked</summary>
        <ul class="plain">
          @for (one of earlier(); track one.id) {
            <li>
              {{ words.wording().names.gate(one.gate) }}
              <span class="quiet">{{ one.askedAt | date: 'd MMM y, HH:mm' }}</span> {{ one.words }}
            </li>
          }
        </ul>
      </details>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecordProposals {
  protected readonly words = inject(WordingService);
  readonly record = input.required<Pick<LeadDetail, 'proposals'> & { readonly may: { readonly decide: boolean } }>();
  readonly busy = input.required<boolean>();
  readonly taken = output<PastProposal>();

  protected readonly open = computed(() => this.record().proposals.filter(({ state }) => state === 'open'));
  protected readonly earlier = computed(() =>
    this.record()
      .proposals.filter(({ state }) => state !== 'open')
      .map((one) => ({ ...one, words: proposalWords(one, this.words.wording().names) })),
  );
}
