import { ValidationError, type Schema } from "yup";
import { trimmed } from "@/contracts/shapes";
import { ProblemError, type Problem } from "@/core/problem";
import { serverProblem } from "@/server/away";
import { publicUrl } from "@/server/env";
import { isOwnOrigin } from "@/server/web/door";
import type { Session, SignedIn } from "@/server/sessions";
import { requireRole, requireSession } from "@/server/web/session";
import type { Role } from "@/server/roles";

const STATUS: Readonly<Record<string, number>> = {
  "signed-out": 401,
  "sign-in-refused": 401,
  "code-wanted": 401,
  "role-refused": 403,
  "request-forged": 403,
  "password-temporary": 403,
  "sign-in-throttled": 429,
  "sign-in-toll": 429,
  "streams-many": 429,
  "readers-busy": 503,
  "request-size": 413,
  "backup-none": 404,
  "aircraft-none": 404,
  "job-none": 404,
  "account-none": 404,
  "bay-taken": 409,
  "too-late": 409,
  internal: 500,
  "database-away": 503,
  // RFC 4918, 11.5
  "disk-full": 507,
  "database-busy": 503,
};
/** Their details are for the log, not for the wire. */
const INSIDE = ["internal", "database-away", "disk-full"];

/** A refusal as it goes out; `beside`: what comes along with it. */
export function problemResponse(error: unknown, beside: object = {}): Response {
  const problem: Problem =
    error instanceof ValidationError
      ? {
          code: "request-shape",
          message: "The request is not as it should be",
          detail: error.errors.join("; "),
          where: { path: error.path ?? "" },
        }
      : serverProblem(error);
  const isInside = INSIDE.includes(problem.code);
  if (isInside) console.error(error);
  const shown = isInside
    ? { code: problem.code, message: problem.message, ...(problem.hint === undefined ? {} : { hint: problem.hint }) }
    : problem;
  return Response.json({ ...beside, problem: shown }, { status: STATUS[problem.code] ?? 422 });
}

/**
 * Refuses requests that a foreign page sent with this browser's cookie: the origin must be this host's own. A browser
 * always sends Origin with a POST.
 */
export function refuseForged(request: Request): void {
  const origin = request.headers.get("origin");
  const site = request.headers.get("sec-fetch-site");
  const host = request.headers.get("host");
  const own = isOwnOrigin(origin ?? undefined, host ?? undefined, { publicUrl: publicUrl() });
  if (!own || (site !== null && site !== "same-origin"))
    throw new ProblemError({
      code: "request-forged",
      message: "The request does not come from this application",
      hint: "Open Fresh Start itself and try again",
    });
}

/** The body, read up to a limit. A sender that announces more, or sends more, is cut off. */
export async function readBytes(request: Request, limitBytes: number): Promise<Uint8Array> {
  const tooLarge = new ProblemError({
    code: "request-size",
    message: "The file is too large",
    detail: `The limit is ${Math.round(limitBytes / 1_000_000)} MB`,
  });
  if (Number(request.headers.get("content-length") ?? 0) > limitBytes) throw tooLarge;
  const reader = request.body?.getReader();
  const parts: Uint8Array[] = [];
  let size = 0;
  for (let part = await reader?.read(); part && !part.done; part = await reader?.read()) {
    size += part.value.length;
    if (size > limitBytes) {
      await reader?.cancel();
      throw tooLarge;
    }
    parts.push(part.value);
  }
  return new Uint8Array(Buffer.concat(parts));
}

const JSON_LIMIT_BYTES = 200_000;

/** No field of ours is called like what every object has: taken for that, it would be nobody's fault but ours. */
function refuseInherited(this: unknown, key: string, value: unknown): unknown {
  if (!Array.isArray(this) && key in Object.prototype) throw new SyntaxError(key);
  return value;
}

export async function readJson(request: Request, limitBytes = JSON_LIMIT_BYTES): Promise<unknown> {
  const text = new TextDecoder().decode(await readBytes(request, limitBytes));
  try {
    return text === "" ? {} : (JSON.parse(text, refuseInherited) as unknown);
  } catch {
    throw new ProblemError({ code: "request-shape", message: "The request is not JSON" });
  }
}

/** A handler for changes: own origin, role, shape, then the work; every failure is a problem. */
export async function handleJson<T>(
  request: Request,
  role: Role,
  schema: Schema<T> | ((value: unknown) => T),
  work: (body: T, account: SignedIn) => Promise<unknown>,
): Promise<Response> {
  try {
    refuseForged(request);
    const account = await requireRole(role);
    const json = await readJson(request);
    const body = typeof schema === "function" ? schema(json) : await schema.validate(json, { stripUnknown: true });
    return Response.json((await work(body, account)) ?? {});
  } catch (error) {
    return problemResponse(error);
  }
}

/** A handler for what only has to be read. */
export async function handleGet(
  role: Role,
  work: (account: SignedIn) => Promise<Response | object>,
): Promise<Response> {
  try {
    const given = await work(await requireRole(role));
    return given instanceof Response ? given : Response.json(given);
  } catch (error) {
    return problemResponse(error);
  }
}

/** The same for changes to one's own account, which are possible before a given password was replaced and a second factor set up. */
export async function handleOwn<T>(
  request: Request,
  schema: Schema<T>,
  work: (body: T, session: Session) => Promise<unknown>,
): Promise<Response> {
  try {
    refuseForged(request);
    const session = await requireSession("observer", { fresh: true });
    const body = await schema.validate(await readJson(request, 2_000), { stripUnknown: true });
    return Response.json((await work(body, session)) ?? {});
  } catch (error) {
    return problemResponse(error);
  }
}

/** What stands behind the question mark. Names that every object has are nobody's of ours. */
const queryOf = (request: Request): Record<string, string> =>
  Object.fromEntries([...new URL(request.url).searchParams].filter(([name]) => !(name in Object.prototype)));

/** The same for a file in the body, with its particulars in the query. */
export async function handleFile<T>(
  request: Request,
  role: Role,
  limitBytes: number,
  schema: Schema<T>,
  work: (file: Uint8Array, query: T, account: SignedIn) => Promise<unknown>,
): Promise<Response> {
  try {
    refuseForged(request);
    const account = await requireRole(role);
    const query = await schema.validate(queryOf(request), { stripUnknown: true });
    return Response.json((await work(await readBytes(request, limitBytes), query, account)) ?? {});
  } catch (error) {
    return problemResponse(error);
  }
}

const LETTERS = trimmed().max(80).default("");

/** The door for searching as one types: `q` holds the letters, the answer what fits. */
export async function handleSearch(
  request: Request,
  work: (query: string) => Promise<readonly object[]>,
): Promise<Response> {
  try {
    await requireRole("observer");
    const query = await LETTERS.validate(new URL(request.url).searchParams.get("q") ?? "");
    return Response.json({ things: await work(query) });
  } catch (error) {
    return problemResponse(error);
  }
}
