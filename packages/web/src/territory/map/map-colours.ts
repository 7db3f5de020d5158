import type { TerritoryColour } from '@relvik/core';

/** The colours of territories on paper. */
export const INKS: { readonly [C in TerritoryColour]: string } = {
  deep: '#165553',
  tide: '#2f8782',
  kelp: '#557a2b',
  clay: '#b48a64',
  mist: '#7fb5b1',
  plum: '#7a5c7e',
  moss: '#9bb36b',
  ochre: '#c9a94b',
  slate: '#8b968f',
  foam: '#a9cfcb',
};

/** Names of the colours. */
export const INK_WORDS: { readonly [C in TerritoryColour]: string } = {
  deep: 'Deep water',
  tide: 'Tide',
  kelp: 'Kelp',
  clay: 'Clay',
  mist: 'Mist',
  plum: 'Plum',
  moss: 'Moss',
  ochre: 'Ochre',
  slate: 'Slate',
  foam: 'Foam',
};

/** Ground that no territory covers. */
export const OPEN_INK = '#e6e1d4';
/** From few to many. */
export const FEW_INK = '#dcebe9';
export const MANY_INK = '#165553';
