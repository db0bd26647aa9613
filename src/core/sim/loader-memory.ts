import { layoutOf, layoutsOf, loadersFor, type Catalogue, type Processor } from "@/core/catalog";
import { loaderSpace } from "@/core/image";
import { findBootable } from "@/core/sim/boot";
import { buildLoaderImage } from "@/core/sim/build-image";
import { placeBytes, readRange, type FlashMemory } from "@/core/sim/flash-memory";

/** Memory keeps its content for so long without power. */
const FORGETS_US = 10_000_000;

/**
 * A loader in flash is copied into memory when it is first wanted, and runs there: one that was replaced takes over only
 * after memory was without power for long enough. A loader in ROM needs none of it. Times in µs of the board's clock.
 */
export class LoaderMemory {
  /** Version of the loader that is in memory. */
  version: number | undefined;
  offSinceUs = -Infinity;

  constructor(
    private readonly flash: FlashMemory,
    private readonly processor: Processor,
    private readonly catalogue: Catalogue,
  ) {}

  powerUp(nowUs: number): void {
    if (nowUs - this.offSinceUs >= FORGETS_US) this.version = undefined;
  }

  /** Whether a loader could run now; one in ROM always could. */
  wake(): "runs" | "none" | "half" {
    const space = loaderSpace(this.processor);
    if (!space || this.version !== undefined) return "runs";
    const found = findBootable(this.flash, space, layoutsOf(this.catalogue));
    if (found.kind !== "image") return found.kind === "half" ? "half" : "none";
    this.version = Number(found.identity.version);
    return "runs";
  }

  /** As the board leaves the factory: with the oldest loader that there is for its processor. */
  manufacture(): void {
    const { flash, processor, catalogue } = this;
    const space = loaderSpace(processor);
    const [loader] = loadersFor(catalogue, processor.id);
    if (space && loader)
      placeBytes(flash, space.start, buildLoaderImage(loader, processor, layoutOf(catalogue, loader)));
  }

  /** A board that was kept before loaders said which they are gets the one that it left the factory with. */
  replaceUnmarked(): void {
    const space = loaderSpace(this.processor);
    if (space && readRange(this.flash, space.start, 64).every((byte, i) => byte === ((i * 31) & 0x7f)))
      this.manufacture();
  }
}
