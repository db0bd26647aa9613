import {
  findRelease,
  findTarget,
  layoutOf,
  layoutsOf,
  loaderOn,
  processorOf,
  settingsSegment,
  type Battery,
  type BoardModel,
  type Catalogue,
  type LoaderTransport,
  type Processor,
  type ReleaseTarget,
} from "@/core/catalog";
import type { Configuration } from "@/core/config";
import { idiomOf } from "@/core/idiom";
import { applicationSpace, markOf, type ReadIdentity } from "@/core/image";
import { findBootable } from "@/core/sim/boot";
import { LoaderMemory } from "@/core/sim/loader-memory";
import type { Senses } from "@/core/sim/application";
import type { Application } from "@/core/sim/running";
import type { DeviceReply, DeviceRequest } from "@/core/sim/loaders/dfu-device";
import { blankFlash, eraseRange, placeBytes, program, readRange, type FlashMemory } from "@/core/sim/flash-memory";
import { NO_FAULTS, type Faults, type Presence } from "@/core/sim/presence";
import { BoardLoaders } from "@/core/sim/loaders";
import { regionOf, startOnRegion, tripsOver } from "@/core/sim/region-store";
import { ConsoleLine } from "@/core/sim/console-line";
import { BoardParts } from "@/core/sim/parts";
import type { SimPartSpec } from "@/core/sim/parts/part";

type Mode =
  | { readonly kind: "off" }
  | { readonly kind: "console"; readonly app: Application; readonly readyUs: number }
  | { readonly kind: "loader"; readonly transport: LoaderTransport; readonly readyUs: number }
  /** It starts, trips over its settings and starts again, for ever. */
  | { readonly kind: "looping"; readonly sinceUs: number }
  | { readonly kind: "dead"; readonly why: string; readonly lit?: true };

export interface BoardSpec {
  readonly model: BoardModel;
  readonly chipId: string;
  /** Host port numbers start here; each appearance takes the next. */
  readonly firstPort: number;
  /** What is soldered on it and wired to it. */
  readonly parts?: readonly SimPartSpec[];
}

