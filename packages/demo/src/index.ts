export * from './ostervane';
export * from './people';
export { OWN_REGIONS, SPELLINGS } from './regions';
