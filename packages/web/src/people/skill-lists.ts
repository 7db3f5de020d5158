import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import type { People } from '@relvik/contracts';
import type { SkillList } from '@relvik/core';
import type { Observable } from 'rxjs';
import { freshKey } from '../ui/fresh-key';
import { PeopleService } from './people.service';

/** The admin's lists of skills, which routes hold against fields of a lead. */
@Component({
  selector: 'rv-skill-lists',
  template: `
    <h2>Skills <span class="quiet">routes hold them against a field of the lead</span></h2>
    <table class="list">
      <thead>
        <tr>
          <th>List</th>
          <th>What people can have of it</th>
          @if (admin()) {
            <th></th>
          }
        </tr>
      </thead>
      <tbody>
        @for (list of people().skills; track list.key) {
          @if (editing()?.key === list.key) {
            <tr class="editing-row">
              <td colspan="3">
                <form class="editor at-once" (submit)="save(name.value, words.value); $event.preventDefault()">
                  <div class="joint">
                    <input #name class="value-field" aria-label="Name of the list" [value]="list.name" />
                    <textarea
                      #words
                      rows="4"
                      aria-label="Skills, one a line"
                      [value]="
                        list.words.join(
                          '
'
                        )
                      "
                    ></textarea>
                    <button type="submit" class="link">Save</button>
                    <button type="button" class="link" (click)="editing.set(null)">Cancel</button>
                    <button type="button" class="link" (click)="run(service.removeSkills(list.key))">
                      Take the list out
                    </button>
                  </div>
                </form>
              </td>
            </tr>
          } @else {
            <tr>
              <td>{{ list.name }}</td>
              <td>{{ list.words.join(', ') }}</td>
              @if (admin()) {
                <td>
                  <button
                    type="button"
                    class="link"
                    [attr.aria-label]="'Edit ' + list.name"
                    (click)="editing.set(list)"
                  >
                    Edit
                  </button>
                </td>
              }
            </tr>
          }
        } @empty {
          <tr>
            <td colspan="3" class="quiet">No list yet: languages, say, or industries.</td>
          </tr>
        }
      </tbody>
    </table>
    @if (admin()) {
      <form class="joint" (submit)="add(fresh.value); fresh.value = ''; $event.preventDefault()">
        <input #fresh class="value-field" aria-label="Name of a new list" placeholder="Languages" />
        <button type="submit" class="link">+ list</button>
      </form>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SkillLists {
  protected readonly service = inject(PeopleService);
  readonly people = input.required<People>();
  readonly admin = input.required<boolean>();
  /** A change that is on its way to the server. */
  readonly changing = output<Observable<People>>();
  protected readonly editing = signal<SkillList | null>(null);

  protected run(change: Observable<People>): void {
    this.changing.emit(change);
    this.editing.set(null);
  }

  protected save(name: string, words: string): void {
    const list = this.editing();
    if (list === null) return;
    const said = words
      .split('\n')
      .map((word) => word.trim())
      .filter((word) => word !== '');
    this.run(this.service.changeSkills(list.key, { name: name.trim(), words: said }));
  }

  protected add(name: string): void {
    if (name.trim() === '') return;
    const key = freshKey(
      'skills',
      this.people().skills.map((one) => one.key),
    );
    this.run(this.service.changeSkills(key, { name: name.trim(), words: [] }));
  }
}
