import type { Told } from "@/contracts/answers/live";
import { openStream } from "@/server/web/stream";
import { addAccount } from "@/server/accounts";
import { beginSession, sessionOf } from "@/server/sessions";
import { closeDb } from "@/server/db";
import { ensureBench, takeFence, writeLive } from "@/server/repositories/bench";
import { addAircraft } from "@/server/repositories/fleet";
import { appendEntry, lastNos } from "@/server/repositories/journal";
import { one } from "@/server/sql";
import { handleFile, handleJson, problemResponse, readBytes, refuseForged } from "@/server/web/handle";
import { object, string, ValidationError } from "yup";
import { freshDatabase } from "../support/database";

let benchId = 0;
let fence = "";
let jobId = 0;
let session = "";

beforeAll(async () => {
  await freshDatabase("stream");
  benchId = await ensureBench();
  fence = await takeFence(benchId);
  const aircraftId = await addAircraft({ tag: "QW-77", label: "", type: "Sedge" });
  const row = await one<{ id: number }>(
    "insert into jobs (bench_id, bay_no, aircraft_id, chip_id, goal, steps, ordered_by) values ($1, 6, $2, 'x', '{}', '[]', 'technician') returning id",
    [benchId, aircraftId],
  );
  jobId = row?.id ?? 0;
  const { id } = await addAccount({ name: "lead", person: "", role: "lead" });
  const token = await beginSession(id, { address: "127.0.0.1", browser: "a test", device: "" });
  session = (await sessionOf(token))?.id ?? "";
}, 60_000);

afterAll(async () => {
  process.emit("SIGTERM");
  await new Promise((resolve) => setTimeout(resolve, 100));
  await closeDb();
});

const note = (text: string) =>
  appendEntry({ benchId, fence, jobId, bayNo: 6, account: null, entry: { kind: "noted", step: "flash", text } });

/** Reads an event stream until a told thing fits, with a limit. */
async function listen(lastId?: string) {
  const stop = new AbortController();
  const headers = new Headers(lastId === undefined ? {} : { "last-event-id": lastId });
  const request = new Request("http://127.0.0.1/api/events", { headers, signal: stop.signal });
  const response = await openStream(request, session);
  const reader = response.body?.getReader();
  const decoder = new TextDecoder();
  let buffer = "";
  const heard: { id: string | undefined; told: Told }[] = [];
  const next = async (fits: (told: Told) => boolean): Promise<{ id: string | undefined; told: Told }> => {
    const end = Date.now() + 5000;
    for (;;) {
      const found = heard.findIndex(({ told }) => fits(told));
      if (found >= 0) return heard.splice(0, found + 1).at(-1) ?? Promise.reject(new Error("gone"));
      if (Date.now() > end) throw new Error(`not heard: ${JSON.stringify(heard).slice(0, 300)}`);
      const part = await reader?.read();
      if (!part || part.done) throw new Error("the stream ended");
      buffer += decoder.decode(part.value, { stream: true });
      for (let cut = buffer.indexOf("\n\n"); cut >= 0; cut = buffer.indexOf("\n\n")) {
        const lines = buffer.slice(0, cut).split("\n");
        buffer = buffer.slice(cut + 2);
        const data = lines.find((l) => l.startsWith("data: "))?.slice(6);
        const id = lines.find((l) => l.startsWith("id: "))?.slice(4);
        if (data !== undefined) heard.push({ id, told: JSON.parse(data) as Told });
      }
    }
  };
  return { next, stop: () => stop.abort(), type: response.headers.get("content-type") };
}

