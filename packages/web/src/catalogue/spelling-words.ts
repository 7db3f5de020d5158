import { countryName, type Names, regionLabel } from '@relvik/core';
import type { WordingService } from '../wording/wording.service';

/** What a list of spellings is called: "Countries", "Regions of Germany", "Industry". */
export function listWords(list: string, names: Pick<Names, 'field'>): string {
  const [kind = '', of = ''] = list.split(/:(.*)/s);
  switch (kind) {
    case 'regions':
      return `Regions of ${countryName(of)}`;
    case 'list':
      return `List ${of}`;
    case 'field':
      return names.field(of);
    default:
      return 'Countries';
  }
}

/** What a spelling means, as people call it. */
export function meaningWords(list: string, means: string, words: WordingService): string {
  if (list === 'countries') return countryName(means);
  return list.startsWith('regions:') ? regionLabel(means, words.places().ownRegions) : means;
}
