import { Pipe, type PipeTransform } from '@angular/core';
import { DateTime } from 'luxon';

/** An instant as people say it: "3 hours ago". */
@Pipe({ name: 'ago' })
export class AgoPipe implements PipeTransform {
  transform(instant: number): string {
    return DateTime.fromMillis(instant).setLocale('en').toRelative() ?? '';
  }
}
