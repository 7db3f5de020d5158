/** The kinds of records. */
export const RECORD_KINDS = ['lead', 'contact', 'company', 'deal'] as const;
export type RecordKind = (typeof RECORD_KINDS)[number];

/** The kinds of records that others are tied to. */
export const TIE_KINDS = ['contact', 'company'] as const satisfies readonly RecordKind[];
export type TieKind = (typeof TIE_KINDS)[number];

/** Across which ties the conditions of a kind may read: one hop, never further. */
export const HOPS: Readonly<Record<RecordKind, readonly TieKind[]>> = {
  lead: TIE_KINDS,
  deal: TIE_KINDS,
  contact: [],
  company: [],
};

/** Kinds of records that stand in stages, through which gates and hands move them. */
export const PIPELINE_KINDS = ['lead', 'deal'] as const satisfies readonly RecordKind[];
export type PipelineKind = (typeof PIPELINE_KINDS)[number];

/** Kinds of records that routes hand over. */
export const ROUTED_KINDS = ['lead'] as const satisfies readonly PipelineKind[];
export type RoutedKind = (typeof ROUTED_KINDS)[number];

/** The other kinds: no route hands them over. */
export const UNROUTED_KINDS = ['contact', 'company', 'deal'] as const satisfies readonly RecordKind[];
export type UnroutedKind = (typeof UNROUTED_KINDS)[number];
