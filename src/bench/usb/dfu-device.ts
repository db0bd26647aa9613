import { SET_INTERFACE, type ControlReply, type ControlRequest, type UsbSeen, type UsbPort } from "@/core/loader";
import { ProblemError, refuse, ok, type Result } from "@/core/problem";
import type { WebUsbDevice } from "@/bench/usb/webusb";

/** An interface in DFU mode: application specific, firmware upgrade, protocol 2 (DFU 1.1, section 4.2.3, Table 4.4). */
const DFU_MODE = { interfaceClass: 0xfe, interfaceSubclass: 0x01, interfaceProtocol: 0x02 } as const;
/** USB 2.0, section 9.4.3 and Table 9-5. */
const GET_DESCRIPTOR = 6;
const CONFIGURATION = 2;
const CONFIGURATION_BYTES = 9;
/** DFU 1.1, section 4.1.3: the functional descriptor, and its attribute bit 1, bitCanUpload. */
const FUNCTIONAL = 0x21;
const FUNCTIONAL_LEAST_BYTES = 7;
const CAN_UPLOAD = 0x02;
/** A transfer that is not answered for so long will not be. */
const LIMIT_MS = 5_000;

/** A loader in DFU mode on a bus: what it shows of itself, and the way to it. */
export interface OpenDfu {
  readonly device: WebUsbDevice;
  readonly seen: UsbSeen;
  readonly port: UsbPort;
  /** It answered nothing any more. */
  gone(): boolean;
  close(): Promise<void>;
}

const lost = (why: string) =>
  new ProblemError({
    code: "link-lost",
    message: "The board has gone from its cable",
    detail: why,
    hint: "Plug it in again; the job goes on from where it stopped",
  });

async function within<T>(work: Promise<T>): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error(`no answer for ${LIMIT_MS / 1000} s`)), LIMIT_MS);
  });
  return Promise.race([work, late]).finally(() => clearTimeout(timer));
}

interface DfuInterface {
  readonly configuration: number;
  readonly no: number;
  /** Names of its alternate settings, in their order. */
  readonly alternates: readonly string[];
}

/** The interface of a device that is in DFU mode, if it has one. */
export function dfuInterfaceOf(device: WebUsbDevice): DfuInterface | undefined {
  for (const { configurationValue, interfaces } of device.configurations)
    for (const { interfaceNumber, alternates } of interfaces) {
      const first = alternates[0];
      if (!first || Object.entries(DFU_MODE).some(([name, value]) => first[name as keyof typeof DFU_MODE] !== value))
        continue;
      const sorted = alternates.toSorted((a, b) => a.alternateSetting - b.alternateSetting);
      return {
        configuration: configurationValue,
        no: interfaceNumber,
        alternates: sorted.map(({ interfaceName }) => interfaceName ?? ""),
      };
    }
  return undefined;
}

/** Finds the functional descriptor behind an interface in the bytes of a configuration. Sizes in bytes. */
export function functionalOf(bytes: Uint8Array): { transferSizeBytes: number; canUpload: boolean } | undefined {
  for (let at = 0; at + 2 <= bytes.length;) {
    const [length = 0, type = 0] = bytes.subarray(at, at + 2);
    // a descriptor of no length would be walked over for ever
    if (length < 2 || at + length > bytes.length) return undefined;
    if (type === FUNCTIONAL && length >= FUNCTIONAL_LEAST_BYTES) {
      const [attributes = 0, , , low = 0, high = 0] = bytes.subarray(at + 2, at + 7);
      return { transferSizeBytes: low | (high << 8), canUpload: (attributes & CAN_UPLOAD) !== 0 };
    }
    at += length;
  }
  return undefined;
}

async function configurationBytes(device: WebUsbDevice): Promise<Uint8Array> {
  const ask = async (length: number) => {
    const setup = {
      requestType: "standard",
      recipient: "device",
      request: GET_DESCRIPTOR,
      value: CONFIGURATION << 8,
      index: 0,
    } as const;
    const { data } = await within(device.controlTransferIn(setup, length));
    return data ? new Uint8Array(data.buffer, data.byteOffset, data.byteLength) : new Uint8Array();
  };
  const head = await ask(CONFIGURATION_BYTES);
  const [, , low = 0, high = 0] = head;
  return ask(Math.max(CONFIGURATION_BYTES, low | (high << 8)));
}

const bytesOf = (data: DataView | undefined): Uint8Array =>
  data ? new Uint8Array(data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength)) : new Uint8Array();

/** Opens a device that is in DFU mode. Refuses one that is none, or that another program holds. */
export async function openDfu(device: WebUsbDevice): Promise<Result<OpenDfu>> {
  const dfu = dfuInterfaceOf(device);
  if (!dfu) return refuse({ code: "usb-no-loader", message: "This USB device is not in its loader" });
  try {
    if (!device.opened) await within(device.open());
    if (!device.configuration) await within(device.selectConfiguration(dfu.configuration));
    await within(device.claimInterface(dfu.no));
    const functional = functionalOf(await configurationBytes(device));
    if (!functional || functional.transferSizeBytes === 0)
      return refuse({
        code: "usb-no-functional",
        message: "The loader does not say how much it takes at a time",
        detail: "Its configuration has no functional descriptor (DFU 1.1, section 4.1.3)",
      });
    let silent = false;
    const seen: UsbSeen = {
      transport: "usb",
      vendorId: device.vendorId,
      productId: device.productId,
      serial: device.serialNumber ?? "",
      ...(device.deviceVersionMajor > 0 ? { version: device.deviceVersionMajor } : {}),
      alternates: dfu.alternates,
      ...functional,
    };
    const port: UsbPort = {
      nowUs: () => performance.now() * 1000,
      wait: (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
      async control(request) {
        try {
          return await within(transfer(device, dfu.no, request));
        } catch (error) {
          silent = true;
          throw lost(String(error));
        }
      },
      async reset() {
        // the device leaves the bus by that, often before it has answered
        await within(device.reset()).catch(() => undefined);
        silent = true;
      },
    };
    return ok({
      device,
      seen,
      port,
      gone: () => silent,
      close: () => within(device.close()).catch(() => undefined),
    });
  } catch (error) {
    return refuse({
      code: "usb-held",
      message: "The loader cannot be opened",
      detail: String(error),
      hint: "Another program may hold it, or this account may not open USB devices",
    });
  }
}

async function transfer(device: WebUsbDevice, no: number, request: ControlRequest): Promise<ControlReply> {
  const none = new Uint8Array();
  // the choice of an alternate setting is the host's own business, and not let through as a request
  if (request.request === SET_INTERFACE) {
    await device.selectAlternateInterface(no, request.value);
    return { kind: "done", data: none };
  }
  const setup = {
    requestType: "class",
    recipient: "interface",
    request: request.request,
    value: request.value,
    index: no,
  } as const;
  if (request.direction === "in") {
    const { status, data } = await device.controlTransferIn(setup, request.length ?? 0);
    return status === "ok" || status === undefined ? { kind: "done", data: bytesOf(data) } : { kind: "stall" };
  }
  const { status } = await device.controlTransferOut(setup, Uint8Array.from(request.data ?? none));
  return status === "ok" || status === undefined ? { kind: "done", data: none } : { kind: "stall" };
}
