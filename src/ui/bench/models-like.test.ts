import { modelsLike } from "@/ui/bench/models-like";

const model = (id: string, printed: string, target: string) => ({
  id,
  title: `Maker ${id}`,
  printed,
  target,
  revision: "A",
  usb: "0x1209:0x0001",
  processor: id.startsWith("three") ? "P2" : "P1",
});
const MODELS = [
  model("one", "O-1", "T1"),
  model("one-b", "O-1", "T2"),
  model("two", "W-2", "T1"),
  model("three", "H-3", "T3"),
];
const ids = (name: string | undefined, target: string | undefined) => modelsLike(MODELS, name, target).map((m) => m.id);

describe("which model a board is", () => {
  it("by its full name or what is printed on it, told apart by its target", () => {
    expect(ids("Maker two", "T1")).toEqual(["two"]);
    expect(ids("O-1", "T2")).toEqual(["one-b"]);
    expect(ids("O-1", undefined)).toEqual(["one", "one-b"]);
    // the name is believed before the target: a special target may be none of the model's
    expect(ids("Maker three", "T1")).toEqual(["three"]);
  });

  it("without a name that is known, by its target; without either, any", () => {
    expect(ids("Nobody", "T1")).toEqual(["one", "two"]);
    expect(ids(undefined, "T9")).toEqual(["one", "one-b", "two", "three"]);
  });

  it("a board of which only the processor is known is one of those that have it", () => {
    expect(modelsLike(MODELS, undefined, undefined, "P2").map(({ id }) => id)).toEqual(["three"]);
    expect(modelsLike(MODELS, "O-1", undefined, "P2").map(({ id }) => id)).toEqual(["one", "one-b"]);
  });
});
