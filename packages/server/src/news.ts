import { randomUUID } from "node:crypto";
import type { LiveMessage, LiveNews } from "@oxtrum/contract";

/** Messages that are kept for browsers that come back. */
const MAX_KEPT = 2000;

/**
 * What happens in the server, numbered. Who comes back after a break names the last message that it has and gets those
 * after it; when they are not kept any more, or another server has begun since, it is told to ask for everything again.
 */
export class News {
  /** Of this server's run: numbers of another one mean nothing here. */
  readonly #epoch = randomUUID().slice(0, 8);
  readonly #kept: LiveMessage[] = [];
  readonly #listeners = new Set<(m: LiveMessage) => void>();
  #seq = 0;

  publish(news: LiveNews): void {
    const m = { ...news, seq: ++this.#seq } as LiveMessage;
    this.#kept.push(m);
    if (this.#kept.length > MAX_KEPT) this.#kept.shift();
    for (const l of this.#listeners) l(m);
  }

  /** A resource has another version now; null: it is gone. */
  changed(resource: "study" | "script" | "job" | "settings", id: string | number, version: number | null): void {
    this.publish({ change: { resource, id: String(id), version } });
  }

  /** Whether anybody listens. */
  get heard(): boolean {
    return this.#listeners.size > 0;
  }

  listen(l: (m: LiveMessage) => void): () => void {
    this.#listeners.add(l);
    return () => void this.#listeners.delete(l);
  }

  /** How a message is named, for who comes back after it. */
  idOf(m: LiveMessage): string {
    return `${this.#epoch}.${m.seq}`;
  }

  /** The id of the last message: whoever asks for anything from now on has seen what it tells. */
  get last(): string {
    return `${this.#epoch}.${this.#seq}`;
  }

  /** What was missed since a message, or that this is not known. @param last its id; undefined for who is new */
  since(last: string | undefined): LiveMessage[] {
    const [epoch, number] = (last ?? "").split(".");
    const seq = Number(number);
    const first = this.#kept[0]?.seq ?? this.#seq + 1;
    if (epoch === this.#epoch && Number.isInteger(seq) && seq >= first - 1 && seq <= this.#seq)
      return this.#kept.filter((m) => m.seq > seq);
    return [{ resync: true, seq: this.#seq }];
  }
}
