import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink } from '@angular/router';

@Component({
  selector: 'rv-nothing-here',
  imports: [RouterLink],
  template: `<section class="page">
    <h1>There is nothing here</h1>
    <p>
      It does not exist, or it is outside what you may see. <a routerLink="/">Go home</a> or
      <a routerLink="/leads">look through the leads</a>.
    </p>
  </section>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NothingHerePage {}
