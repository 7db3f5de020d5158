export * from './charter';
export * from './home';
export * from './intake';
export * from './lead';
export * from './people';
export * from './problem-document';
export * from './session';
export * from './raw-values';
