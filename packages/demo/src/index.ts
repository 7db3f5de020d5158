export * from './ostervane';
export * from './people';
