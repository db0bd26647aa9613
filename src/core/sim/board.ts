import {
  findRelease,
  findTarget,
  loaderIdOf,
  processorOf,
  settingsSegment,
  type BoardModel,
  type Catalogue,
  type Processor,
} from "@/core/catalog";
import type { Configuration } from "@/core/config";
import { idiomOf } from "@/core/idiom";
import { applicationSpace, markOf, type ReadIdentity } from "@/core/image";
import { alternatesOf, findBootable } from "@/core/sim/boot";
import { workLine, type Senses } from "@/core/sim/application";
import type { Application } from "@/core/sim/running";
import {
  handleDfu,
  powerOnDfu,
  STATUS,
  type DeviceReply,
  type DeviceRequest,
  type DfuDevice,
  type DfuHardware,
} from "@/core/sim/dfu-device";
import { blankFlash, eraseRange, placeBytes, program, readRange, type FlashMemory } from "@/core/sim/flash-memory";
import { regionOf, startOnRegion } from "@/core/sim/region-store";
import {
  arrive,
  asWire,
  fromWire,
  nextEventUs,
  print,
  serialEngine,
  takeOutput,
  type LineWorker,
  type SerialEngine,
  type SerialSettings,
} from "@/core/sim/serial";

/** Faults that can be switched on, and stay until they are switched off. */
export interface Faults {
  chargeOnlyCable: boolean;
  swallowLoaderWord: boolean;
  /** After a restart the board stays away until it is unplugged and plugged in again. */
  staysAway: boolean;
  /** Every n-th USB transfer stalls; 0: none. */
  stallEvery: number;
}

export const NO_FAULTS: Faults = { chargeOnlyCable: false, swallowLoaderWord: false, staysAway: false, stallEvery: 0 };

/** What the host sees on the cable. */
export type Presence =
  | { readonly kind: "none" }
  | { readonly kind: "console"; readonly port: string; readonly vendorId: number; readonly productId: number }
  | {
      readonly kind: "usb-loader";
      readonly port: string;
      readonly vendorId: number;
      readonly productId: number;
      readonly serial: string;
      readonly alternates: readonly string[];
      readonly transferSizeBytes: number;
      readonly canUpload: boolean;
    };

type Mode =
  | { readonly kind: "off" }
  | { readonly kind: "console"; readonly app: Application; readonly readyUs: number }
  | { readonly kind: "usb-loader"; readonly readyUs: number }
  | { readonly kind: "serial-loader" }
  | { readonly kind: "dead"; readonly why: string };

export interface BoardSpec {
  readonly model: BoardModel;
  readonly chipId: string;
  /** Host port numbers start here; each appearance takes the next. */
  readonly firstPort: number;
}

const START_APP_US = 900_000;
const START_LOADER_US = 500_000;
/** Going back to the defaults takes as long as so many lines. */
const FORGET_LINES = 20;
const USB_OVERHEAD_US = 125;
const USB_US_PER_BYTE = 1;
const MANIFEST_US = 1_000;
/** Speed of the USB bridge that boards without USB of their own carry. */
const BRIDGE_BAUD = 115_200;

const encoder = new TextEncoder();
const decoder = new TextDecoder();

/** A simulated flight controller: a machine whose flash decides what it does. Times in µs of its own clock. */
export class SimBoard {
  readonly spec: BoardSpec;
  readonly processor: Processor;
  readonly flash: FlashMemory;
  readonly senses: Senses = {
    roll: 0,
    pitch: 0,
    heading: 0,
    sticks: [1500, 1500, 1000, 1500],
    batteryVolts: 0,
    receiverPowered: false,
    mountQuarters: 0,
  };
  faults: Faults = { ...NO_FAULTS };
  cable = false;
  battery = false;
  /** A bare UART instead of the USB cable, at this baud; for benches without USB. */
  uartBaud: number | undefined;
  mode: Mode = { kind: "off" };
  appearances = 0;
  transfers = 0;
  /** How often something started that was not whole. Must stay 0 whatever is cut. */
  halfImageStarts = 0;
  private dfu: DfuDevice = powerOnDfu();
  private serial: SerialEngine | undefined;
  private readonly catalogue: Catalogue;

