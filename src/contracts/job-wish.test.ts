import type { BodyFor } from "@/contracts/asks";
import type { PartName } from "@/core/part";
import fc from "fast-check";
import { ValidationError } from "yup";
import { jobWishShape, WISH_KINDS, type JobRequest } from "@/contracts/job-wish";

const read = (value: unknown) => {
  try {
    // as every request is read
    return jobWishShape.validateSync(value, { stripUnknown: true });
  } catch (error) {
    // whatever is sent is refused as a shape, and never a fault of ours
    expect(error).toBeInstanceOf(ValidationError);
    return undefined;
  }
};
/** Names that every object has are refused before a request is read at all. */
const INHERITED = Object.getOwnPropertyNames(Object.prototype).map((name) => `${JSON.stringify(name)}:`);
const json = fc.jsonValue().filter((value) => !INHERITED.some((name) => JSON.stringify(value).includes(name)));
const at = { bayNo: 1, aircraftId: 7 };

describe("what a job is wished for", () => {
  it("is taken as it is sent, in each of its kinds", () => {
    const wishes: readonly JobRequest["goal"][] = [
      { kind: "update", releaseId: "heddle-23", asModel: true },
      { kind: "set-up", backupId: 3, parts: { tune: "board" }, although: "The rest is lost" },
      { kind: "revive", releaseId: "heddle-23", instead: { target: "TMOTE", reason: "Its own is not built" } },
      { kind: "commission", releaseId: "heddle-23", backupId: 4 },
      { kind: "baseline", base: "standard", parts: { tune: "baseline" } },
      { kind: "campaign", campaignId: 2 },
      {
        kind: "parts",
        runs: { "speed controllers 2": "spindle-45" } as Readonly<Record<PartName, string>>,
        sources: { "speed controllers 2": 4 } as Readonly<Record<PartName, number>>,
        detour: "heddle-23",
      },
      { kind: "ability", ability: "turn-over" },
    ];
    expect(wishes.map(({ kind }) => kind).toSorted()).toEqual(WISH_KINDS.toSorted());
    for (const goal of wishes) expect(read({ ...at, goal })?.goal).toEqual(goal);
  });

  it("what its kind wants and is not there, or is of another form, is refused", () => {
    const none = [
      undefined,
      null,
      "update",
      [],
      {},
      { kind: "update" },
      { kind: "unheard-of" },
      { kind: "set-up", backupId: 0 },
      { kind: "baseline", base: "standard", parts: { nowhere: "elsewhere" } },
      { kind: "baseline", base: "standard", parts: [] },
      { kind: "campaign", campaignId: 1.5 },
      { kind: "parts", runs: {}, sources: { "speed controllers 2": 0 } },
      { kind: "parts", runs: {}, sources: { "speed controllers": 3 } },
      { kind: "parts", runs: {}, sources: [3] },
    ];
    expect(none.map((goal) => read({ ...at, goal }))).toEqual(none.map(() => undefined));
  });

  it("what is no part of a goal of its kind does not come in with it", () => {
    const goal = { kind: "revive", releaseId: "heddle-23", flashes: true, backupId: 9 };
    expect(read({ ...at, goal })?.goal).toEqual({ kind: "revive", releaseId: "heddle-23" });
  });

  it("whatever is sent is taken or refused", () => {
    const kind = fc.oneof(fc.constantFrom<unknown>(...WISH_KINDS), json);
    const goal = fc.oneof(json, fc.record({ kind, releaseId: json, parts: json }));
    fc.assert(
      fc.property(fc.oneof(json, fc.record({ bayNo: json, goal, scope: json })), (sent) => {
        read(sent);
      }),
      { numRuns: 500 },
    );
    fc.assert(
      fc.property(goal, (each) => void read({ ...at, goal: each })),
      { numRuns: 500 },
    );
  });
});

it("what a page sends is held against the route that it goes to", () => {
  const sent = <P extends string>(path: P, body: BodyFor<P>) => [path, body];
  sent(`/api/jobs/7`, { kind: "confirm", step: "make-safe" });
  sent(`/api/bench/1`, { kind: "plug", pads: true });
  // @ts-expect-error: there is no such order
  sent(`/api/bench/1`, { kind: "plugg" });
  // @ts-expect-error: nor has this one such a field
  sent(`/api/jobs/7`, { kind: "sign", name: "Reed Warden" });
  // @ts-expect-error: a job is for something
  sent("/api/jobs", { bayNo: 1, aircraftId: 2 });
  expect(sent("/api/people", { any: 1 })).toEqual(["/api/people", { any: 1 }]);
});
