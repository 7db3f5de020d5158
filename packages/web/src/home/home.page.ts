import { DatePipe, DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import type { Attention, Notice } from '@relvik/contracts';
import { AgoPipe } from '../api/ago.pipe';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { GradeBadge } from '../ui/grade-badge';
import { LeadService } from '../record/lead.service';
import { PlaceLabel } from '../record/place-label';
import { MyTasks } from '../task/my-tasks';
import { pathOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { OwnPresence } from '../people/own-presence';
import { OwnQueues } from '../people/own-queues';
import { SessionService } from '../session/session.service';
import { HomeService } from './home.service';
import { WatershedChart } from './watershed-chart';

/** An attention in words, and where to see to it. */
interface Need {
  readonly title: string;
  readonly detail: string;
  readonly step: string;
  readonly link: string;
  readonly query: Readonly<Record<string, string>>;
  readonly urgent: boolean;
  readonly since: number | null;
}

/** Home: what needs someone, and how many leads stand where. For a rep: what is mine to do. */
@Component({
  selector: 'rv-home',
  imports: [
    DatePipe,
    DecimalPipe,
    RouterLink,
    AgoPipe,
    Waiting,
    GradeBadge,
    OwnPresence,
    MyTasks,
    OwnQueues,
    PlaceLabel,
    WatershedChart,
  ],
  templateUrl: './home.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HomePage {
  private readonly homes = inject(HomeService);
  private readonly leads = inject(LeadService);
  protected readonly words = inject(WordingService);
  protected readonly session = inject(SessionService).session;
  protected readonly loaded = this.homes.home;
  protected readonly home = computed(() => valueOf(this.loaded()));
  protected readonly top = toSignal(
    asLoaded(
      this.leads.page(
        this.session()?.role === 'rep' ? { owner: this.session()?.key, size: 14 } : { place: 'owner', size: 8 },
      ),
    ),
    { initialValue: LOADING },
  );
  protected readonly rows = computed(() => valueOf(this.top())?.rows ?? []);
  protected readonly needs = computed(() => (this.home()?.attention ?? []).map((one) => this.inWords(one)));
  protected readonly total = computed(() => (this.home()?.byStatus ?? []).reduce((sum, { count }) => sum + count, 0));

  protected statusOf(status: string): string {
    return { open: 'Open', won: 'Won', lost: 'Lost', disqualified: 'Disqualified' }[status] ?? status;
  }

  protected share(count: number, of: readonly { readonly count: number }[]): number {
    return (100 * count) / Math.max(1, ...of.map((one) => one.count));
  }

  protected linkOf({ record, kind }: Notice): readonly (string | number)[] {
    if (record !== null) return [pathOf(record.kind), record.id];
    return [kind === 'imported' ? '/intake' : '/charters'];
  }

  protected noticeWords(kind: string): string {
    return (
      {
        assigned: 'was given to you',
        'in-queue': 'waits in your queue',
        'last-resort': 'was taken by no route',
        bay: 'waits in the bay',
        'nobody-has-skill': 'asks for a skill that nobody has',
        'waits-long': 'has waited long in the bay',
        routed: 'was given away by a route that tells you',
        graded: 'has another grade, of which you are told',
        rescored: 'has rescored all the leads that you chose',
        imported: 'was taken in',
        asked: 'waits for your decision',
        task: 'has a task for you',
        said: 'now says something else than is known',
      }[kind] ?? kind
    );
  }

  private inWords({ what, count, since, about }: Attention): Need {
    const { names } = this.words.wording();
    const one = count === 1;
    const leads = `${count} ${one ? 'lead' : 'leads'}`;
    const base = { since, link: '/leads' };
    switch (what) {
      case 'bay-unjudged':
        return {
          ...base,
          title: `${leads} can’t be judged`,
          detail: 'A value that the rules need can’t be read: correct such values together',
          step: 'Score',
          // Only an admin corrects such values together.
          link: this.session()?.role === 'admin' ? '/unjudged' : '/bay',
          query: {},
          urgent: true,
        };
      case 'bay-nobody-free':
        return {
          ...base,
          title: `${leads} ${one ? 'waits' : 'wait'} for someone free`,
          detail: `${one ? 'Its' : 'Their'} route matches, but nobody can take one more`,
          step: 'People',
          link: '/bay',
          query: {},
          urgent: true,
        };
      case 'bay-loop':
        return {
          ...base,
          title: `${leads} ${one ? 'runs' : 'run'} in a circle`,
          detail: `Gates send ${one ? 'it' : 'them'} back and forth`,
          step: 'Gates',
          link: '/bay',
          query: {},
          urgent: true,
        };
      case 'to-accept':
        return {
          ...base,
          title: `${leads} for you to accept or give back`,
          detail: 'Given to you by a route; what you give back goes to someone else',
          step: 'My leads',
          query: { owner: about ?? '', acceptance: 'asked' },
          urgent: true,
        };
      case 'tasks-overdue':
        return {
          ...base,
          title: `${count} ${one ? 'task is' : 'tasks are'} overdue`,
          detail: 'Done, put off or given on where they stand',
          step: 'Tasks',
          link: '/tasks',
          query: this.session()?.role === 'rep' ? { show: 'overdue' } : { show: 'overdue', whose: 'seen' },
          urgent: true,
        };
      case 'to-decide':
        return {
          ...base,
          title: `${count} ${one ? 'proposal waits' : 'proposals wait'} for your decision`,
          detail: 'Gates ask whether these leads move on',
          step: 'Gates',
          link: '/to-decide',
          query: {},
          urgent: false,
        };
      case 'last-resort':
        return {
          ...base,
          title: `${leads} ${one ? 'was' : 'were'} taken by no route`,
          detail: `${one ? 'It waits' : 'They wait'} in ${names.queue(about ?? '')}, the last resort`,
          step: 'Routes',
          query: { queue: about ?? '' },
          urgent: true,
        };
      case 'queue':
        return {
          ...base,
          title: `${leads} ${one ? 'waits' : 'wait'} in ${names.queue(about ?? '')}`,
          detail: 'Its members pick them up',
          step: 'People',
          query: { queue: about ?? '' },
          urgent: false,
        };
      case 'open-ground':
        return {
          ...base,
          title: `${count} qualified ${one ? 'lead' : 'leads'} on open ground`,
          detail: `No territory covers ${one ? 'its' : 'their'} country`,
          step: 'Territories',
          link: '/leads',
          query: { territory: 'none', stage: 'qualified' },
          urgent: false,
        };
      case 'failing':
        return {
          ...base,
          title: `${count} ${one ? 'thing keeps' : 'things keep'} failing in the background`,
          detail: 'Tried again with growing pauses, or parked until you say so',
          step: 'Background',
          link: '/background',
          query: {},
          urgent: true,
        };
      case 'doctor':
        return {
          ...base,
          title: `The nightly check found ${count} ${one ? 'fault' : 'faults'}`,
          detail: 'What could be mended was mended; the page says what needs a person',
          step: 'Background',
          link: '/background',
          query: {},
          urgent: true,
        };
      case 'held-back':
        return {
          ...base,
          title: `${leads} of charter ${about ?? ''} ${one ? 'stands' : 'stand'} still`,
          detail: `That charter names what is gone, so time no longer moves ${one ? 'it' : 'them'}: enact for all leads, or bring back what is gone`,
          step: 'Score',
          link: '/charters',
          query: {},
          urgent: true,
        };
      case 'duplicates':
        return {
          ...base,
          title: `${count} possible ${one ? 'duplicate' : 'duplicates'}`,
          detail: `Two contacts or companies each that may be one: join them, or say that they are two`,
          step: 'Contacts',
          link: '/suggestions',
          query: {},
          urgent: false,
        };
      case 'draft-problems':
        return {
          ...base,
          title: `The draft has ${count} ${one ? 'problem' : 'problems'}`,
          detail: `It can’t be enacted before ${one ? 'it is' : 'they are'} settled`,
          step: 'Routes',
          link: '/routes',
          query: {},
          urgent: false,
        };
    }
  }
}
