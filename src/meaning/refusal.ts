/** Thrown within a transaction that is refused; caught where the transaction began. No error: it is an answer. */
export class Refusal {
  constructor(
    readonly reason: string,
    /** For what does not fit: where, as a JSON Pointer. */
    readonly at?: string,
  ) {}
}
