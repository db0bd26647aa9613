import {
  findFirmware,
  findTarget,
  layoutOf,
  layoutsOf,
  loaderIdOf,
  loaderOf,
  processorOf,
  settingsSegment,
  type Battery,
  type Catalogue,
  type Firmware,
  type Processor,
  type Supply,
} from "@/core/catalog";
import type { Value } from "@/core/config";
import { idiomOf } from "@/core/idiom";
import { applicationSpace, markOf, type ReadIdentity } from "@/core/image";
import { findBootable } from "@/core/sim/boot";
import {
  blankFlash,
  eraseAllBut,
  eraseRange,
  placeBytes,
  program,
  readRange,
  type FlashMemory,
} from "@/core/sim/flash-memory";
import { SerialLoaderDevice } from "@/core/sim/loaders/serial";
import { keptValues, regionOfValues, startedOn } from "@/core/sim/parts/kept";

/** A part as it is soldered on a simulated board or wired to it. */
export interface SimPartSpec {
  readonly part: string;
  /** By which the main firmware counts it, from 1. */
  readonly no: number;
  readonly processor: string;
  readonly chipId: string;
  readonly supply: Supply;
  /** What its power stage is: an image for another one does not turn its motor. */
  readonly target?: string;
  /** The first sector of its application does not keep what is written to it. */
  readonly worn?: true;
}

type State = "off" | "runs" | "loader" | "dead";
/** What it needs to wake in its loader after it was called. */
const WAKES_US = 40_000;

/**
 * A simulated part: a processor of its own, whose flash decides what it does, and a serial loader in ROM that it wakes in
 * when its line calls it, or when it has nothing to start. Times in µs of the board's clock.
 */
export class SimPart {
  readonly processor: Processor;
  readonly flash: FlashMemory;
  state: State = "off";
  /** How often something started that was not whole. Must stay 0 whatever is cut. */
  halfImageStarts = 0;
  private loader: SerialLoaderDevice | undefined;
  private readyUs = 0;
  private called = false;

  constructor(
    readonly spec: SimPartSpec,
    private readonly catalogue: Catalogue,
    private readonly losePower: (nowUs: number, of: Battery) => void,
  ) {
    this.processor = processorOf(catalogue, spec.processor);
    this.flash = blankFlash(this.processor);
    if (spec.worn) this.flash.worn = this.processor.applicationSector + 1;
  }

  /** Leaves the factory with an image. */
  manufacture(image: Uint8Array): void {
    placeBytes(this.flash, applicationSpace(this.processor).start, image);
  }

  /** Its settings, as somebody set them before it came here; what is not said stands at its default. */
  place(values: Readonly<Record<string, Value>>): void {
    const { runs } = this;
    const document = runs && this.catalogue.idioms.get(runs.release.idiom);
    if (!runs || !document) return;
    const writing = { spelling: idiomOf(document).spelling, layout: layoutOf(this.catalogue, runs.release) };
    const all = keptValues({ state: "blank" }, runs.release, runs.target, writing);
    for (const [key, value] of Object.entries(values)) if (all.has(key)) all.set(key, value);
    placeBytes(this.flash, settingsSegment(this.processor).start, regionOfValues(all, runs.release, writing));
  }

  get fed(): boolean {
    return this.state !== "off";
  }

  /** Its supply comes or goes; `called`: the line leads to it. */
  power(nowUs: number, on: boolean): void {
    if (!on) {
      this.state = "off";
      this.loader = undefined;
      return;
    }
    if (this.fed) return;
    if (this.called) this.wake(nowUs);
    else this.start(nowUs);
  }

  /** The line leads to it from now on: it wakes in its loader, now or when it gets its supply. */
  call(nowUs: number): void {
    this.called = true;
    if (this.fed && this.state !== "loader") this.wake(nowUs);
  }

  /** The line leads elsewhere. What is in its loader stays there. */
  letGo(): void {
    this.called = false;
  }

  private wake(nowUs: number): void {
    const loader = loaderOf(this.processor, "serial");
    if (!loader) {
      this.state = "dead";
      return;
    }
    this.state = "loader";
    this.readyUs = nowUs + WAKES_US;
    this.loader = new SerialLoaderDevice(loader, {
      processor: this.processor,
      flash: this.flash,
      loaderId: loaderIdOf(this.spec.chipId, this.processor),
      protected: () => false,
      lift: () => eraseAllBut(this.flash, this.processor.loaderSectors),
      stallEvery: () => 0,
      failPower: (us) => {
        this.flash.programBudget = Infinity;
        this.flash.eraseBudget = Infinity;
        this.losePower(us, this.spec.supply === "board" ? "battery" : this.spec.supply);
      },
      start: (us) => this.start(us),
    });
  }

  /** What it runs, if its flash holds something whole for this processor that the catalogue knows. */
  get runs(): { readonly release: Firmware; readonly target: string } | undefined {
    const found = findBootable(this.flash, applicationSpace(this.processor), layoutsOf(this.catalogue));
    return found.kind === "image" ? this.known(found.identity) : undefined;
  }

  private known(identity: ReadIdentity): { release: Firmware; target: string } | undefined {
    const release = findFirmware(this.catalogue, identity.family, identity.version);
    const target = release.ok ? findTarget(release.value, identity.target) : undefined;
    const fits =
      identity.processorMark === markOf(this.processor.id) && identity.target === (this.spec.target ?? target?.id);
    return release.ok && target && fits ? { release: release.value, target: target.id } : undefined;
  }

  private start(nowUs: number): void {
    this.loader = undefined;
    const found = findBootable(this.flash, applicationSpace(this.processor), layoutsOf(this.catalogue));
    if (found.kind === "half") this.halfImageStarts++;
    if (found.kind === "nothing") return this.wake(nowUs);
    const known = found.kind === "image" ? this.known(found.identity) : undefined;
    this.state = known ? "runs" : "dead";
    if (known) this.settle(known.release, known.target);
  }

  /** A firmware that starts keeps what it makes of its region: limited values, or its defaults. */
  private settle(release: Firmware, target: string): void {
    const region = settingsSegment(this.processor);
    const held = readRange(this.flash, region.start, region.lengthBytes);
    const settled = startedOn(held, release, target, this.catalogue);
    if (!settled) return;
    if (settled.every((byte, i) => byte === held[i])) return;
    eraseRange(this.flash, region.start, region.lengthBytes);
    program(this.flash, region.start, settled);
  }

  arrive(bytes: Uint8Array, atUs: number): void {
    if (this.state === "loader" && atUs >= this.readyUs) this.loader?.arrive(bytes, atUs);
  }

  get sentUs(): number {
    return this.loader?.sentUs ?? 0;
  }

  nextUs(): number | undefined {
    return this.loader?.nextUs();
  }

  output(untilUs: number): Uint8Array {
    return this.loader?.output(untilUs) ?? new Uint8Array();
  }

  /** After the machine that plays it was stopped: as it was. */
  resume(state: State, nowUs: number): void {
    if (state === "loader") this.wake(nowUs);
    this.state = state;
  }
}