  constructor(spec: BoardSpec, catalogue: Catalogue) {
    this.spec = spec;
    this.catalogue = catalogue;
    this.processor = processorOf(catalogue, spec.model.processor);
    this.flash = blankFlash(this.processor);
    if (!this.processor.usbLoader) this.uartBaud = BRIDGE_BAUD;
  }

  /** Leaves the factory: the loader, where it lives in flash, and an image. */
  manufacture(image: Uint8Array): void {
    for (const no of this.processor.loaderSectors) {
      const sector = this.flash.sectors[no];
      if (sector)
        placeBytes(
          this.flash,
          sector.start,
          new Uint8Array(sector.sizeBytes).map((_, i) => (i * 31 + no) & 0x7f),
        );
    }
    placeBytes(this.flash, applicationSpace(this.processor).start, image);
  }

  placeSettings(app: Application): void {
    placeBytes(this.flash, settingsSegment(this.processor).start, regionOf(app));
  }

  get powered(): boolean {
    return this.cable || this.battery;
  }

  plug(nowUs: number, hold: { readonly button?: boolean; readonly pads?: boolean } = {}): void {
    if (this.cable) return;
    const wasOff = !this.powered;
    this.cable = true;
    if (wasOff) this.start(nowUs, hold);
    else this.appearances++;
  }

  unplug(nowUs: number): void {
    if (!this.cable) return;
    this.cable = false;
    if (!this.battery) this.losePower(nowUs);
  }

  setBattery(nowUs: number, fitted: boolean): void {
    if (this.battery === fitted) return;
    const wasOff = !this.powered;
    this.battery = fitted;
    this.senses.batteryVolts = fitted ? 16.2 : 0;
    this.senses.receiverPowered = fitted || this.spec.model.receiverOnUsb;
    if (fitted && wasOff) this.start(nowUs, {});
    if (!fitted && !this.cable) this.losePower(nowUs);
  }

  private losePower(nowUs: number): void {
    const { serial, mode } = this;
    if (serial && mode.kind === "console") {
      takeOutput(serial, this.worker(mode.app), nowUs);
      const first = serial.queue[0];
      // power went while the settings were being stored: the region is erased and not yet written
      if (first && first.line === mode.app.idiom.words.keep && Math.max(serial.cpuFreeUs, first.arrivedUs) < nowUs)
        this.eraseSettings();
    }
    this.mode = { kind: "off" };
    this.serial = undefined;
  }

  private eraseSettings(): { cut: boolean } {
    const { start, lengthBytes } = settingsSegment(this.processor);
    return eraseRange(this.flash, start, lengthBytes);
  }

  /** What starts is decided by the bytes in flash, and by the hands on button and pads. */
  private start(nowUs: number, hold: { readonly button?: boolean; readonly pads?: boolean }): void {
    this.serial = undefined;
    this.dfu = powerOnDfu();
    this.senses.receiverPowered = this.battery || this.spec.model.receiverOnUsb;
    const inRom = this.processor.loaderSectors.length === 0;
    if (hold.pads && this.spec.model.bootPads) {
      this.appearances++;
      this.mode = inRom ? { kind: "usb-loader", readyUs: nowUs + START_LOADER_US } : { kind: "serial-loader" };
      return;
    }
    if (hold.button && this.spec.model.bootButton) return this.startLoader(nowUs);
    const found = findBootable(this.flash, this.processor);
    if (found.kind === "nothing") return this.startLoader(nowUs);
    if (found.kind === "image") return this.startApplicationOf(found.identity, nowUs);
    this.halfImageStarts++;
    this.mode = { kind: "dead", why: "half an image was started" };
  }

  private startApplicationOf(identity: ReadIdentity, nowUs: number): void {
    const release = findRelease(this.catalogue, identity.family, identity.version);
    const target = release.ok ? findTarget(release.value, identity.target) : undefined;
    const idiom = release.ok ? this.catalogue.idioms.get(release.value.idiom) : undefined;
    if (!release.ok || !target || !idiom || identity.processorMark !== markOf(this.processor.id)) {
      this.mode = { kind: "dead", why: "the image is for other hardware" };
      return;
    }
    const region = settingsSegment(this.processor);
    const app = startOnRegion(
      release.value,
      idiomOf(idiom),
      target,
      readRange(this.flash, region.start, region.lengthBytes),
    );
    this.appearances++;
    this.mode = { kind: "console", app, readyUs: nowUs + START_APP_US };
    const uart = this.uartBaud;
    const settings: SerialSettings = {
      byteUs: uart === undefined ? 1 : 10_000_000 / uart,
      bufferBytes: release.value.console.inputBufferBytes,
      flowControl: uart === undefined,
    };
    this.serial = serialEngine(settings, nowUs + START_APP_US);
    print(this.serial, `;; ${release.value.family} is ready\n`, nowUs + START_APP_US);
  }

