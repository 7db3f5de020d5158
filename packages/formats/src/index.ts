export * from './charter-file';
export * from './csv';
export * from './population-from-arrow';
export * from './population-to-arrow';
