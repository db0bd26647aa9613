import { allFirmware, type Catalogue } from "@/core/catalog/catalogue";
import { MAIN_PART, partOf, type Firmware } from "@/core/catalog/release";

/** A release's place in the drawn lineage: columns go with descent, lanes with families. */
export interface LineageNode {
  readonly release: Firmware;
  readonly column: number;
  readonly lane: number;
}

export interface Lineage {
  readonly nodes: readonly LineageNode[];
  /** `main`: the release is written on top of the other; else a way that joins two lines. */
  readonly edges: readonly {
    readonly from: string;
    readonly to: string;
    readonly main: boolean;
    readonly rules: number;
  }[];
  readonly columns: number;
  readonly lanes: number;
}

/**
 * Where each release stands: one column right of all that lead to it; families that branch off lie below, those of
 * other parts than the main processor lowest.
 */
export function lineageOf(catalogue: Catalogue): Lineage {
  const releases = allFirmware(catalogue).toSorted(
    (a, b) =>
      Number(partOf(a) !== MAIN_PART) - Number(partOf(b) !== MAIN_PART) ||
      (a.builtOn < b.builtOn ? -1 : a.builtOn > b.builtOn ? 1 : a.id < b.id ? -1 : 1),
  );
  const byId = new Map(releases.map((release) => [release.id, release]));
  const columns = new Map<string, number>();
  const columnOf = (release: Firmware): number => {
    const known = columns.get(release.id);
    if (known !== undefined) return known;
    columns.set(release.id, 0);
    const before = release.passages.flatMap((passage) => byId.get(passage.from) ?? []);
    const column = before.length === 0 ? 0 : 1 + Math.max(...before.map(columnOf));
    columns.set(release.id, column);
    return column;
  };
  const heights = new Map<string, number>();
  /** How many releases of the same family follow, at most. */
  const heightOf = (release: Firmware): number => {
    const known = heights.get(release.id);
    if (known !== undefined) return known;
    heights.set(release.id, 0);
    const after = releases.filter((each) => each.family === release.family && each.ancestor === release.id);
    const height = after.length === 0 ? 0 : 1 + Math.max(...after.map(heightOf));
    heights.set(release.id, height);
    return height;
  };
  const families = [...new Set(releases.map((release) => release.family))];
  // releases of one family in one column (a maker's own build beside the official one) get lanes of their own
  const taken = new Set<string>();
  let lane = 0;
  const nodes: LineageNode[] = [];
  for (const family of families) {
    let lowest = lane;
    const own = releases.filter((each) => each.family === family);
    for (const release of own.toSorted((a, b) => heightOf(b) - heightOf(a))) {
      const column = columnOf(release);
      let at = lane;
      while (taken.has(`${column} ${at}`)) at++;
      taken.add(`${column} ${at}`);
      lowest = Math.max(lowest, at);
      nodes.push({ release, column, lane: at });
    }
    lane = lowest + 1;
  }
  const edges = releases.flatMap((release) =>
    release.passages
      .filter((passage) => byId.has(passage.from))
      .map((passage) => ({
        from: passage.from,
        to: release.id,
        main: passage.from === release.ancestor,
        rules: passage.rules.length,
      })),
  );
  return { nodes, edges, columns: 1 + Math.max(0, ...nodes.map((n) => n.column)), lanes: lane };
}
