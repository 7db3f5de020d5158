import { Directive, inject } from '@angular/core';
import { Router } from '@angular/router';
import { SessionService } from '../session/session.service';
import { TracerService } from '../tracer/tracer.service';
import { ImpactFolding } from './impact-folding';

const STEPS = ['/intake', '/score', '/grade', '/gates', '/territories', '/routes', '/people'];
const PATIENCE = 1500;

/** `G` then `1` to `7` opens a step, `/` finds a record, `T` chooses the tracer, `I` folds the impact. None acts inside a field. */
@Directive({ host: { '(document:keydown)': 'press($event)' } })
export class StepKeys {
  private readonly router = inject(Router);
  private readonly tracer = inject(TracerService);
  private readonly folding = inject(ImpactFolding);
  private readonly sessions = inject(SessionService);
  private began = 0;

  protected press(event: KeyboardEvent): void {
    const { target, key } = event;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (
      target instanceof HTMLElement &&
      (target.isContentEditable ||
        /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) ||
        target.getAttribute('role') === 'combobox')
    )
      return;
    if (key === '/') {
      event.preventDefault();
      void this.router.navigate(['/find']);
    } else if (key === 't' && this.sessions.is('admin')) {
      event.preventDefault();
      this.tracer.choosing.set(true);
    } else if (key === 'i' && this.sessions.is('admin')) {
      this.folding.toggle();
    } else if (key === 'g') {
      this.began = Date.now();
    } else if (Date.now() - this.began < PATIENCE && STEPS[Number(key) - 1] !== undefined) {
      this.began = 0;
      void this.router.navigateByUrl(STEPS[Number(key) - 1] ?? '/');
    }
  }
}
