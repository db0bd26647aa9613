/**
 * The device side of DFU 1.1: the state machine of the specification's Appendix A, every state and request. Numbers are
 * given once more here on purpose: the simulated hardware shares no code with the client that it tests.
 */
export const STATE = {
  appIdle: 0,
  appDetach: 1,
  idle: 2,
  downloadSync: 3,
  downloadBusy: 4,
  downloadIdle: 5,
  manifestSync: 6,
  manifest: 7,
  manifestWaitReset: 8,
  uploadIdle: 9,
  error: 10,
} as const;
export type DeviceState = (typeof STATE)[keyof typeof STATE];
const REQUEST = {
  detach: 0,
  download: 1,
  upload: 2,
  getStatus: 3,
  clearStatus: 4,
  getState: 5,
  abort: 6,
  setInterface: 11,
} as const;
/** Data stage of each request, table 3.2: these are answered with data, the others carry theirs out, or none. */
const TOLD_BY_DEVICE: ReadonlySet<number> = new Set([REQUEST.upload, REQUEST.getStatus, REQUEST.getState]);
export const STATUS = {
  ok: 0x00,
  target: 0x01,
  file: 0x02,
  write: 0x03,
  erase: 0x04,
  checkErased: 0x05,
  program: 0x06,
  verify: 0x07,
  address: 0x08,
  notDone: 0x09,
  firmware: 0x0a,
  vendor: 0x0b,
  usbReset: 0x0c,
  powerOn: 0x0d,
  unknown: 0x0e,
  stalledPacket: 0x0f,
} as const;

export interface DfuDevice {
  readonly state: DeviceState;
  readonly status: number;
  readonly alternate: number;
  /** Where the running download or upload stands, from the start of the alternate setting. */
  readonly offset: number;
  readonly busyUntilUs: number;
  /** Number that the next block must carry (sections 6.1.1 and 6.2.1): they count from 0, modulo 65536. */
  readonly block: number;
  /** The last block was shorter than the others: only the end may follow. */
  readonly short: boolean;
}

/** What the device can do, and the memory behind its alternate settings. `write` gives the time it takes, or a status. */
export interface DfuHardware {
  readonly alternates: readonly { readonly lengthBytes: number }[];
  readonly transferSizeBytes: number;
  readonly canUpload: boolean;
  readonly manifestUs: number;
  readonly manifestationTolerant: boolean;
  read(alternate: number, offset: number, lengthBytes: number): Uint8Array;
  write(alternate: number, offset: number, data: Uint8Array): { us: number } | { status: number };
}

export interface DeviceRequest {
  readonly request: number;
  readonly direction: "in" | "out";
  readonly value: number;
  readonly data?: Uint8Array;
  readonly length?: number;
}
export type DeviceReply = { readonly kind: "done"; readonly data: Uint8Array } | { readonly kind: "stall" };
type Outcome = readonly [DfuDevice, DeviceReply];

export const powerOnDfu = (state: DeviceState = STATE.idle): DfuDevice => ({
  state,
  status: STATUS.ok,
  alternate: 0,
  offset: 0,
  busyUntilUs: 0,
  block: 0,
  short: false,
});

const done = (device: DfuDevice, data: Uint8Array = new Uint8Array()): Outcome => [device, { kind: "done", data }];
const stall = (device: DfuDevice, status: number = STATUS.stalledPacket): Outcome => [
  { ...device, state: STATE.error, status },
  { kind: "stall" },
];

function report(device: DfuDevice, nowUs: number): Uint8Array {
  const ms = Math.max(0, Math.ceil((device.busyUntilUs - nowUs) / 1000));
  return Uint8Array.of(device.status, ms & 0xff, (ms >> 8) & 0xff, (ms >> 16) & 0xff, device.state, 0);
}

/** States that time alone ends. */
function settle(device: DfuDevice, hardware: DfuHardware, nowUs: number): DfuDevice {
  if (nowUs < device.busyUntilUs) return device;
  if (device.state === STATE.downloadBusy) return { ...device, state: STATE.downloadSync };
  if (device.state === STATE.manifest)
    return { ...device, state: hardware.manifestationTolerant ? STATE.manifestSync : STATE.manifestWaitReset };
  return device;
}

/** One request of the class, or SET_INTERFACE, at a time in µs. Pure but for the memory behind `hardware`. */
export function handleDfu(before: DfuDevice, request: DeviceRequest, hardware: DfuHardware, nowUs: number): Outcome {
  const [device, reply] = handle(settle(before, hardware, nowUs), request, hardware, nowUs);
  // the host says how much it takes (USB 2.0, section 9.3.5)
  return [device, reply.kind === "stall" ? reply : { ...reply, data: reply.data.subarray(0, request.length ?? 0) }];
}

