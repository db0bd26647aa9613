import fc from "fast-check";
import { processorOf } from "@/core/catalog";
import { flashMap } from "@/core/loader/flash-map";
import { startFlash, type CellState } from "@/core/loader/flash";
import { sectorSpaces } from "@/core/loader/spaces";
import { catalogue } from "../../../tests/support/workshop";

const CELLS: readonly CellState[] = ["unknown", "equal", "to-write", "erased", "writing", "written", "checked"];

it("whatever is written, every space stands in the map once, in order, and with what it holds", () => {
  fc.assert(
    fc.property(
      fc.constantFrom("Nettle 12", "Nettle 20", "Nettle 41"),
      fc.integer({ min: 1, max: 30 }),
      fc.array(fc.constantFrom(...CELLS), { minLength: 200, maxLength: 200 }),
      (id, count, states) => {
        const spaces = sectorSpaces(processorOf(catalogue(), id));
        const written = spaces.filter(({ use }) => use === "application").slice(0, count);
        const parts = written.map((space, i) => ({ space, bytes: new Uint8Array(space.lengthBytes), boot: i === 0 }));
        const state = { ...startFlash(parts), cells: states.slice(0, parts.length) };
        const map = flashMap(state, spaces);
        const inOrder = spaces.toSorted((a, b) => a.start - b.start);
        expect(map.reduce((sum, run) => sum + run.count, 0)).toBe(spaces.length);
        expect(map.reduce((sum, run) => sum + run.lengthBytes, 0)).toBe(
          spaces.reduce((sum, space) => sum + space.lengthBytes, 0),
        );
        for (const space of inOrder) {
          const run = map.find(({ start, lengthBytes }) => space.start >= start && space.start < start + lengthBytes);
          const at = parts.findIndex((part) => part.space === space);
          expect(run?.holds).toBe(at < 0 ? `left: ${space.use}` : state.cells[at]);
          expect(run?.boot).toBe(at === 0);
        }
        expect(map.filter(({ boot }) => boot).map((run) => [run.start, run.count])).toEqual([[written[0]?.start, 1]]);
      },
    ),
    { numRuns: 60 },
  );
});
