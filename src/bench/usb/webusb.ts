/**
 * The part of the WebUSB interface (WICG, Editor's Draft, section 6: USBDevice) that a client of DFU uses. What implements
 * it, a library on the system's bus or a simulated device, is all the same to it.
 */
export interface WebUsbDevice {
  readonly vendorId: number;
  readonly productId: number;
  readonly serialNumber?: string | null | undefined;
  /** The whole number of bcdDevice (USB 2.0, 9.6.1). */
  readonly deviceVersionMajor: number;
  readonly configuration?: WebUsbConfiguration | null | undefined;
  readonly configurations: readonly WebUsbConfiguration[];
  readonly opened: boolean;
  open(): Promise<void>;
  close(): Promise<void>;
  selectConfiguration(value: number): Promise<void>;
  claimInterface(no: number): Promise<void>;
  selectAlternateInterface(no: number, alternate: number): Promise<void>;
  controlTransferIn(
    setup: ControlSetup,
    length: number,
  ): Promise<{ readonly status?: string; readonly data?: DataView | undefined }>;
  controlTransferOut(setup: ControlSetup, data?: Uint8Array<ArrayBuffer>): Promise<{ readonly status?: string }>;
  reset(): Promise<void>;
}

export interface WebUsbConfiguration {
  readonly configurationValue: number;
  readonly interfaces: readonly {
    readonly interfaceNumber: number;
    readonly alternates: readonly {
      readonly alternateSetting: number;
      readonly interfaceClass: number;
      readonly interfaceSubclass: number;
      readonly interfaceProtocol: number;
      readonly interfaceName?: string | null | undefined;
    }[];
  }[];
}

export interface ControlSetup {
  readonly requestType: "standard" | "class" | "vendor";
  readonly recipient: "device" | "interface" | "endpoint" | "other";
  readonly request: number;
  readonly value: number;
  readonly index: number;
}

/** Where USB devices are found. */
export interface WebUsbBus {
  getDevices(): Promise<readonly WebUsbDevice[]>;
}