function handle(device: DfuDevice, request: DeviceRequest, hardware: DfuHardware, nowUs: number): Outcome {
  if ((request.direction === "in") !== TOLD_BY_DEVICE.has(request.request)) return [device, { kind: "stall" }];
  if (request.request === REQUEST.setInterface)
    return device.state === STATE.idle && request.value < hardware.alternates.length
      ? done({ ...device, alternate: request.value, offset: 0 })
      : [device, { kind: "stall" }];
  if (request.request === REQUEST.getState && device.state !== STATE.downloadBusy && device.state !== STATE.manifest)
    return done(device, Uint8Array.of(device.state));
  switch (device.state) {
    case STATE.appIdle:
      if (request.request === REQUEST.detach) return done({ ...device, state: STATE.appDetach });
      return request.request === REQUEST.getStatus ? done(device, report(device, nowUs)) : [device, { kind: "stall" }];
    case STATE.appDetach:
      return request.request === REQUEST.getStatus
        ? done(device, report(device, nowUs))
        : [{ ...device, state: STATE.appIdle }, { kind: "stall" }];
    case STATE.idle:
      return onIdle(device, request, hardware, nowUs);
    case STATE.downloadSync: {
      if (request.request !== REQUEST.getStatus) return stall(device);
      const next = { ...device, state: nowUs < device.busyUntilUs ? STATE.downloadBusy : STATE.downloadIdle };
      return done(next, report(next, nowUs));
    }
    case STATE.downloadIdle:
      return onDownloadIdle(device, request, hardware, nowUs);
    case STATE.manifestSync: {
      if (request.request !== REQUEST.getStatus) return stall(device);
      const next = { ...device, state: nowUs < device.busyUntilUs ? STATE.manifest : STATE.idle };
      return done(next, report(next, nowUs));
    }
    case STATE.uploadIdle:
      return onUploadIdle(device, request, hardware, nowUs);
    case STATE.error:
      if (request.request === REQUEST.getStatus) return done(device, report(device, nowUs));
      return request.request === REQUEST.clearStatus
        ? done({ ...powerOnDfu(), alternate: device.alternate })
        : [device, { kind: "stall" }];
    case STATE.downloadBusy:
    case STATE.manifest:
      return stall(device);
    case STATE.manifestWaitReset:
      return [device, { kind: "stall" }];
  }
}

function onIdle(device: DfuDevice, request: DeviceRequest, hardware: DfuHardware, nowUs: number): Outcome {
  switch (request.request) {
    case REQUEST.download:
      return (request.data?.length ?? 0) > 0
        ? download({ ...device, offset: 0, block: 0, short: false }, request, hardware, nowUs)
        : stall(device);
    case REQUEST.upload:
      return hardware.canUpload ? upload({ ...device, offset: 0, block: 0 }, request, hardware) : stall(device);
    case REQUEST.abort:
      return done(device);
    case REQUEST.getStatus:
      return done(device, report(device, nowUs));
    default:
      return stall(device);
  }
}

function onDownloadIdle(device: DfuDevice, request: DeviceRequest, hardware: DfuHardware, nowUs: number): Outcome {
  switch (request.request) {
    case REQUEST.download:
      if ((request.data?.length ?? 0) > 0) return download(device, request, hardware, nowUs);
      return done({ ...device, state: STATE.manifestSync, busyUntilUs: nowUs + hardware.manifestUs });
    case REQUEST.abort:
      return done({ ...device, state: STATE.idle, offset: 0 });
    case REQUEST.getStatus:
      return done(device, report(device, nowUs));
    default:
      return stall(device);
  }
}

function onUploadIdle(device: DfuDevice, request: DeviceRequest, hardware: DfuHardware, nowUs: number): Outcome {
  switch (request.request) {
    case REQUEST.upload:
      return upload(device, request, hardware);
    case REQUEST.abort:
      return done({ ...device, state: STATE.idle, offset: 0 });
    case REQUEST.getStatus:
      return done(device, report(device, nowUs));
    default:
      return stall(device);
  }
}

function download(device: DfuDevice, request: DeviceRequest, hardware: DfuHardware, nowUs: number): Outcome {
  const data = request.data ?? new Uint8Array();
  const space = hardware.alternates[device.alternate]?.lengthBytes ?? 0;
  if (data.length > hardware.transferSizeBytes || request.value !== device.block) return stall(device);
  if (device.short) return stall(device, STATUS.file);
  if (device.offset + data.length > space) return stall(device, STATUS.address);
  const written = hardware.write(device.alternate, device.offset, data);
  if ("status" in written) return done({ ...device, state: STATE.error, status: written.status });
  return done({
    ...device,
    state: STATE.downloadSync,
    offset: device.offset + data.length,
    block: (device.block + 1) & 0xffff,
    short: data.length < hardware.transferSizeBytes,
    busyUntilUs: nowUs + written.us,
  });
}

function upload(device: DfuDevice, request: DeviceRequest, hardware: DfuHardware): Outcome {
  if (request.value !== device.block) return stall(device);
  const space = hardware.alternates[device.alternate]?.lengthBytes ?? 0;
  const wanted = Math.min(request.length ?? 0, hardware.transferSizeBytes);
  const data = hardware.read(device.alternate, device.offset, Math.min(wanted, space - device.offset));
  const short = data.length < wanted;
  return done(
    {
      ...device,
      state: short ? STATE.idle : STATE.uploadIdle,
      offset: short ? 0 : device.offset + data.length,
      block: short ? 0 : (device.block + 1) & 0xffff,
    },
    data,
  );
}
