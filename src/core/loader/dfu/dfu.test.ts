import fc from "fast-check";
import { DFU_STATUS } from "@/core/loader/dfu/protocol";
import { loaderOf, processorOf } from "@/core/catalog";
import { DFU, runTransfer } from "@/core/loader/dfu/open";
import type { UsbPort } from "@/core/loader/transports";
import { runFlash } from "@/core/loader/run-flash";
import { bytesRead, type Transfer } from "@/core/loader/dfu/transfer";
import { stepFlash, startFlash, workOf, type FlashPart } from "@/core/loader/flash";
import {
  handleDfu,
  powerOnDfu,
  STATE,
  STATUS,
  type DeviceState,
  type DfuDevice,
  type DfuHardware,
} from "@/core/sim/loaders/dfu-device";
import { catalogue } from "../../../../tests/support/workshop";

const TRANSFER = 64;
const PROCESSOR = processorOf(catalogue(), "Nettle 20");
const SEGMENT = 256;

/** Two segments of memory behind the device machine, in virtual time; every n-th request may be made to stall. */
function bench(options: { canUpload?: boolean; failWrite?: number; tolerant?: boolean } = {}) {
  const memory = [new Uint8Array(SEGMENT).fill(0xff), new Uint8Array(SEGMENT).fill(0xff)];
  let now = 0;
  let device: DfuDevice = powerOnDfu();
  const hardware: DfuHardware = {
    alternates: [{ lengthBytes: SEGMENT }, { lengthBytes: SEGMENT }],
    transferSizeBytes: TRANSFER,
    canUpload: options.canUpload ?? true,
    manifestUs: 3000,
    manifestationTolerant: options.tolerant ?? true,
    read: (alternate, offset, length) => (memory[alternate] ?? new Uint8Array()).slice(offset, offset + length),
    write: (alternate, offset, data) => {
      if (options.failWrite !== undefined) return { status: options.failWrite };
      if (offset === 0) memory[alternate]?.fill(0xff);
      memory[alternate]?.set(data, offset);
      return { us: 2500 };
    },
  };
  const requests: number[] = [];
  const port: UsbPort = {
    reset: () => Promise.resolve(),
    nowUs: () => now,
    wait: (ms) => {
      now += ms * 1000;
      return Promise.resolve();
    },
    control: (request) => {
      now += 100;
      requests.push(request.request);
      const [next, reply] = handleDfu(device, request, hardware, now);
      device = next;
      return Promise.resolve(reply);
    },
  };
  return {
    memory,
    port,
    requests,
    state: () => device.state,
    force: (state: DeviceState) => (device = { ...device, state }),
  };
}

/** The loader on such a bench; its parts are named by hand here. */
function loaderOn(port: UsbPort) {
  const settings = loaderOf(PROCESSOR, "usb");
  if (!settings) throw new Error("no loader on USB");
  return DFU.open(
    port,
    {
      transport: "usb",
      vendorId: 1,
      productId: 2,
      serial: "x",
      alternates: [],
      transferSizeBytes: TRANSFER,
      canUpload: true,
    },
    PROCESSOR,
    settings,
  );
}

