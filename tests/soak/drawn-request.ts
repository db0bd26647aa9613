import fc from "fast-check";
import { readdirSync } from "node:fs";
import path from "node:path";
import { ORDER_KINDS } from "@/contracts/order-shapes";

export type Who = "nobody" | "observer" | "technician" | "lead";
export interface DrawnRequest {
  readonly who: Who;
  readonly method: string;
  readonly path: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly body: Uint8Array | undefined;
}

/** All routes as they stand in the source: pages and handlers, with their parameters in brackets. */
export function routesOf(folder = "src/app", at = ""): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    if (entry.isDirectory()) {
      const part = entry.name.startsWith("(") ? "" : `/${entry.name}`;
      return routesOf(path.join(folder, entry.name), at + part);
    }
    return ["page.tsx", "route.ts"].includes(entry.name) ? [at === "" ? "/" : at] : [];
  });
}

const oddNumber = fc.oneof(
  fc.integer({ min: -2, max: 60 }).map(String),
  fc.constantFrom(
    "0",
    "-1",
    "1e3",
    "2147483647",
    "2147483648",
    "9007199254740993",
    "99999999999999999999",
    "NaN",
    "0x10",
    "1.5",
    " 1",
  ),
);
const word = fc.oneof(
  oddNumber,
  fc.constantFrom(
    "QW-01",
    "QW-06",
    "Sedge",
    "heddle-22",
    "heddle-23",
    "CSLATE-B",
    "statement",
    "corsley-slate",
    "constructor",
    "__proto__",
    "valueOf",
    "..",
    "%00",
    "%E0%A4",
    "\u0000",
    "'; drop table jobs; --",
    "<script>",
    "aircraft:QW-01",
    "standard:Sedge",
  ),
  fc.string({ maxLength: 40, unit: "binary" }),
);
const inPath = word.map((text) => {
  try {
    // what a browser could never send is sent as well, half of the time
    return /^[\w.%-]+$/.test(text) ? text : encodeURIComponent(text);
  } catch {
    return "%FF";
  }
});
const field = fc.oneof(
  fc.constantFrom(
    "kind",
    "act",
    "name",
    "person",
    "role",
    "password",
    "old",
    "wanted",
    "code",
    "tag",
    "type",
    "label",
    "reason",
    "choices",
    "step",
    "boardId",
    "bay",
    "releaseId",
    "goal",
    "body",
    "text",
    "backupId",
    "takes",
    "base",
    "mine",
    "theirs",
    "rules",
    "from",
    "to",
    "ids",
    "ask",
    "version",
    "note",
    "writing",
    "path",
    "modelId",
    "campaignId",
    "parts",
    "scope",
    "instead",
    "decisions",
    "end",
    "by",
    "replace",
    "toString",
    "__proto__",
    "length",
  ),
  fc.string({ maxLength: 12 }),
);
const value: fc.Arbitrary<unknown> = fc.letrec((tie) => ({
  any: fc.oneof(
    { depthSize: "small" },
    word,
    fc.constantFrom(null, true, false, 0, -1, 1.5, 2 ** 31, 2 ** 53, 1e308, "", [], {}),
    fc.constantFrom<unknown>(
      ...ORDER_KINDS,
      "valueOf",
      "role",
      "close",
      "password",
      "copy",
      "look",
      "update",
      "baseline",
    ),
    fc.array(tie("any"), { maxLength: 4 }),
    fc.dictionary(field, tie("any"), { maxKeys: 6 }),
  ),
})).any;
const json = fc.dictionary(field, value, { maxKeys: 8 }).map((body) => Buffer.from(JSON.stringify(body)));
const body = fc.oneof(
  { weight: 8, arbitrary: json },
  { weight: 1, arbitrary: value.map((any) => Buffer.from(JSON.stringify(any))) },
  { weight: 1, arbitrary: fc.uint8Array({ maxLength: 300 }) },
  {
    weight: 1,
    arbitrary: fc
      .constantFrom(
        "{",
        "null",
        "[[[[",
        '{"kind":"' + "x".repeat(300_000),
        "document: idiom\nid: x\n",
        "PK\u0003\u0004",
        "\u0000",
      )
      .map((text) => Buffer.from(text)),
  },
);
const cookieName = fc.constantFrom("fresh_start", "fresh_start_known", "theme", "x");
const oddHeader: fc.Arbitrary<Record<string, string>> = fc.oneof(
  { weight: 8, arbitrary: fc.constant({}) },
  {
    weight: 1,
    arbitrary: fc
      .tuple(cookieName, fc.constantFrom("", "%", "%E0%A4%A", "Fe26.2*1*", "a".repeat(3000), '"', "{}"))
      .map(([name, text]) => ({ cookie: `${name}=${text}` })),
  },
  {
    weight: 1,
    arbitrary: fc.constantFrom<Record<string, string>>(
      { rsc: "1" },
      { rsc: "1", "next-router-state-tree": "%5Bnone" },
      { "next-action": "0".repeat(42) },
      { "next-action": "x" },
      { "next-router-prefetch": "1" },
      { range: "bytes=5-1" },
      { "last-event-id": "-5" },
      { "last-event-id": "x".repeat(500) },
      { "content-type": "multipart/form-data; boundary=x" },
      { "content-type": "text/plain" },
      { "x-forwarded-for": "evil" },
      { "x-forwarded-proto": "gopher" },
      { "x-middleware-subrequest": "src/proxy:src/proxy" },
      { "x-nonce": "x" },
      { accept: "application/json" },
    ),
  },
);

export const requestOf = (routes: readonly string[]): fc.Arbitrary<DrawnRequest> =>
  fc
    .record({
      who: fc.constantFrom<Who>("nobody", "observer", "technician", "lead", "lead"),
      method: fc.constantFrom("GET", "GET", "GET", "HEAD", "POST", "POST", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"),
      route: fc.constantFrom(...routes),
      parts: fc.array(inPath, { minLength: 4, maxLength: 4 }),
      query: fc.array(
        fc.tuple(
          fc.oneof(
            field,
            fc.constantFrom(
              "q",
              "page",
              "sort",
              "left",
              "right",
              "release",
              "aircraft",
              "set",
              "form",
              "format",
              "only",
              "see",
              "entry",
              "left",
              "right",
            ),
          ),
          word,
        ),
        { maxLength: 4 },
      ),
      rest: fc.constantFrom("", "", "", "", "/", "/x", "//", "?", "#", "/%2e%2e/", "?_rsc=1"),
      headers: oddHeader,
      body,
      foreign: fc.integer({ min: 0, max: 9 }).map((n) => n === 0),
    })
    .map(({ who, method: drawnMethod, route, parts, query, rest, headers, body: bytes, foreign }) => {
      let i = 0;
      const filled = route.replace(/\[[^\]]+\]/g, () => parts[i++ % parts.length] ?? "1");
      const asked = new URLSearchParams(query.map(([name, text]) => [name, text.toWellFormed()])).toString();
      // pages are only read: that they take nothing else need not be tried each time
      const method = route.startsWith("/api") || foreign ? drawnMethod : "GET";
      const withBody = method !== "GET" && method !== "HEAD" && method !== "OPTIONS";
      return {
        who,
        method,
        path: filled + rest + (asked === "" || rest.includes("?") || rest.includes("#") ? "" : `?${asked}`),
        headers: { ...headers, ...(foreign ? { origin: "http://elsewhere.test" } : {}) },
        body: withBody ? new Uint8Array(bytes) : undefined,
      };
    });
