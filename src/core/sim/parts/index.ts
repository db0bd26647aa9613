import type { Battery, Catalogue, LineWay } from "@/core/catalog";
import { Passing } from "@/core/sim/parts/passing";
import { SimPart, type SimPartSpec } from "@/core/sim/parts/part";

export { startedOn } from "@/core/sim/parts/kept";
export type { SimPartSpec } from "@/core/sim/parts/part";

/** What feeds a board. */
interface FedBy {
  readonly powered: boolean;
  readonly batteries: ReadonlySet<Battery>;
}

/** The parts behind a simulated board. Times in µs of the board's clock. */
export class BoardParts {
  readonly all: readonly SimPart[];

  constructor(specs: readonly SimPartSpec[], catalogue: Catalogue, losePower: (nowUs: number, of: Battery) => void) {
    this.all = specs.map((spec) => new SimPart(spec, catalogue, losePower));
  }

  at(part: string, no: number): SimPart | undefined {
    return this.all.find(({ spec }) => spec.part === part && spec.no === no);
  }

  /** Each has its supply, or has lost it, by what feeds the board. */
  power(nowUs: number, { powered, batteries }: FedBy): void {
    for (const part of this.all) {
      const { supply } = part.spec;
      part.power(nowUs, supply === "board" ? powered : batteries.has(supply));
    }
  }

  /** No line leads to any of them. */
  letGo(): void {
    for (const part of this.all) part.letGo();
  }

  /** Opens a line to a part; or why that cannot be. */
  open(way: LineWay, no: number, nowUs: number, again = false): Passing | string {
    if (!this.at(way.part, no)) return "there is no such part";
    const fed = (part: string) => this.all.some((each) => each.spec.part === part && each.fed);
    if (!again && way.unfed && fed(way.part)) return "its parts have their supply, take that away first";
    return new Passing(way, no, { partAt: (part, at) => this.at(part, at), fed }, nowUs);
  }
}