describe("the event stream", () => {
  it("begins with the strip, then tells bays and lines of the journal as they come", async () => {
    const stream = await listen();
    expect(stream.type).toContain("text/event-stream");
    const first = await stream.next((told) => told.kind === "strip");
    expect(first.told.kind === "strip" && first.told.bays).toHaveLength(6);
    await writeLive(benchId, fence, 5, { mark: "look", say: "Shows only its loader" });
    const bay = await stream.next((told) => told.kind === "bay" && told.bay.no === 5);
    expect(bay.told).toMatchObject({ bay: { live: { say: "Shows only its loader" } } });
    const entered = await note("one");
    const line = await stream.next((told) => told.kind === "journal");
    expect(line.id).toBe(`${benchId}:${entered.no}`);
    stream.stop();
  });

  it("a browser that comes back gets what it missed, in order, and nothing twice", async () => {
    const before = (await lastNos()).get(benchId) ?? 0;
    for (const text of ["a", "b", "c"]) await note(text);
    const stream = await listen(`${benchId}:${before}`);
    const missed = await stream.next((told) => told.kind === "journal");
    expect(missed.told.kind === "journal" && missed.told.entries.map((e) => e.no)).toEqual([
      before + 1,
      before + 2,
      before + 3,
    ]);
    await note("d");
    const next = await stream.next((told) => told.kind === "journal");
    expect(next.told.kind === "journal" && next.told.entries.map((e) => e.no)).toEqual([before + 4]);
    stream.stop();
  });
});

describe("a mark that is ahead of the record, or of benches that are not there", () => {
  it("keeps nothing from being told", async () => {
    for (const mark of [`${benchId}:999999999999999`, "77:5,78:6", "not a mark"]) {
      const stream = await listen(mark);
      await stream.next((told) => told.kind === "strip");
      const entered = await note(mark);
      const line = await stream.next((told) => told.kind === "journal");
      expect([mark, line.id]).toEqual([mark, `${benchId}:${entered.no}`]);
      stream.stop();
    }
  });
});

describe("the door for changes", () => {
  const request = (headers: Record<string, string>, body: BodyInit = "{}") =>
    new Request("http://host.test/api/x", { method: "POST", headers, body });
  const forged = (headers: Record<string, string>) => {
    try {
      refuseForged(request(headers));
      return false;
    } catch {
      return true;
    }
  };
  const codeOf = async (response: Response) => ((await response.json()) as { problem: { code: string } }).problem.code;

  it("takes only what its own pages send", () => {
    expect(forged({ host: "host.test", origin: "http://host.test" })).toBe(false);
    expect(forged({ host: "host.test", origin: "http://host.test", "sec-fetch-site": "same-origin" })).toBe(false);
    expect(forged({ host: "host.test", origin: "http://host.test", "sec-fetch-site": "cross-site" })).toBe(true);
    expect(forged({ host: "host.test", origin: "http://other.test" })).toBe(true);
    expect(forged({ host: "host.test", origin: "null" })).toBe(true);
    expect(forged({ host: "host.test" })).toBe(true);
  });

  it("asks for the origin before anything else, in both forms", async () => {
    const shape = object({ name: string().required() });
    const never = () => Promise.reject(new Error("must not run"));
    expect(await codeOf(await handleJson(request({ host: "host.test" }), "observer", shape, never))).toBe(
      "request-forged",
    );
    expect(await codeOf(await handleFile(request({ host: "host.test" }), "observer", 10, shape, never))).toBe(
      "request-forged",
    );
  });

  it("stops reading at its limit, whatever the sender announces", async () => {
    await expect(readBytes(request({}, "x".repeat(100)), 50)).rejects.toThrow("too large");
    expect(await readBytes(request({}, "x".repeat(50)), 50)).toHaveLength(50);
    await expect(readBytes(request({ "content-length": "9999" }, "x"), 50)).rejects.toThrow("too large");
  });

  it("tells a wrong shape with its place, and keeps its own faults to itself", async () => {
    expect(await codeOf(problemResponse(new ValidationError("bad", {}, "name")))).toBe("request-shape");
    const log = jest.spyOn(console, "error").mockImplementation(() => undefined);
    const response = problemResponse(new Error("password is hunter2"));
    log.mockRestore();
    expect(response.status).toBe(500);
    expect(await response.text()).not.toContain("hunter2");
  });
});
