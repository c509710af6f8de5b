/** A message of the server's live stream as it came, and its id: the server's run and the number in it. */
export interface Told {
  readonly id: string;
  readonly text: string;
}

/** Messages that are kept for tabs that come later. */
const MOST_KEPT = 2000;

/** What the server tells where it does not know what was missed. */
const RESYNC = JSON.stringify({ resync: true, seq: 0 });

function place(id: string): { epoch: string; seq: number } | undefined {
  const [epoch, seq] = id.split(".");
  return epoch && seq && /^\d+$/.test(seq) ? { epoch, seq: Number(seq) } : undefined;
}

/**
 * The last messages of a stream that all tabs share. A tab that opens later was served after some message: it gets
 * those that came since, and asks for everything again only where that is not known.
 */
export class KeptMessages {
  #kept: { readonly seq: number; readonly text: string }[] = [];
  /** After which message all are kept. */
  #from: ReturnType<typeof place>;

  /** @param after the message after which the stream begins; "" for one that begins with asking for everything */
  constructor(after: string) {
    this.#from = place(after);
  }

  add({ id, text }: Told): void {
    const at = place(id);
    if (!at) return;
    if (at.epoch !== this.#from?.epoch) {
      // Another run of the server: what is kept of the one before means nothing.
      this.#kept = [];
      this.#from = at;
      return;
    }
    this.#kept.push({ seq: at.seq, text });
    if (this.#kept.length > MOST_KEPT) this.#from = { epoch: at.epoch, seq: this.#kept.shift()!.seq };
  }

  /** Texts of the messages since one, or the one that asks for everything. */
  since(id: string): string[] {
    const at = place(id);
    if (!at || at.epoch !== this.#from?.epoch || at.seq < this.#from.seq) return [RESYNC];
    return this.#kept.filter((m) => m.seq > at.seq).map((m) => m.text);
  }
}