  private startLoader(nowUs: number): void {
    const { loaderSectors, usbLoader } = this.processor;
    if (!usbLoader) {
      this.mode = { kind: "serial-loader" };
      return;
    }
    const first = this.flash.sectors[loaderSectors[0] ?? -1];
    const erased = first !== undefined && readRange(this.flash, first.start, 64).every((byte) => byte === 0xff);
    if (erased) {
      this.mode = { kind: "dead", why: "nothing to start: neither an image nor a loader" };
      return;
    }
    this.appearances++;
    this.mode = { kind: "usb-loader", readyUs: nowUs + START_LOADER_US };
  }

  private restart(nowUs: number, intoLoader: boolean): void {
    if (this.faults.staysAway) {
      this.mode = { kind: "dead", why: "it did not come back after the restart" };
      return;
    }
    if (intoLoader) {
      this.serial = undefined;
      this.dfu = powerOnDfu();
      this.startLoader(nowUs);
    } else this.start(nowUs, {});
  }

  /** What the host sees at a time. */
  presence(nowUs: number): Presence {
    const { mode, spec } = this;
    const usb = this.cable && !this.faults.chargeOnlyCable;
    const port = `port ${spec.firstPort + this.appearances}`;
    if (
      mode.kind === "console" &&
      (usb || (this.uartBaud !== undefined && this.processor.usbLoader !== undefined)) &&
      nowUs >= mode.readyUs
    )
      return { kind: "console", port, ...spec.model.usb };
    const loader = this.processor.usbLoader;
    if (mode.kind === "usb-loader" && loader && usb && nowUs >= mode.readyUs) {
      const { vendorId, productId, transferSizeBytes, canUpload } = loader;
      const serial = loaderIdOf(spec.chipId, this.processor);
      return {
        kind: "usb-loader",
        port,
        vendorId,
        productId,
        serial,
        alternates: alternatesOf(this.processor).map((a) => a.name),
        transferSizeBytes,
        canUpload,
      };
    }
    return { kind: "none" };
  }

  /** When the presence will change by itself, if it will. */
  nextPresenceUs(nowUs: number): number | undefined {
    const { mode } = this;
    return (mode.kind === "console" || mode.kind === "usb-loader") && mode.readyUs > nowUs ? mode.readyUs : undefined;
  }

  /** One control transfer that the host begins at a time: the reply and when it is there. `undefined`: the board has gone. */
  control(request: DeviceRequest, atUs: number): { reply: DeviceReply; doneUs: number } | undefined {
    if (this.presence(atUs).kind !== "usb-loader") return undefined;
    this.transfers++;
    const bytes = request.data?.length ?? request.length ?? 0;
    const doneUs = atUs + USB_OVERHEAD_US + bytes * USB_US_PER_BYTE;
    if (this.faults.stallEvery > 0 && this.transfers % this.faults.stallEvery === 0 && request.request <= 2) {
      this.dfu = { ...this.dfu, state: 10, status: STATUS.stalledPacket };
      return { reply: { kind: "stall" }, doneUs };
    }
    const [device, reply] = handleDfu(this.dfu, request, this.hardware(doneUs), doneUs);
    this.dfu = device;
    return this.powered ? { reply, doneUs } : undefined;
  }

  /** A reset of the bus: out of the loader, whatever starts then (DFU 1.1, Appendix A.1). */
  usbReset(nowUs: number): void {
    if (this.presence(nowUs).kind === "usb-loader") this.start(nowUs, {});
  }

