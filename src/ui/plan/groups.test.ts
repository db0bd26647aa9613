import { countOutcomes, openItems, planUpdate, type Outcome, type PlanItem, type SettingItem } from "@/core/carryover";
import { defaultConfiguration } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { areasOf, groupPlan, keyText, takenChoice } from "@/ui/plan/groups";
import { catalogue, release } from "../../../tests/support/workshop";

const [from, to] = [release("heddle-22"), release("heddle-23")];
const base = defaultConfiguration(from, "CSLATE-B", { target: "CSLATE-B" });
const plan = valueOf(
  planUpdate(
    {
      configuration: {
        ...base,
        settings: base.settings.map((s) =>
          s.scope === "tune 3" && s.key === "roll.hold-strength" ? { ...s, value: 60 } : s,
        ),
        unknown: [{ line: 3, text: "put secret.sauce 7", scope: "system", reason: "no such setting" }],
      },
      release: from,
    },
    to,
    "CSLATE-B",
    catalogue(),
  ),
);
const groups = groupPlan(plan);

describe("a plan as it is read", () => {
  it("shows what asks for a decision before everything else, the silent changes first", () => {
    expect(groups.map((g) => g.id)).toEqual([
      "silent",
      "behaviour",
      "lines",
      "restricts",
      "converted",
      "renamed",
      "new",
      "retired",
      "left-out",
      "same",
    ]);
  });

  it("holds every item of the plan exactly once", () => {
    const shown = groups.flatMap((g) => g.rows.flatMap((row) => row.items.map((item) => item.id)));
    expect(shown.toSorted()).toEqual(plan.items.map((item) => item.id).toSorted());
  });

  it("holds whatever an item may be: of every outcome, whether and why it waits for a person", () => {
    const calls = [
      "silent",
      "behaviour",
      "limit",
      "unknown-line",
      "no-counterpart",
      "doubtful",
      "unexplained",
      "several",
    ];
    const outcomes = Object.keys(countOutcomes(plan)) as Outcome[];
    for (const kind of ["setting", "row"]) {
      const first = plan.items.find((item) => item.kind === kind) ?? plan.items[0];
      const bare = { ...(first as SettingItem), call: undefined };
      const items = outcomes.flatMap((outcome) =>
        [undefined, ...calls].map((call, i) => ({
          ...bare,
          id: `${outcome} ${i}`,
          outcome,
          ...(call ? { call } : {}),
        })),
      ) as PlanItem[];
      const shown = groupPlan({ ...plan, items }).flatMap((g) =>
        g.rows.flatMap((row) => row.items.map(({ id }) => id)),
      );
      expect(shown.toSorted()).toEqual(items.map(({ id }) => id).toSorted());
    }
  });

  it("joins what reads alike in several profiles, and says in which", () => {
    const rows = groups[0]?.rows ?? [];
    expect(rows.find((row) => row.first.title === "Hold strength, roll")?.places).toBe("tune 1–2, 4–5");
    expect(rows.find((row) => row.first.title === "Hold strength, pitch")?.places).toBe("tune 1–5");
  });

  it("shows a row as decided only when all of its items took the same choice", () => {
    const row = groups[0]?.rows.find((r) => r.items.length > 1);
    if (!row) throw new Error("no row of several items");
    const all = Object.fromEntries(row.items.map((item) => [item.id, "keep"]));
    expect(takenChoice(row, all)?.id).toBe("keep");
    expect(takenChoice(row, { ...all, [row.items[0]?.id ?? ""]: "take-default" })).toBeUndefined();
    expect(takenChoice(row, {})).toBeUndefined();
  });

  it("writes a key once, or as old and new", () => {
    const texts = groups.flatMap((g) => g.rows.map((row) => (row.first.kind === "setting" ? keyText(row.first) : "")));
    expect(texts).toContain("yaw.turn-rate → feel.yaw.rate");
    expect(texts).toContain("loop.rate");
    expect(openItems(plan, {}).length).toBeGreaterThan(10);
  });
});

describe("what of a plan is looked for", () => {
  const made = plan;
  it("every item that has the words is shown, and no other; an area shows its own", () => {
    for (const q of ["smoothing", "roll push", "no such words", "9"]) {
      const shown = groupPlan(made, { q, area: "" }).flatMap(({ rows }) => rows.flatMap(({ items }) => items));
      const fits = (text: string) => q.split(" ").every((word) => text.toLowerCase().includes(word));
      const meant = made.items.filter((item) =>
        fits(
          [item.title, item.id, item.reason, ...item.trail.map(({ why }) => why)].join(" ") +
            (item.kind === "setting" ? ` ${item.from?.key ?? ""} ${item.to?.key ?? ""}` : ""),
        ),
      );
      expect(new Set(shown)).toEqual(new Set(meant));
    }
    for (const { value } of areasOf(made)) {
      const shown = groupPlan(made, { q: "", area: value }).flatMap(({ rows }) => rows.flatMap(({ items }) => items));
      expect(shown.length).toBeGreaterThan(0);
      expect(shown.every((item) => (item.kind === "line" ? "lines" : item.area) === value)).toBe(true);
    }
    const all = groupPlan(made).flatMap(({ rows }) => rows.flatMap(({ items }) => items));
    expect(all.length).toBe(made.items.length);
  });
});
