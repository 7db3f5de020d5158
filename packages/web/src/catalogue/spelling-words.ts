import { countryName, type Names, regionLabel } from '@relvik/core';
import type { WordingService } from '../wording/wording.service';

/** The name of a list of spellings: "Countries", "Regions of Germany", "Industry". */
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

/** The meaning of a spelling by its name. */
export function meaningWords(list: string, means: string, words: WordingService): string {
  if (list === 'countries') return countryName(means);
  return list.startsWith('regions:') ? regionLabel(means, words.places().ownRegions) : means;
}
