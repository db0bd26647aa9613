import { DFU_STATE, DFU_STATUS } from "@/core/loader/dfu/protocol";
import {
  handleDfu,
  powerOnDfu,
  STATE,
  STATUS,
  type DeviceState,
  type DfuDevice,
  type DfuHardware,
} from "@/core/sim/loaders/dfu-device";

const TRANSFER = 64;

/** Appendix A.2 of the specification: what each state answers to each request, and where it goes. `e`: stall and error. */
const TABLE: Record<string, Partial<Record<string, DeviceState | "e" | "stall">>> = {
  appIdle: {
    detach: STATE.appDetach,
    getStatus: STATE.appIdle,
    getState: STATE.appIdle,
    download: "stall",
    upload: "stall",
    clearStatus: "stall",
    abort: "stall",
  },
  appDetach: { detach: "stall", getStatus: STATE.appDetach, getState: STATE.appDetach },
  idle: {
    detach: "e",
    download: STATE.downloadSync,
    upload: STATE.uploadIdle,
    getStatus: STATE.idle,
    clearStatus: "e",
    getState: STATE.idle,
    abort: STATE.idle,
  },
  downloadSync: {
    download: "e",
    upload: "e",
    getStatus: STATE.downloadIdle,
    clearStatus: "e",
    getState: STATE.downloadSync,
    abort: "e",
    detach: "e",
  },
  downloadBusy: {
    download: "e",
    upload: "e",
    getStatus: "e",
    clearStatus: "e",
    getState: "e",
    abort: "e",
    detach: "e",
  },
  downloadIdle: {
    download: STATE.downloadSync,
    upload: "e",
    getStatus: STATE.downloadIdle,
    clearStatus: "e",
    getState: STATE.downloadIdle,
    abort: STATE.idle,
    detach: "e",
  },
  manifestSync: {
    download: "e",
    upload: "e",
    getStatus: STATE.idle,
    clearStatus: "e",
    getState: STATE.manifestSync,
    abort: "e",
    detach: "e",
  },
  manifest: { download: "e", upload: "e", getStatus: "e", clearStatus: "e", getState: "e", abort: "e", detach: "e" },
  manifestWaitReset: {
    download: "stall",
    upload: "stall",
    getStatus: "stall",
    clearStatus: "stall",
    abort: "stall",
    detach: "stall",
  },
  uploadIdle: {
    download: "e",
    upload: STATE.uploadIdle,
    getStatus: STATE.uploadIdle,
    clearStatus: "e",
    getState: STATE.uploadIdle,
    abort: STATE.idle,
    detach: "e",
  },
  error: {
    download: "stall",
    upload: "stall",
    getStatus: STATE.error,
    clearStatus: STATE.idle,
    getState: STATE.error,
    abort: "stall",
    detach: "stall",
  },
};
const CODES: Record<string, number> = {
  detach: 0,
  download: 1,
  upload: 2,
  getStatus: 3,
  clearStatus: 4,
  getState: 5,
  abort: 6,
};

describe("the device machine: every state and request", () => {
  const hardware: DfuHardware = {
    alternates: [{ lengthBytes: 4096 }],
    transferSizeBytes: TRANSFER,
    canUpload: true,
    manifestUs: 1000,
    manifestationTolerant: true,
    read: (_a, _o, length) => new Uint8Array(length),
    write: () => ({ us: 1000 }),
  };
  it.each(
    Object.entries(TABLE).flatMap(([state, row]) =>
      Object.entries(row).map(([request, to]) => [state, request, to] as const),
    ),
  )("%s, %s", (state, request, to) => {
    const busy = state === "downloadBusy" || state === "manifest";
    const before: DfuDevice = { ...powerOnDfu(STATE[state as keyof typeof STATE]), busyUntilUs: busy ? 5000 : 0 };
    const direction = ["upload", "getStatus", "getState"].includes(request) ? "in" : "out";
    const [after, reply] = handleDfu(
      before,
      {
        request: CODES[request] ?? 0,
        direction,
        value: 0,
        length: TRANSFER,
        data: new Uint8Array(request === "download" ? 8 : 0),
      },
      hardware,
      1000,
    );
    if (to === "e")
      expect([after.state, after.status, reply.kind]).toEqual([STATE.error, STATUS.stalledPacket, "stall"]);
    else if (to === "stall") expect(reply.kind).toBe("stall");
    else expect([after.state, reply.kind]).toEqual([to, "done"]);
  });

  it("the numbers of both sides agree with each other", () => {
    expect(Object.values(STATE)).toEqual(Object.values(DFU_STATE));
    expect(Object.keys(STATUS)).toHaveLength(DFU_STATUS.length);
  });

  it("a download longer than the segment is an address error", () => {
    const full: DfuDevice = { ...powerOnDfu(STATE.downloadIdle), offset: 4096 };
    expect(
      handleDfu(full, { request: 1, direction: "out", value: 0, data: new Uint8Array(8) }, hardware, 0)[0].status,
    ).toBe(STATUS.address);
  });
});
