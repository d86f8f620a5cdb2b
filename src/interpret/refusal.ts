/** Thrown within a transaction that is refused; caught where the transaction began. No error: it is an answer. */
export class Refusal {
  /** The actions that led there, outermost first. */
  readonly via: string[] = [];

  constructor(
    readonly reason: string,
    readonly at: string,
  ) {}
}
