export * from './charter-file';
export * from './csv';
export * from './territory-table';
export * from './population-from-arrow';
export * from './population-to-arrow';
export * from './feel/condition-from-feel';
export * from './feel/condition-to-feel';
export { subjectFeel } from './feel/subject-feel';
