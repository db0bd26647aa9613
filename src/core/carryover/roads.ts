import { Heap } from "heap-js";
import { allFirmware, type Catalogue, type Firmware } from "@/core/catalog";
import type { Hop } from "@/core/carryover/hop";
import { lengthOf } from "@/core/carryover/loss";
import { reverseRules } from "@/core/carryover/reverse";

/** A hop as the search walks it: made, and its loss worked out, when a search first wants to know. */
class Road {
  private made?: Hop;
  constructor(
    /** Place of the release that it leads to. */
    readonly to: number,
    private readonly make: () => Hop,
  ) {}

  get hop(): Hop {
    return (this.made ??= this.make());
  }

  /** By what the hop loses at worst. */
  get length(): number {
    return lengthOf(this.hop);
  }
}

interface Reached {
  readonly at: number;
  readonly length: number;
}

/** A way, and how long it is by its hops. */
export interface Walked {
  readonly route: Hop[];
  readonly length: number;
}

/**
 * The passages of a catalogue as a graph, walked in both directions. Releases stand in the order of their ids and are
 * named by their place, so that a search keeps what it knows in arrays; the roads from one are made when a search first
 * comes by.
 */
export class Roads {
  private readonly releases: readonly Firmware[];
  private readonly places: ReadonlyMap<string, number>;
  private readonly later: readonly number[][];
  private readonly known: (readonly Road[] | undefined)[];

  constructor(catalogue: Catalogue) {
    this.releases = allFirmware(catalogue).toSorted((a, b) => (a.id < b.id ? -1 : 1));
    this.places = new Map(this.releases.map(({ id }, place) => [id, place]));
    this.later = this.releases.map(() => []);
    this.known = this.releases.map(() => undefined);
    this.releases.forEach(({ passages }, place) => {
      for (const earlier of new Set(passages.map(({ from }) => this.places.get(from))))
        if (earlier !== undefined) this.later[earlier]?.push(place);
    });
  }

  private from(place: number): readonly Road[] {
    return (this.known[place] ??= [...this.up(place), ...this.down(place)]);
  }

  private up(place: number): Road[] {
    const from = this.releases[place];
    return (this.later[place] ?? []).flatMap((at) => {
      const to = this.releases[at];
      if (!from || !to) return [];
      return to.passages
        .filter((passage) => passage.from === from.id)
        .map(({ rules }) => new Road(at, () => ({ from, to, by: "passage", rules })));
    });
  }

  private down(place: number): Road[] {
    const from = this.releases[place];
    return (from?.passages ?? []).flatMap((passage) => {
      const at = this.places.get(passage.from) ?? -1;
      const to = this.releases[at];
      if (!from || !to) return [];
      return [new Road(at, () => ({ from, to, by: "passage backwards", rules: reverseRules(passage.rules, to) }))];
    });
  }

  /**
   * The way that is shortest by its hops, perhaps without one of them (Dijkstra, with a heap); of equal ways the one whose
   * releases come first.
   */
  shortest(from: Firmware, to: Firmware, without?: Hop): Walked | undefined {
    const [start, end] = [this.places.get(from.id), this.places.get(to.id)];
    if (start === undefined || end === undefined) return undefined;
    const best = new Float64Array(this.releases.length).fill(Infinity);
    const last: (Hop | undefined)[] = [];
    const closed = new Uint8Array(this.releases.length);
    const open = new Heap<Reached>((a, b) => a.length - b.length || a.at - b.at);
    best[start] = 0;
    open.push({ at: start, length: 0 });
    for (let next = open.pop(); next && next.at !== end; next = open.pop()) {
      if (closed[next.at] === 1) continue;
      closed[next.at] = 1;
      for (const road of this.from(next.at)) {
        const at = road.to;
        // a way back to where the search has been is not even measured
        if (closed[at] === 1 || road.hop === without) continue;
        const length = next.length + road.length;
        if (length >= (best[at] ?? Infinity)) continue;
        best[at] = length;
        last[at] = road.hop;
        open.push({ at, length });
      }
    }
    const length = best[end] ?? Infinity;
    return length < Infinity ? { route: this.back(end, last), length } : undefined;
  }

  private back(end: number, last: readonly (Hop | undefined)[]): Hop[] {
    const route: Hop[] = [];
    for (let hop = last[end]; hop; hop = last[this.places.get(hop.from.id) ?? -1]) route.push(hop);
    return route.reverse();
  }
}

const made = new WeakMap<Catalogue, Roads>();

/** The roads of a catalogue, made once. */
export function roadsOf(catalogue: Catalogue): Roads {
  let roads = made.get(catalogue);
  if (!roads) made.set(catalogue, (roads = new Roads(catalogue)));
  return roads;
}
