import { attentionOf, fleetSentence, standingOf, type RegisterEntry } from "@/ui/fleet/attention";
import { age, clockTime, timeLeft } from "@/ui/base/time";

const NOW = new Date(2026, 10, 24, 15, 0, 0).getTime();
const DAY = 86_400_000;
const entry = (tag: string, more: Partial<RegisterEntry> = {}): RegisterEntry => ({
  tag,
  label: "",
  type: "Sedge",
  state: "in-service",
  reason: "",
  standing: "in-service",
  model: "Corsley Slate",
  target: "CSLATE-B",
  firmware: "Heddle 22",
  completeAt: NOW - 3 * DAY,
  lastVerdict: "complete",
  job: null,
  ...more,
});

const FLEET = [
  entry("QW-01"),
  entry("QW-02", { standing: "old-backup", completeAt: NOW - 41 * DAY }),
  entry("QW-03", { standing: "no-backup", completeAt: null, lastVerdict: "moved-only" }),
  entry("QW-04", { standing: "out-of-service", state: "out-of-service", reason: "Waits for a guard" }),
  entry("QW-05", { standing: "on-bench", state: "on-bench", job: { id: 9, headline: "Update to Heddle 23" } }),
];

describe("the register", () => {
  it("says of each aircraft how it stands, by shape and in words", () => {
    expect(FLEET.map((e) => standingOf(e))).toEqual([
      { mark: "ok", say: "In service" },
      { mark: "look", say: "In service, its backup is old" },
      { mark: "look", say: "In service, no complete backup: its read-out holds moved values only" },
      { mark: "no", say: "Out of service: Waits for a guard" },
      { mark: "half", say: "On the bench: Update to Heddle 23" },
    ]);
  });

  it("says what to do about each that needs somebody", () => {
    expect(FLEET.map((e) => attentionOf(e, NOW)).map((a) => a && [a.tag, a.todo, a.href])).toEqual([
      undefined,
      ["QW-02", "See its backups", "/aircraft/QW-02"],
      ["QW-03", "See what is there", "/aircraft/QW-03"],
      ["QW-04", "Look at it", "/aircraft/QW-04"],
      ["QW-05", "Open its card", "/jobs/9"],
    ]);
  });

  it("sums the fleet up in a sentence", () => {
    const standings = { "in-service": 1, "old-backup": 1, "no-backup": 1, "out-of-service": 1, "on-bench": 1 };
    expect(fleetSentence(5, standings)).toBe("Five aircraft. One on the bench, one out of service, two need a look.");
    expect(fleetSentence(1, { "in-service": 1 })).toBe("One aircraft. All in service.");
    expect(fleetSentence(0, {})).toBe("No aircraft. All in service.");
    expect(fleetSentence(1, { "old-backup": 1 })).toBe("One aircraft. One needs a look.");
  });
});

describe("times", () => {
  it.each([
    [30_000, "just now"],
    [12 * 60_000, "12 min ago"],
    [3 * 3_600_000, "today 12:00"],
    [20 * 3_600_000, "yesterday"],
    [12 * DAY, "12 days ago"],
  ])("%d ms ago is %s", (passed, said) => expect(age(NOW - passed, NOW)).toBe(said));

  it("time left is told in the unit that matters", () => {
    expect([timeLeft(400), timeLeft(8_200), timeLeft(200_000)]).toEqual(["under 1 s left", "8 s left", "3 min left"]);
    expect(clockTime(new Date(2026, 10, 24, 9, 2, 4).getTime())).toBe("09:02:04");
  });
});