  private hardware(nowUs: number): DfuHardware {
    const alternates = alternatesOf(this.processor);
    return {
      alternates,
      transferSizeBytes: this.processor.usbLoader?.transferSizeBytes ?? 0,
      canUpload: this.processor.usbLoader?.canUpload ?? false,
      manifestUs: MANIFEST_US,
      manifestationTolerant: true,
      read: (alternate, offset, lengthBytes) =>
        readRange(this.flash, (alternates[alternate]?.start ?? 0) + offset, lengthBytes).slice(),
      write: (alternate, offset, data) => {
        const segment = alternates[alternate];
        if (!segment) return { status: STATUS.address };
        const erased =
          offset === 0 ? eraseRange(this.flash, segment.start, segment.lengthBytes) : { us: 0, cut: false };
        const written = erased.cut ? { cut: true } : program(this.flash, segment.start + offset, data);
        if (written.cut) this.failPower(nowUs);
        return { us: erased.us + data.length * this.processor.programUsPerByte };
      },
    };
  }

  /** The power goes, whatever feeds the board. */
  failPower(nowUs: number): void {
    this.cable = false;
    this.battery = false;
    this.senses.batteryVolts = 0;
    this.losePower(nowUs);
    this.flash.programBudget = Infinity;
    this.flash.eraseBudget = Infinity;
  }

  identity(app: Application): Configuration["identity"] {
    const { release, target } = app;
    return {
      family: release.family,
      release: release.version,
      builtOn: release.builtOn,
      target: target.id,
      board: this.spec.model.title,
      chipId: this.spec.chipId,
    };
  }

  private worker(app: Application): LineWorker {
    const region = settingsSegment(this.processor);
    const keepUs =
      this.flash.sectors
        .filter((s) => s.start >= region.start && s.start < region.start + region.lengthBytes)
        .reduce((sum, s) => sum + s.eraseUs, 0) + 12_000;
    const said = (wire: string) => decoder.decode(fromWire(wire));
    return {
      costUs: (wire) => {
        const line = said(wire);
        const { lineCostUs } = app.release.console;
        const { keep, forget } = app.idiom.words;
        if (line === keep) return lineCostUs + keepUs;
        return line === forget ? FORGET_LINES * lineCostUs : lineCostUs;
      },
      work: (wire) => {
        const { text, act } = workLine(app, said(wire), this.identity(app), this.senses);
        if (act === "keep") this.keep(app);
        if (act === "restart" || act === "loader")
          this.pendingRestart =
            act === "loader" && !this.faults.swallowLoaderWord ? "loader" : act === "restart" ? "restart" : undefined;
        return asWire(encoder.encode(text));
      },
    };
  }

  private pendingRestart: "loader" | "restart" | undefined;
  /** Wire characters that have reached the host and were not taken yet. */
  private inbox = "";

  private keep(app: Application): void {
    const { start } = settingsSegment(this.processor);
    if (this.eraseSettings().cut || program(this.flash, start, regionOf(app)).cut)
      this.failPower(this.serial?.cpuFreeUs ?? 0);
  }

  /** Bytes that the host begins to send at a time. False: the board has gone. */
  sendSerial(bytes: Uint8Array, atUs: number): boolean {
    if (this.presence(atUs).kind !== "console" || this.mode.kind !== "console" || !this.serial) return false;
    arrive(this.serial, this.worker(this.mode.app), asWire(bytes), atUs);
    return true;
  }

  /** When the host's part of sending is over: the cable carries no more than its speed. */
  get sentUs(): number {
    return this.serial?.rxFreeUs ?? 0;
  }

  nextOutputUs(): number | undefined {
    return this.serial && this.mode.kind === "console"
      ? nextEventUs(this.serial, this.worker(this.mode.app))
      : undefined;
  }

  get lostBytes(): number {
    return this.serial?.lostBytes ?? 0;
  }

  /** Lets time pass. A restart that the console was told comes when its answer has left. */
  advance(untilUs: number): void {
    if (!this.serial || this.mode.kind !== "console") return;
    this.inbox += takeOutput(this.serial, this.worker(this.mode.app), untilUs);
    if (this.pendingRestart && this.serial.outputs.length === 0) {
      const loader = this.pendingRestart === "loader";
      this.pendingRestart = undefined;
      this.restart(untilUs, loader);
    }
  }

  /** Takes the bytes that have reached the host by a time. */
  takeSerial(untilUs: number): Uint8Array {
    this.advance(untilUs);
    const bytes = fromWire(this.inbox);
    this.inbox = "";
    return bytes;
  }
}