describe("the client of DFU 1.1 against the device machine", () => {
  it("writes any bytes and reads them back, whatever they are", async () => {
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ minLength: 1, maxLength: SEGMENT }), async (bytes) => {
        const { port, memory, state } = bench();
        const written = await runTransfer(port, { kind: "write", alternate: 1, bytes }, TRANSFER);
        expect(written.phase).toBe("done");
        expect([...(memory[1] ?? [])].slice(0, bytes.length)).toEqual([...bytes]);
        const read = await runTransfer(port, { kind: "read", alternate: 1, lengthBytes: SEGMENT }, TRANSFER);
        expect([...bytesRead(read)].slice(0, bytes.length)).toEqual([...bytes]);
        expect(state()).toBe(STATE.idle);
      }),
    );
  });

  it("finds its way to idle from whatever state another client left behind", async () => {
    for (const left of [STATE.downloadIdle, STATE.uploadIdle, STATE.error, STATE.downloadSync, STATE.manifestSync]) {
      const { port, force } = bench();
      force(left);
      const read = await runTransfer(port, { kind: "read", alternate: 0, lengthBytes: SEGMENT }, TRANSFER);
      expect({ left, phase: read.phase }).toEqual({ left, phase: "done" });
    }
  });

  it("a comparison stops at the first block that differs", async () => {
    const { port, memory, requests } = bench();
    if (memory[0]) memory[0][3] = 0;
    const read = await runTransfer(
      port,
      { kind: "read", alternate: 0, lengthBytes: SEGMENT, expect: new Uint8Array(SEGMENT).fill(0xff) },
      TRANSFER,
    );
    expect(read.equal).toBe(false);
    expect(requests.filter((r) => r === 2)).toHaveLength(1);
  });

  it("every status code that a write can end with becomes a problem that names it", async () => {
    for (const status of Object.values(STATUS).filter((s) => s !== STATUS.ok)) {
      const { port } = bench({ failWrite: status });
      const written = await runTransfer(port, { kind: "write", alternate: 0, bytes: new Uint8Array(10) }, TRANSFER);
      expect(written.problem?.detail).toContain(DFU_STATUS[status][0]);
    }
  });

  it("case C61: a loader without upload says so instead of giving bytes", async () => {
    const { port } = bench({ canUpload: false });
    const read = await runTransfer(port, { kind: "read", alternate: 0, lengthBytes: SEGMENT }, TRANSFER);
    expect(read.problem?.code).toBe("loader-error");
  });

  it("whatever a loader answers, however often, each transfer ends within its limits of requests and waits", async () => {
    const states = Array.from({ length: 12 }, (_, i) => i);
    const statuses = [0, 1, 5, 14, 15, 200];
    const answers = [
      ...states.flatMap((state) => statuses.map((status) => [status, 0, 0, 0, state, 0])),
      ...states.map((state) => [0, 0xff, 0xff, 0xff, state, 0]),
      ...states.map((state) => [0, 200, 0, 0, state, 0]),
    ];
    const replies = [
      ...answers.map((bytes) => ({ kind: "done" as const, data: Uint8Array.from(bytes) })),
      { kind: "stall" as const },
      { kind: "done" as const, data: new Uint8Array() },
      { kind: "done" as const, data: new Uint8Array(TRANSFER) },
      { kind: "done" as const, data: new Uint8Array(3) },
    ];
    const transfers: Transfer[] = [
      { kind: "write", alternate: 0, bytes: new Uint8Array(SEGMENT) },
      { kind: "read", alternate: 0, lengthBytes: SEGMENT },
      { kind: "read", alternate: 0, lengthBytes: SEGMENT, expect: new Uint8Array(SEGMENT) },
    ];
    const endless = async (reply: () => (typeof replies)[number], transfer: Transfer) => {
      let requests = 0;
      let waitedMs = 0;
      const port: UsbPort = {
        reset: () => Promise.resolve(),
        nowUs: () => 0,
        wait: (ms) => {
          waitedMs += ms;
          return Promise.resolve();
        },
        control: () => {
          if (++requests > 5_000) throw new Error("it asks for ever");
          return Promise.resolve(reply());
        },
      };
      const { phase } = await runTransfer(port, transfer, TRANSFER);
      expect(["done", "failed"]).toContain(phase);
      expect(waitedMs).toBeLessThanOrEqual(8 * (SEGMENT / TRANSFER + 2) * 30_000);
      return phase;
    };
    for (const transfer of transfers)
      for (const reply of replies) {
        const phase = await endless(() => reply, transfer);
        // nothing that a loader says all the time can be taken for a written segment
        if (transfer.kind === "write") expect([reply, phase]).toEqual([reply, "failed"]);
      }
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...transfers),
        fc.array(fc.constantFrom(...replies), { minLength: 1, maxLength: 12 }),
        async (transfer, said) => {
          let at = 0;
          await endless(() => said[at++ % said.length] ?? { kind: "stall" }, transfer);
        },
      ),
      { numRuns: 400 },
    );
  });

  it("blocks carry their numbers (sections 6.1.1, 6.2.1): the device takes no other", async () => {
    const { port, memory } = bench();
    const numbers: number[] = [];
    const counted: UsbPort = {
      ...port,
      control: (request) => {
        if (request.request === 1 && (request.data?.length ?? 0) > 0) numbers.push(request.value);
        return port.control(request);
      },
    };
    const written = await runTransfer(
      counted,
      { kind: "write", alternate: 0, bytes: new Uint8Array(SEGMENT) },
      TRANSFER,
    );
    expect([written.phase, numbers]).toEqual(["done", [0, 1, 2, 3]]);
    const deaf: UsbPort = {
      ...port,
      control: (request) => port.control({ ...request, value: request.request === 11 ? request.value : 0 }),
    };
    for (const kind of ["write", "read"] as const) {
      const transfer: Transfer =
        kind === "write"
          ? { kind, alternate: 1, bytes: new Uint8Array(SEGMENT).fill(9) }
          : { kind, alternate: 1, lengthBytes: SEGMENT };
      expect((await runTransfer(deaf, transfer, TRANSFER)).phase).toBe("failed");
    }
    expect(memory[1]?.[TRANSFER]).toBe(0xff);
  });

  it("a report that fails in the middle ends the flash with its error, and leaves no promise behind", async () => {
    const { port } = bench();
    const part = {
      space: { no: 0, use: "application" as const, start: 0, lengthBytes: SEGMENT },
      bytes: new Uint8Array(SEGMENT),
      boot: true,
    };
    let reports = 0;
    const loose: unknown[] = [];
    const note = (error: unknown) => loose.push(error);
    process.on("unhandledRejection", note);
    await expect(
      runFlash(loaderOn(port), [part], () =>
        ++reports === 3 ? Promise.reject(new Error("the store is gone")) : Promise.resolve(),
      ),
    ).rejects.toThrow("the store is gone");
    await new Promise((resolve) => setImmediate(resolve));
    process.off("unhandledRejection", note);
    expect(loose).toEqual([]);
  });

  it("a loader that wants a reset after a segment ends as a problem, not as a wait", async () => {
    const { port } = bench({ tolerant: false });
    const written = await runTransfer(port, { kind: "write", alternate: 0, bytes: new Uint8Array(10) }, TRANSFER);
    expect(written.problem?.code).toBe("loader-reset");
  });
});

