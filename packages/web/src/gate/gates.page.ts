import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { conditionWords } from '@relvik/core';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { DraftNote } from '../frame/draft-note';
import { HomeService } from '../home/home.service';
import { WordingService } from '../record/wording.service';

/** Gates: the stages from left to right, and the moves between them, to read. */
@Component({
  selector: 'rv-gates',
  imports: [DecimalPipe, RouterLink, DraftNote, Waiting],
  template: `
    <section class="page">
      <h1>Gates <span class="quiet">from stage to stage, when a condition becomes true</span></h1>
      <rv-draft-note />
      @if (charters.shown(); as charter) {
        <ol class="stages">
          @for (stage of stages(); track stage.key) {
            <li [class.out]="stage.kind === 'out'">
              <b>{{ stage.name }}</b>
              <a routerLink="/leads" [queryParams]="{ stage: stage.key, status: stage.kind === 'out' ? 'any' : 'open' }"
                ><span class="code">{{ stage.count | number }}</span>
                {{ stage.kind === 'out' ? 'closed here' : 'open' }}</a
              >
              @if (stage.key === charter.entry) {
                <span class="quiet">new leads enter here</span>
              }
              @if (stage.routes) {
                <span class="quiet">routes act on entering</span>
              }
            </li>
          }
        </ol>
        <table class="list">
          <thead>
            <tr>
              <th>Gate</th>
              <th>From</th>
              <th></th>
              <th>To</th>
              <th>When this becomes true</th>
              <th>Who decides</th>
              <th class="number">Passed so far</th>
            </tr>
          </thead>
          <tbody>
            @for (gate of gates(); track gate.key) {
              <tr>
                <td>
                  {{ gate.name }}
                  @if (!gate.on) {
                    <span class="quiet">off</span>
                  }
                </td>
                <td>{{ gate.from }}</td>
                <td aria-hidden="true">→</td>
                <td>{{ gate.to }}</td>
                <td>{{ gate.when }}</td>
                <td class="quiet">by rule</td>
                <td class="number">{{ gate.passed | number }}</td>
              </tr>
            }
          </tbody>
        </table>
        <p class="quiet">
          A gate acts once when its condition becomes true, and not again before it has been false in between.
        </p>
      } @else {
        <rv-waiting [of]="charters.state()" />
      }
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GatesPage {
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  private readonly counts = toSignal(asLoaded(this.charters.counts()), { initialValue: LOADING });
  private readonly home = inject(HomeService).home;

  protected readonly stages = computed(() => {
    const charter = this.charters.shown();
    const open = new Map((valueOf(this.home())?.byStage ?? []).map(({ stage, count }) => [stage, count]));
    const declined = valueOf(this.home())?.byStatus.find(({ status }) => status === 'disqualified')?.count ?? 0;
    return (charter?.stages ?? []).map((stage) => ({
      ...stage,
      count: stage.kind === 'out' ? declined : (open.get(stage.key) ?? 0),
      routes: charter?.streams.some((stream) => stream.on && stream.entering.includes(stage.key)) ?? false,
    }));
  });

  protected readonly gates = computed(() => {
    const charter = this.charters.shown();
    const stageName = (key: string): string => charter?.stages.find((stage) => stage.key === key)?.name ?? key;
    return (charter?.gates ?? []).map(({ key, name, on, from, to, when }) => ({
      key,
      name,
      on,
      from: stageName(from),
      to: stageName(to),
      when: conditionWords(when, this.words.wording()),
      passed: valueOf(this.counts())?.gates[key] ?? 0,
    }));
  });
}
