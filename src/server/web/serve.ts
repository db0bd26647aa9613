import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { parseArgs } from "node:util";
import next from "next";
import { actAs } from "@/server/db";
import { publicUrl, trustedProxies } from "@/server/env";
import { ADDRESS_HEADER, addressOf, doorAt, hostOf, isOwnOrigin, isRouterState } from "@/server/web/door";

const { values } = parseArgs({
  options: { port: { type: "string" }, host: { type: "string" }, dev: { type: "boolean", default: false } },
});
const port = Number(values.port);
const host = values.host ?? "127.0.0.1";
const door = doorAt(host, trustedProxies(), publicUrl());

/** Longest time for a request to come in whole, in ms; its head alone. Answers may take as long as they like. */
const REQUEST_MS = 120_000;
const HEAD_MS = 15_000;
const MOST_CONNECTIONS = 2_000;
const METHODS = new Set(["GET", "HEAD", "POST", "PUT", "PATCH", "DELETE"]);

function refuse(response: ServerResponse, status: number, code: string, message: string): void {
  response.writeHead(status, { "Content-Type": "application/json; charset=utf-8", "Cache-Control": "no-store" });
  response.end(JSON.stringify({ problem: { code, message } }));
}

/** Whether a path can be read at all: percent signs stand before two hexadecimal digits that make characters (RFC 3986, 2.1). */
function isReadable(path: string): boolean {
  try {
    decodeURIComponent(path);
    return true;
  } catch {
    return false;
  }
}

type Refusal = readonly [status: number, code: string, message: string];

const wrong = (status: number): Refusal => [status, "request-shape", "The request is not as it should be"];

/** What a request is refused for before anything of the workshop sees it; undefined: nothing. */
function refusalOf({ headers, method = "", url = "/" }: IncomingMessage): Refusal | undefined {
  const named = hostOf(headers.host);
  if (named === undefined || !door.hosts.has(named))
    return [421, "host-unknown", "This workshop does not go by that name (--public tells it one)"];
  if (!METHODS.has(method)) return [405, "method-unknown", "This is not asked of a workshop"];
  if (!isReadable(url.split("?", 1)[0] ?? "")) return [400, "request-shape", "The address cannot be read"];
  const tree = headers["next-router-state-tree"];
  if (tree !== undefined && !isRouterState([tree].flat().join())) return wrong(400);
  // nothing here takes forms
  if (headers["content-type"]?.startsWith("multipart/") === true) return wrong(415);
  // nothing beneath /api is an action of a page
  if (url.startsWith("/api/")) delete headers["next-action"];
  if (url.startsWith("/api/") || method === "GET" || method === "HEAD") return undefined;
  // a page takes nothing but its own actions, whose arguments come as text
  if (method !== "POST" || !/^[0-9a-f]{40,80}$/.test(String(headers["next-action"] ?? "")))
    return [405, "method-unknown", "Pages are only read"];
  if (headers["content-type"]?.startsWith("text/plain") !== true) return wrong(415);
  return isOwnOrigin(headers.origin, headers.host, door) ? undefined : wrong(403);
}

/** What is not for this workshop goes no further; what is, says where it comes from. */
function admit(request: IncomingMessage, response: ServerResponse): boolean {
  const refusal = refusalOf(request);
  if (refusal) {
    refuse(response, ...refusal);
    return false;
  }
  request.headers[ADDRESS_HEADER] = addressOf(
    request.socket.remoteAddress,
    [request.headers["x-forwarded-for"] ?? []].flat().join(","),
    door,
  );
  // the scheme and host are this server's own business, whatever the request says of them
  for (const name of ["x-forwarded-host", "x-forwarded-proto", "x-forwarded-port", "forwarded"])
    Reflect.deleteProperty(request.headers, name);
  return true;
}

async function main() {
  actAs("web");
  const app = next({ dev: values.dev, hostname: host, port });
  const answer = app.getRequestHandler();
  const server = createServer({ requestTimeout: REQUEST_MS, headersTimeout: HEAD_MS }, (request, response) => {
    if (!admit(request, response)) return;
    answer(request, response).catch((error: unknown) => {
      console.error(error);
      if (!response.headersSent) refuse(response, 500, "internal", "Something unexpected went wrong");
      else response.destroy();
    });
  });
  server.maxConnections = MOST_CONNECTIONS;
  await app.prepare();
  server.listen(port, host);
  const end = () => {
    server.close(() => process.exit(0));
    server.closeIdleConnections();
    setTimeout(() => process.exit(0), 5_000).unref();
  };
  process.on("SIGTERM", end);
  process.on("SIGINT", end);
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
