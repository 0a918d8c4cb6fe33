/* One request at a time; the newest question goes as soon as the last answer is in. A late answer is never shown. */

export class Newest<Q, A> {
  private wanted: { question: Q } | null = null;
  private asking = false;

  constructor(
    private readonly send: (question: Q) => Promise<A>,
    private readonly answered: (answer: A, question: Q) => void,
    private readonly failed: (error: unknown, question: Q) => void,
  ) {}

  /** Asks this once the question before it is answered; a question still waiting is forgotten. */
  async ask(question: Q): Promise<void> {
    this.wanted = { question };
    if (this.asking) return;
    this.asking = true;
    while (this.wanted) {
      const { question: own } = this.wanted;
      this.wanted = null;
      try {
        const answer = await this.send(own);
        if (!this.wanted) this.answered(answer, own);
      } catch (error) {
        this.failed(error, own);
      }
    }
    this.asking = false;
  }
}