const START_APP_US = 900_000;
const START_LOADER_US = 500_000;
/** How long it shows itself before it trips over settings that it cannot stand. */
const TRIPS_AFTER_US = 2_500_000;
const LOOP_US = START_APP_US + TRIPS_AFTER_US;
const FULL_VOLTS = 16.2;
/** Speed of the USB bridge that boards without USB of their own carry. */
const BRIDGE_BAUD = 115_200;

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
  private going: Faults = { ...NO_FAULTS };
  cable = false;
  /** Which of its batteries are in. */
  readonly batteries = new Set<Battery>();
  /** A serial adapter is wired to the pads of the board's first port. */
  adapter = false;
  /** A bare UART instead of the USB cable, at this baud; for benches without USB. */
  uartBaud: number | undefined;
  mode: Mode = { kind: "off" };
  appearances = 0;
  /** How often something started that was not whole. Must stay 0 whatever is cut. */
  halfImageStarts = 0;
  readonly loaders: BoardLoaders;
  readonly loaderMemory: LoaderMemory;
  private readonly hasUsb: boolean;
  /** What is on the board, by a release that is built for its model. */
  private readonly hardware: ReleaseTarget | undefined;
  readonly parts: BoardParts;
  private line: ConsoleLine | undefined;
  readonly catalogue: Catalogue;

  constructor(spec: BoardSpec, catalogue: Catalogue) {
    this.spec = spec;
    this.catalogue = catalogue;
    this.processor = processorOf(catalogue, spec.model.processor);
    this.hardware = [...catalogue.releases.values()].flatMap(
      (release) => findTarget(release, spec.model.target) ?? [],
    )[0];
    this.flash = blankFlash(this.processor);
    this.parts = new BoardParts(spec.parts ?? [], catalogue, (nowUs, which) => this.setBattery(nowUs, false, which));
    if (this.parts.all.some((part) => part.spec.supply === "second battery")) this.senses.secondVolts = 0;
    this.hasUsb = loaderOn(this.processor, "usb") !== undefined;
    if (!this.hasUsb) this.uartBaud = BRIDGE_BAUD;
    this.loaderMemory = new LoaderMemory(this.flash, this.processor, catalogue);
    this.loaders = new BoardLoaders({
      ...{ processor: this.processor, flash: this.flash, chipId: spec.chipId },
      protected: () => this.faults.readProtected,
      unprotect: () => (this.going = { ...this.going, readProtected: false }),
      stallEvery: () => this.faults.stallEvery,
      failPower: (nowUs) => this.failPower(nowUs),
      start: (nowUs) => this.start(nowUs, {}),
    });
  }

  /** Leaves the factory: the oldest loader that there is, where it lives in flash, and an image. */
  manufacture(image: Uint8Array): void {
    this.loaderMemory.manufacture();
    placeBytes(this.flash, applicationSpace(this.processor).start, image);
  }

  placeSettings(app: Application): void {
    placeBytes(this.flash, settingsSegment(this.processor).start, regionOf(app));
  }

  get faults(): Faults {
    return this.going;
  }

  set faults(faults: Faults) {
    this.going = faults;
    this.flash.worn = faults.wornSector ? this.processor.applicationSector + 1 : undefined;
    if (faults.powerCutAfterBytes > 0) this.flash.programBudget = faults.powerCutAfterBytes;
  }

  get powered(): boolean {
    return this.cable || this.battery;
  }

  /** One of its batteries is in. */
  get battery(): boolean {
    return this.batteries.size > 0;
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

  /** What a person sees of it: the lamp follows whatever runs. */
  get lamp(): "lit" | "blinks" | "dark" {
    if (!this.powered || this.mode.kind === "off") return "dark";
    if (this.mode.kind === "looping") return "blinks";
    return this.mode.kind === "dead" && !this.mode.lit ? "dark" : "lit";
  }

  setBattery(nowUs: number, fitted: boolean, which: Battery = "battery"): void {
    if (this.batteries.has(which) === fitted) return;
    const wasOff = !this.powered;
    if (fitted) this.batteries.add(which);
    else this.batteries.delete(which);
    this.senses[which === "battery" ? "batteryVolts" : "secondVolts"] = fitted ? FULL_VOLTS : 0;
    this.senses.receiverPowered = this.battery || this.spec.model.receiverOnUsb;
    if (fitted && wasOff) this.start(nowUs, {});
    if (!fitted && !this.powered) this.losePower(nowUs);
    this.parts.power(nowUs, this);
  }

  private losePower(nowUs: number): void {
    const { line, mode } = this;
    if (line && mode.kind === "console") {
      line.workUntil(nowUs);
      const { working } = line;
      // power went while the settings were being stored: the region is erased and not yet written
      if (working && working.line === mode.app.idiom.words.keep && working.sinceUs < nowUs) this.eraseSettings();
    }
    this.mode = { kind: "off" };
    this.line = undefined;
    this.loaderMemory.offSinceUs = nowUs;
    this.parts.power(nowUs, this);
  }

  private eraseSettings(): { cut: boolean } {
    const { start, lengthBytes } = settingsSegment(this.processor);
    return eraseRange(this.flash, start, lengthBytes);
  }

  /** What starts is decided by the bytes in flash, and by the hands on button and pads. */
  private start(nowUs: number, hold: { readonly button?: boolean; readonly pads?: boolean }): void {
    this.loaderMemory.powerUp(nowUs);
    this.line = undefined;
    this.loaders.reset();
    this.parts.letGo();
    this.parts.power(nowUs, this);
    this.senses.receiverPowered = this.battery || this.spec.model.receiverOnUsb;
    if (hold.pads && this.spec.model.bootPads) return this.startRom(nowUs);
    if (hold.button && this.spec.model.bootButton) return this.startLoader(nowUs);
    const found = findBootable(this.flash, applicationSpace(this.processor), layoutsOf(this.catalogue));
    if (found.kind === "nothing") return this.startLoader(nowUs);
    if (found.kind === "image") return this.startApplicationOf(found.identity, nowUs);
    this.startHalf();
  }

  private startHalf(): void {
    this.halfImageStarts++;
    this.mode = { kind: "dead", why: "half an image was started", lit: true };
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
    const kept = readRange(this.flash, region.start, region.lengthBytes);
    const layout = layoutOf(this.catalogue, release.value);
    if (tripsOver(kept, layout)) {
      this.mode = { kind: "looping", sinceUs: nowUs };
      return;
    }
    const app = startOnRegion({ release: release.value, idiom: idiomOf(idiom), target, layout }, kept);
    if (this.hardware) app.hardware = this.hardware;
    this.appearances++;
    this.mode = { kind: "console", app, readyUs: nowUs + START_APP_US };
    const uart = this.uartBaud;
    const settings = {
      byteUs: uart === undefined ? 1 : 10_000_000 / uart,
      bufferBytes: release.value.console.inputBufferBytes,
      flowControl: uart === undefined,
    };
    this.line = new ConsoleLine(app, settings, nowUs + START_APP_US, {
      identity: (of) => this.identity(of),
      senses: () => ({ ...this.senses, partsSilent: this.faults.partsSilent }),
      keepUs: this.keepUs,
      keep: (of) => this.keep(of),
      restart: (us, intoLoader) => this.restart(us, intoLoader),
      swallowsLoaderWord: () => this.faults.swallowLoaderWord,
      openLine: (way, no, us, again) => this.parts.open(way, no, us, again),
    });
  }

  private enter(transport: LoaderTransport, nowUs: number): void {
    this.appearances++;
    this.mode = { kind: "loader", transport, readyUs: nowUs + START_LOADER_US };
  }

  /** What the pads lead to: over a wired adapter or without USB the serial loader, else the drive, else USB from ROM. */
  private startRom(nowUs: number): void {
    const has = (transport: LoaderTransport) => loaderOn(this.processor, transport) !== undefined;
    const usbInRom = has("usb") && this.processor.loaderSectors.length === 0;
    if (has("serial") && (this.adapter || !usbInRom)) return this.enter("serial", nowUs);
    this.enter(has("drive") ? "drive" : "usb", nowUs);
  }

  private startLoader(nowUs: number): void {
    const loader = this.loaderMemory.wake();
    if (loader === "runs") this.enter(loaderOn(this.processor, "usb") ? "usb" : "serial", nowUs);
    else if (loader === "half") this.startHalf();
    else this.mode = { kind: "dead", why: "nothing to start: neither an image nor a loader" };
  }

  private restart(nowUs: number, intoLoader: boolean): void {
    if (this.faults.staysAway) {
      this.mode = { kind: "dead", why: "it did not come back after the restart", lit: true };
      return;
    }
    if (intoLoader) {
      this.line = undefined;
      this.loaders.reset();
      this.parts.letGo();
      this.startLoader(nowUs);
    } else this.start(nowUs, {});
  }

  /** What kind of thing the host sees at a time: asked for every byte, so that it builds nothing. */
  shows(nowUs: number): "none" | "console" | LoaderTransport {
    const { mode } = this;
    const usb = this.cable && !this.faults.chargeOnlyCable;
    switch (mode.kind) {
      case "console":
        return nowUs >= mode.readyUs && (usb || (this.uartBaud !== undefined && this.hasUsb)) ? "console" : "none";
      case "looping":
        return usb && (nowUs - mode.sinceUs) % LOOP_US >= START_APP_US ? "console" : "none";
      case "loader":
        if (nowUs < mode.readyUs) return "none";
        if (mode.transport === "serial") return this.adapter || (usb && !this.hasUsb) ? "serial" : "none";
        return usb ? mode.transport : "none";
      case "dead":
      case "off":
        return "none";
    }
  }

  /** What the host sees at a time. */
  presence(nowUs: number): Presence {
    const shown = this.shows(nowUs);
    const { mode, spec } = this;
    if (shown === "none") return { kind: "none" };
    // a board that restarts for ever comes anew with each round
    const rounds = mode.kind === "looping" ? Math.floor((nowUs - mode.sinceUs) / LOOP_US) : 0;
    const appearance = this.appearances + rounds;
    const at = { port: `port ${spec.firstPort + appearance}`, appearance };
    return shown === "console"
      ? { kind: "console", ...at, ...spec.model.usb }
      : { kind: "loader", ...at, ...this.loaders.shown(shown, this.loaderMemory.version) };
  }

  /** When the presence will change by itself, if it will. */
  nextPresenceUs(nowUs: number): number | undefined {
    const { mode } = this;
    return (mode.kind === "console" || mode.kind === "loader") && mode.readyUs > nowUs ? mode.readyUs : undefined;
  }

  /** One control transfer that the host begins at a time: the reply and when it is there. `undefined`: the board has gone. */
  control(request: DeviceRequest, atUs: number): { reply: DeviceReply; doneUs: number } | undefined {
    if (this.shows(atUs) !== "usb") return undefined;
    const result = this.loaders.usb.control(request, atUs);
    return this.powered ? result : undefined;
  }

  /** Writes to the drive that the loader shows; when it is through. `undefined`: it has gone. */
  driveWrite(bytes: Uint8Array, atUs: number): number | undefined {
    if (this.shows(atUs) !== "drive") return undefined;
    const doneUs = this.loaders.drive.write(bytes, atUs);
    return this.powered ? doneUs : undefined;
  }

  driveRead(name: string, offset: number, length: number, atUs: number) {
    return this.shows(atUs) === "drive" ? this.loaders.drive.read(name, offset, length, atUs) : undefined;
  }

  /** Out of a loader on USB, whatever starts then: a reset of the bus (DFU 1.1, Appendix A.1), a drive that is ejected. */
  usbReset(nowUs: number): void {
    if (this.shows(nowUs) === "usb" || this.shows(nowUs) === "drive") this.start(nowUs, {});
  }

  /** The power goes, whatever feeds the board. */
  failPower(nowUs: number): void {
    this.cable = false;
    for (const which of this.batteries) this.setBattery(nowUs, false, which);
    this.losePower(nowUs);
    this.flash.programBudget = Infinity;
    this.flash.eraseBudget = Infinity;
    this.going = { ...this.going, powerCutAfterBytes: 0 };
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

  private get keepUs(): number {
    const region = settingsSegment(this.processor);
    return this.flash.sectors
      .filter((s) => s.start >= region.start && s.start < region.start + region.lengthBytes)
      .reduce((sum, s) => sum + s.eraseUs, 12_000);
  }

  keep(app: Application): void {
    const { start } = settingsSegment(this.processor);
    if (this.eraseSettings().cut || program(this.flash, start, regionOf(app)).cut)
      this.failPower(this.line?.cpuFreeUs ?? 0);
  }

  /** Bytes that the host begins to send at a time. False: the board has gone. */
  sendSerial(bytes: Uint8Array, atUs: number): boolean {
    if (this.shows(atUs) === "serial") {
      this.loaders.serial.arrive(bytes, atUs);
      return this.powered;
    }
    if (this.shows(atUs) !== "console" || this.mode.kind !== "console" || !this.line) return false;
    this.line.arrive(bytes, atUs);
    return true;
  }

  /** When the host's part of sending is over: the cable carries no more than its speed. */
  get sentUs(): number {
    return this.mode.kind === "loader" && this.mode.transport === "serial"
      ? this.loaders.serial.sentUs
      : (this.line?.sentUs ?? 0);
  }

  nextOutputUs(): number | undefined {
    if (this.mode.kind === "loader") return this.mode.transport === "serial" ? this.loaders.serial.nextUs() : undefined;
    return this.mode.kind === "console" ? this.line?.nextUs() : undefined;
  }

  get lostBytes() {
    return this.line?.lostBytes ?? 0;
  }

  /** The part that the bytes on its console go to. */
  get leadsTo() {
    return this.mode.kind === "console" ? this.line?.leadsTo : undefined;
  }

  /** The line that was open when the machine that plays it was stopped. */
  openAgain({ part, no }: { readonly part: string; readonly no: number }, nowUs: number): void {
    if (this.mode.kind === "console") this.line?.openAgain(part, no, nowUs);
  }

  /** Lets time pass. */
  advance(untilUs: number): void {
    if (this.mode.kind === "console") this.line?.advance(untilUs);
  }

  /** Takes the bytes that have reached the host by a time. */
  takeSerial(untilUs: number): Uint8Array {
    if (this.shows(untilUs) === "serial") return this.loaders.serial.output(untilUs);
    const { line } = this;
    this.advance(untilUs);
    return line?.take() ?? new Uint8Array();
  }
}
