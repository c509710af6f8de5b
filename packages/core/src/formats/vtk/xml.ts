import { FormatError, type ByteSource } from "../source.js";

/** An element with its attributes; of its text only where it stands. */
export interface XmlElement {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: XmlElement[];
  /** Byte where the text behind the opening tag begins. */
  readonly textStart: number;
  /** Byte behind the text: where the next tag begins. */
  textEnd: number;
  /** Where the element's tag begins, for messages. */
  readonly at: number;
}

/** A look at the file grows, so that a short head costs little and a long text few reads. */
const FIRST = 8 * 1024;
const WINDOW = 1024 * 1024;
const LONGEST_TAG = 64 * 1024;
const MOST_ELEMENTS = 500_000;
const DEEPEST = 40;

/**
 * Reads the elements of an XML mesh file, skipping over the text of arrays, and stops at appended data: what stands
 * behind it is binary.
 *
 * @throws FormatError where it is not well-formed, declares entities, or nests without end
 */
export function readXml(source: ByteSource): { root: XmlElement; appended: number | undefined } {
  const reader = new TagReader(source);
  const stack: XmlElement[] = [];
  let root: XmlElement | undefined;
  let count = 0;
  for (;;) {
    const tag = reader.next();
    if (!tag) break;
    const { text, at, end } = tag;
    const open = stack[stack.length - 1];
    if (open && open.textEnd < 0) open.textEnd = at;
    if (text.startsWith("?") || text.startsWith("!--")) continue;
    if (text.startsWith("!"))
      throw new FormatError(source.name, "document types and entities are not read", { offset: at });
    if (text.startsWith("/")) {
      const name = text.slice(1).trim();
      if (open?.name !== name)
        throw new FormatError(source.name, `</${name}> closes nothing that is open`, { offset: at });
      stack.pop();
      if (stack.length === 0) break;
      continue;
    }
    if (++count > MOST_ELEMENTS) throw new FormatError(source.name, "there are too many elements", { offset: at });
    const closed = text.endsWith("/");
    const element = parseTag(closed ? text.slice(0, -1) : text, at, end, source.name);
    if (open) open.children.push(element);
    else if (root) throw new FormatError(source.name, "a second root element", { offset: at });
    root ??= element;
    if (element.name === "AppendedData") {
      element.textEnd = source.size;
      const lead = Buffer.from(source.read(end, 4096));
      const mark = lead.indexOf(95);
      if (mark < 0 || lead.toString("latin1", 0, mark).trim() !== "")
        throw new FormatError(source.name, "appended data do not begin with an underscore", { offset: end });
      return { root, appended: end + mark + 1 };
    }
    if (closed) element.textEnd = end;
    else stack.push(element);
    if (stack.length > DEEPEST) throw new FormatError(source.name, "elements are nested too deeply", { offset: at });
  }
  if (!root) throw new FormatError(source.name, "there is no XML element in this file", { offset: 0 });
  if (stack.length > 0)
    throw new FormatError(
      source.name,
      `the file ends inside <${stack[stack.length - 1]!.name}>`,
      { offset: source.size },
      "It is cut off: write it again, or wait until it is whole.",
    );
  return { root, appended: undefined };
}

/** Finds tags one after the other. */
class TagReader {
  #at = 0;
  #window: Uint8Array = new Uint8Array(0);
  #windowAt = 0;
  #size = FIRST;

  constructor(private readonly source: ByteSource) {}

  next(): { text: string; at: number; end: number } | undefined {
    const open = this.#find(60, this.#at);
    if (open === undefined) return undefined;
    const comment = this.#bytes(open, 4).toString("latin1") === "<!--";
    const close = comment ? this.#commentEnd(open) : this.#find(62, open, LONGEST_TAG);
    if (close === undefined)
      throw new FormatError(this.source.name, "a tag does not end", { offset: open }, "The file may be cut off.");
    this.#at = close + 1;
    const text = comment
      ? "!--"
      : this.#bytes(open + 1, close - open - 1)
          .toString("utf8")
          .trim();
    return { text, at: open, end: close + 1 };
  }

  /** Bytes of the file, from what has been read already where they are in it. */
  #bytes(at: number, length: number): Buffer {
    const from = at - this.#windowAt;
    if (from >= 0 && from + length <= this.#window.length)
      return Buffer.from(this.#window.buffer, this.#window.byteOffset + from, length);
    return Buffer.from(this.source.read(at, length));
  }

  #commentEnd(from: number): number | undefined {
    for (let at = this.#find(62, from); at !== undefined; at = this.#find(62, at + 1))
      if (this.#bytes(at - 2, 2).toString("latin1") === "--") return at;
    return undefined;
  }

  #find(byte: number, from: number, most = Infinity): number | undefined {
    for (let at = from; at < this.source.size && at - from < most;) {
      if (at < this.#windowAt || at >= this.#windowAt + this.#window.length) {
        this.#window = this.source.read(at, this.#size);
        this.#size = Math.min(WINDOW, 2 * this.#size);
        this.#windowAt = at;
        if (this.#window.length === 0) return undefined;
      }
      const found = this.#window.indexOf(byte, at - this.#windowAt);
      if (found >= 0) return this.#windowAt + found;
      at = this.#windowAt + this.#window.length;
    }
    return undefined;
  }
}

const attribute = /([^\s=]+)\s*=\s*(?:"([^"]*)"|'([^']*)')/g;

function parseTag(text: string, at: number, end: number, file: string): XmlElement {
  const name = /^[\w:.-]+/.exec(text)?.[0];
  if (name === undefined) throw new FormatError(file, `"<${text.slice(0, 20)}" is not a tag`, { offset: at });
  const attributes: Record<string, string> = Object.create(null) as Record<string, string>;
  for (const m of text.slice(name.length).matchAll(attribute)) attributes[m[1]!] = plain(m[2] ?? m[3]!);
  return { name, attributes, children: [], textStart: end, textEnd: -1, at };
}

const named: Readonly<Record<string, string>> = { lt: "<", gt: ">", amp: "&", quot: '"', apos: "'" };

const plain = (text: string): string =>
  text.replace(/&(?:#(\d{1,7})|#x([0-9a-fA-F]{1,6})|(\w+));/g, (all, dec?: string, hex?: string, word?: string) => {
    if (word !== undefined) return named[word] ?? all;
    const code = dec !== undefined ? Number(dec) : parseInt(hex!, 16);
    return code > 0 && code < 0x110000 ? String.fromCodePoint(code) : "";
  });
