import { z } from "zod";
import { apiErrorSchema } from "./error.js";
import { endpoints, type Endpoint } from "./endpoints.js";
import { liveMessageSchema } from "./live-stream.js";

/** The parts of JSON Schema that Zod writes. */
interface Json {
  readonly type?: string | readonly string[];
  readonly const?: unknown;
  readonly enum?: readonly unknown[];
  readonly anyOf?: readonly Json[];
  readonly oneOf?: readonly Json[];
  readonly items?: Json;
  readonly prefixItems?: readonly Json[];
  readonly properties?: Readonly<Record<string, Json>>;
  readonly required?: readonly string[];
  readonly additionalProperties?: Json | boolean;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly maxLength?: number;
  readonly default?: unknown;
}

/** A schema as a TypeScript type, indented. */
function typeOf(j: Json, indent: string): string {
  if (j.const !== undefined) return JSON.stringify(j.const);
  if (j.enum) return j.enum.map((v) => JSON.stringify(v)).join(" | ");
  const choice = j.anyOf ?? j.oneOf;
  if (choice) return [...new Set(choice.map((c) => typeOf(c, indent)))].join(" | ");
  if (j.prefixItems) return `[${j.prefixItems.map((c) => typeOf(c, indent)).join(", ")}]`;
  if (j.type === "array") {
    const of = typeOf(j.items ?? {}, indent);
    return /[|]/.test(of.replace(/\{[^]*\}/, "")) ? `(${of})[]` : `${of}[]`;
  }
  if (j.type === "object") return objectOf(j, indent);
  const types = typeof j.type === "string" ? [j.type] : (j.type ?? ["unknown"]);
  return types.map((t) => (t === "integer" ? "number" : t)).join(" | ");
}

function objectOf(j: Json, indent: string): string {
  const deeper = `${indent}  `;
  const lines = Object.entries(j.properties ?? {}).map(([name, p]) => {
    const fallback = p.default === undefined ? "" : ` // default: ${JSON.stringify(p.default)}`;
    const isThere = j.required?.includes(name) === true && p.default === undefined;
    return `${deeper}${name}${isThere ? "" : "?"}: ${typeOf(p, deeper)};${fallback}`;
  });
  const rest = j.additionalProperties;
  if (typeof rest === "object" && Object.keys(rest).length > 0)
    lines.push(`${deeper}[name: string]: ${typeOf(rest, deeper)};`);
  return lines.length === 0 ? "object" : `{\n${lines.join("\n")}\n${indent}}`;
}

/** A schema as a TypeScript type. @param io what is sent, or what is read */
export function schemaText(schema: z.ZodType, io: "input" | "output"): string {
  return typeOf(z.toJSONSchema(schema, { io, unrepresentable: "any", reused: "inline" }) as Json, "");
}

const block = (text: string): string => `\`\`\`ts\n${text}\n\`\`\`\n`;

function section(e: Endpoint): string {
  const out = [`### ${e.method} \`${e.path}\`\n`, `${e.about}${e.open ? " No token is asked for." : ""}\n`];
  if (e.query) out.push(`Query:\n`, block(schemaText(e.query, "input")));
  if (e.body) out.push(`Body:\n`, block(schemaText(e.body, "input")));
  const status = e.status ?? 200;
  if (e.answer === undefined) out.push(`Answer: ${status}, without content.\n`);
  else if (typeof e.answer === "string") out.push(`Answer: ${status}, ${e.answer}.\n`);
  // Arrays of numbers travel as base64 and are shown as they travel.
  else out.push(`Answer: ${status}\n`, block(schemaText(e.answer, "input")));
  return out.join("\n");
}

/** The page of the documentation about the HTTP API, from the table of all requests. */
export function httpApiPage(): string {
  const groups = Object.entries(endpoints).map(
    ([name, list]) => `## ${name}\n\n${(list as readonly Endpoint[]).map(section).join("\n")}`,
  );
  return [
    "# HTTP API",
    "",
    "The server answers these requests; its own pages use no others. This page is built from the schemas that the server",
    "checks requests with (`packages/contract`), by `node scripts/http-api.mjs`.",
    "",
    "Bodies and answers are JSON in UTF-8. Where the server asks for a token, send it as `Authorization: Bearer TOKEN`.",
    "Numbers that are missing are `null`; long arrays of numbers of the survey are base64 of little-endian bytes.",
    "",
    "## Errors",
    "",
    "Every error has this one shape:",
    "",
    block(schemaText(apiErrorSchema, "output")),
    "## The live stream",
    "",
    "`GET /api/events` sends one of these as the data of each event. The id of an event is sent back as `Last-Event-ID`",
    "(or as the query `after`) by whoever comes back after a break: the events that were missed follow, or `resync`.",
    "",
    block(schemaText(liveMessageSchema, "output")),
    groups.join("\n"),
  ]
    .join("\n")
    .replace(/\n{3,}/g, "\n\n");
}
