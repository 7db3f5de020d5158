export * from './charter-file';
export * from './csv';
export * from './population-arrow';
