/** USB Device Class Specification for Device Firmware Upgrade, Revision 1.1: numbers of section 3, Table 3.2. */
export const DFU_REQUEST = {
  DETACH: 0,
  DNLOAD: 1,
  UPLOAD: 2,
  GETSTATUS: 3,
  CLRSTATUS: 4,
  GETSTATE: 5,
  ABORT: 6,
} as const;
/** USB 2.0, section 9.4.10. */
export const SET_INTERFACE = 11;

/** Section 6.1.2, bState. */
export const DFU_STATE = {
  appIDLE: 0,
  appDETACH: 1,
  dfuIDLE: 2,
  dfuDNLOAD_SYNC: 3,
  dfuDNBUSY: 4,
  dfuDNLOAD_IDLE: 5,
  dfuMANIFEST_SYNC: 6,
  dfuMANIFEST: 7,
  dfuMANIFEST_WAIT_RESET: 8,
  dfuUPLOAD_IDLE: 9,
  dfuERROR: 10,
} as const;
export type DfuState = (typeof DFU_STATE)[keyof typeof DFU_STATE];

/** Section 6.1.2, bStatus, in the order of the codes from 0x00, with what each means at the bench. */
export const DFU_STATUS = [
  ["OK", "no error"],
  ["errTARGET", "the file is not for this device"],
  ["errFILE", "the file fails a check of the device"],
  ["errWRITE", "memory cannot be written"],
  ["errERASE", "memory cannot be erased"],
  ["errCHECK_ERASED", "memory is not blank after the erase"],
  ["errPROG", "programming memory failed"],
  ["errVERIFY", "what was programmed reads differently"],
  ["errADDRESS", "the address is outside memory"],
  ["errNOTDONE", "the end came before all data"],
  ["errFIRMWARE", "the firmware is damaged and cannot be run"],
  ["errVENDOR", "an error of the maker's own"],
  ["errUSBR", "the USB was reset unexpectedly"],
  ["errPOR", "power came on unexpectedly"],
  ["errUNKNOWN", "something unnamed went wrong"],
  ["errSTALLEDPKT", "the device stalled a request it did not expect"],
] as const;

/** A control transfer on endpoint 0, as far as this class uses it. Out transfers carry data, in transfers a length. */
export interface ControlRequest {
  readonly request: number;
  readonly direction: "in" | "out";
  readonly value: number;
  readonly data?: Uint8Array;
  readonly length?: number;
}

export type ControlReply = { readonly kind: "done"; readonly data: Uint8Array } | { readonly kind: "stall" };

/** Section 6.1.2: status, poll timeout in ms (24 bits), state, string index. */
export interface StatusReport {
  readonly status: number;
  readonly pollTimeoutMs: number;
  readonly state: DfuState;
}

export function decodeStatus(data: Uint8Array): StatusReport | undefined {
  if (data.length !== 6) return undefined;
  const [status = 0, a = 0, b = 0, c = 0, state = 0] = data;
  return { status, pollTimeoutMs: a | (b << 8) | (c << 16), state: state as DfuState };
}

/** What a loader says of itself when it is enumerated. Alternate settings in order, by name. */
export interface LoaderDescriptor {
  readonly vendorId: number;
  readonly productId: number;
  readonly serial: string;
  /** Which version of itself it is: the whole number of bcdDevice (USB 2.0, 9.6.1), where it says one. */
  readonly version?: number;
  readonly alternates: readonly string[];
  readonly transferSizeBytes: number;
  readonly canUpload: boolean;
}
