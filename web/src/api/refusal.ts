/** What the server said no to, in its own sentence. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    sentence: string,
  ) {
    super(sentence)
  }
}
