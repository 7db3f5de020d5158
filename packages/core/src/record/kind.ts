/** The kinds of records. */
export const RECORD_KINDS = ['lead', 'contact', 'company', 'deal'] as const;
export type RecordKind = (typeof RECORD_KINDS)[number];

/** Kinds of records that move through stages. */
export const PIPELINE_KINDS = ['lead'] as const satisfies readonly RecordKind[];
export type PipelineKind = (typeof PIPELINE_KINDS)[number];