describe("the order of a flash", () => {
  const part = (alternate: number, fill: number, boot: boolean): FlashPart => ({
    space: { no: alternate, use: "application" as const, start: 0x1000 + alternate * SEGMENT, lengthBytes: SEGMENT },
    bytes: new Uint8Array(SEGMENT).fill(fill),
    boot,
  });

  it("disarms before anything else is written, arms last, and leaves equal segments alone", async () => {
    const { port, memory } = bench();
    memory[1]?.fill(7);
    const result = await runFlash(loaderOn(port), [part(0, 9, true), part(1, 7, false)]);
    expect(result.ok && result.value.cells).toEqual(["checked", "equal"]);
    expect(memory[0]?.[0]).toBe(9);
    const kinds: string[] = [];
    let state = startFlash([part(0, 9, true), part(1, 8, false)]);
    for (let t = workOf(state, TRANSFER); t; t = workOf(state, TRANSFER)) {
      kinds.push(`${state.phase} ${t.space.no}`);
      state = stepFlash(state, { equal: state.phase === "check", head: new Uint8Array([1]) });
    }
    expect(kinds).toEqual(["compare 0", "compare 1", "disarm 0", "write 1", "check 1", "write 0", "check 0"]);
  });

  it("tells how many bytes went through the cable, block by block, up to all of them", async () => {
    const { port, requests, memory } = bench();
    memory[0]?.fill(1);
    const told: string[] = [];
    const result = await runFlash(loaderOn(port), [part(0, 9, true), part(1, 8, false)], (report) => {
      told.push(`${report.state.phase} ${report.doneBytes}/${report.totalBytes}`);
    });
    expect(result.ok).toBe(true);
    const blocks = (phase: string, from: number) =>
      Array.from({ length: SEGMENT / TRANSFER }, (_, i) => `${phase} ${from + (i + 1) * TRANSFER}/${4 * SEGMENT}`);
    expect(
      told.filter((line) => line.startsWith("write") || line.startsWith("check") || line.startsWith("done")),
    ).toEqual([
      `write 0/${4 * SEGMENT}`,
      ...blocks("write", 0),
      `check ${SEGMENT}/${4 * SEGMENT}`,
      ...blocks("check", SEGMENT),
      `write ${2 * SEGMENT}/${4 * SEGMENT}`,
      ...blocks("write", 2 * SEGMENT),
      `check ${3 * SEGMENT}/${4 * SEGMENT}`,
      ...blocks("check", 3 * SEGMENT),
      `done ${4 * SEGMENT}/${4 * SEGMENT}`,
    ]);
    // one block makes the image unbootable, and each segment's end is told by an empty one
    expect(requests.filter((request) => request === 1)).toHaveLength(1 + 1 + 2 * (SEGMENT / TRANSFER + 1));
    // comparing stops at the first block that differs; checking asks for each block once
    expect(requests.filter((request) => request === 2)).toHaveLength(2 + 2 * (SEGMENT / TRANSFER));
  });

  it("a problem of a transfer is the problem of the flash", async () => {
    const { port } = bench({ failWrite: STATUS.program });
    const result = await runFlash(loaderOn(port), [part(0, 9, true)]);
    expect(!result.ok && result.problem).toMatchObject({ code: "loader-error" });
  });

  it("a segment that does not keep its bytes ends as a problem after three attempts", () => {
    let state = startFlash([part(0, 9, true)]);
    let writes = 0;
    for (let t = workOf(state, TRANSFER); t; t = workOf(state, TRANSFER)) {
      if (state.phase === "write") writes++;
      state = stepFlash(state, { equal: false, head: new Uint8Array([1]) });
    }
    expect([writes, state.problem?.code]).toEqual([3, "flash-verify"]);
    expect(state.problem?.detail).toBe(`3 attempts, ${SEGMENT} bytes at 0x1000`);
  });
});
