import type { ControlSetup, WebUsbDevice } from "@/bench/usb/webusb";
import { loaderOf } from "@/core/catalog";
import type { SimBoard, SimLink } from "@/core/sim";

const SET_INTERFACE = 11;

/** A configuration descriptor as DFU 1.1, section 4.2 lays it out, written byte by byte: the product only reads such. */
export function descriptorBytes(alternates: number, transferSize: number, attributes: number): Uint8Array {
  const total = 9 + 9 * alternates + 9;
  return Uint8Array.from([
    ...[9, 2, total & 0xff, total >> 8, 1, 1, 0, 0x80, 50],
    ...Array.from({ length: alternates }, (_, i) => [9, 4, 0, i, 0, 0xfe, 1, 2, 4 + i]).flat(),
    ...[9, 0x21, attributes, 0xff, 0, transferSize & 0xff, transferSize >> 8, 0x10, 0x01],
  ]);
}

/** A simulated board as a device on a WebUSB bus, in its loader: checks what the interface lets it check. */
export class WebUsbBoard implements WebUsbDevice {
  readonly vendorId: number;
  readonly productId: number;
  readonly serialNumber: string;
  readonly deviceVersionMajor: number;
  readonly configurations: WebUsbDevice["configurations"];
  configuration: WebUsbDevice["configuration"];
  opened = false;
  private claimed: number | undefined;
  private readonly names: readonly string[];

  constructor(
    readonly board: SimBoard,
    private readonly link: SimLink,
    private readonly interfaceNumber = 0,
  ) {
    const presence = link.presence();
    if (presence.kind !== "loader" || presence.transport !== "usb")
      throw new Error("the board is not in its USB loader");
    this.vendorId = presence.vendorId;
    this.productId = presence.productId;
    this.serialNumber = presence.serial;
    this.deviceVersionMajor = presence.version ?? 0;
    this.names = presence.alternates;
    this.configurations = [
      {
        configurationValue: 1,
        interfaces: [
          // listed in another order than they count, as a system may
          {
            interfaceNumber,
            alternates: this.names
              .map((interfaceName, alternateSetting) => ({
                alternateSetting,
                interfaceClass: 0xfe,
                interfaceSubclass: 1,
                interfaceProtocol: 2,
                interfaceName,
              }))
              .toReversed(),
          },
        ],
      },
    ];
  }

  get there(): boolean {
    const presence = this.link.presence();
    return presence.kind === "loader" && presence.transport === "usb";
  }

  private need(claimed = true): void {
    if (!this.there) throw new Error("NetworkError: the device was disconnected");
    if (!this.opened || (claimed && this.claimed === undefined)) throw new Error("InvalidStateError");
  }

  open() {
    if (!this.there) return Promise.reject(new Error("NotFoundError"));
    this.opened = true;
    return Promise.resolve();
  }
  close() {
    this.opened = false;
    this.claimed = undefined;
    return Promise.resolve();
  }
  async selectConfiguration(value: number) {
    this.need(false);
    this.configuration = this.configurations.find(({ configurationValue }) => configurationValue === value);
    await Promise.resolve();
  }
  async claimInterface(no: number) {
    this.need(false);
    if (!this.configuration || no !== this.interfaceNumber) throw new Error("NotFoundError");
    this.claimed = no;
    await Promise.resolve();
  }
  async selectAlternateInterface(no: number, alternate: number) {
    this.need();
    if (no !== this.claimed || this.names[alternate] === undefined) throw new Error("NotFoundError");
    await this.link.usb.control({ request: SET_INTERFACE, direction: "out", value: alternate });
  }
  private check(setup: ControlSetup) {
    this.need(setup.requestType !== "standard");
    if (setup.requestType === "class" && (setup.recipient !== "interface" || setup.index !== this.claimed))
      throw new Error("NotFoundError: no such interface");
  }
  async controlTransferIn(setup: ControlSetup, length: number) {
    this.check(setup);
    if (setup.requestType === "standard") {
      const loader = loaderOf(this.board.processor, "usb");
      const bytes = descriptorBytes(this.names.length, loader?.transferSizeBytes ?? 0, loader?.canUpload ? 0x07 : 0x05);
      return { status: "ok", data: new DataView(bytes.slice(0, length).buffer) };
    }
    const { request, value } = setup;
    const reply = await this.link.usb.control({ request, direction: "in", value, length });
    return reply.kind === "stall"
      ? { status: "stall" }
      : { status: "ok", data: new DataView(Uint8Array.from(reply.data).buffer) };
  }
  async controlTransferOut(setup: ControlSetup, data: Uint8Array = new Uint8Array()) {
    this.check(setup);
    const { request, value } = setup;
    const reply = await this.link.usb.control({ request, direction: "out", value, data });
    return { status: reply.kind === "stall" ? "stall" : "ok" };
  }
  async reset() {
    this.need(false);
    await this.link.usb.reset();
  }
}
