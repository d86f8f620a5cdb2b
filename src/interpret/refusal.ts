/** Thrown within a transaction that is refused; caught where the transaction began. */
export class Refusal extends Error {
  constructor(
    readonly reason: string,
    readonly at: string,
  ) {
    super(reason);
  }
}
