/** An error as RFC 9457 describes it, with the fields it is about. `type` points into docs/errors.md. */
export interface ProblemDocument {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  readonly detail?: string;
  /** What is wrong where; the path is a JSON Pointer into what was sent. */
  /** The lead that stands in the way. */
  readonly other?: number;
  readonly errors?: readonly { readonly path: string; readonly message: string }[];
}
