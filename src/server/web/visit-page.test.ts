import fc from "fast-check";
import { escaped, visitPage, type VisitPage } from "@/server/web/visit-page";

/** Whatever stands in the data, told with marks that HTML would take for its own. */
const text = fc.string({ unit: fc.constantFrom("<", ">", "&", '"', "'", "a", " ", "</p>", "<script>") });
const line = fc.record({
  ...{ area: text, title: text, place: text, before: text, onBoard: text, outcome: text, becomes: text },
  ...{ why: text, decided: text, by: text, at: text, means: text, sends: text },
});
const visit: fc.Arbitrary<VisitPage> = fc.record({
  tag: text,
  visit: fc.nat(),
  headline: text,
  ordered: fc.record({ by: text, at: text }),
  ended: text,
  endedAt: text,
  chipId: text,
  way: fc.record({ releases: text, target: text }),
  lines: fc.array(line, { maxLength: 4 }),
  unread: fc.array(text, { maxLength: 2 }),
  accepted: fc.array(fc.record({ sign: text, account: text, at: text, reason: text }), { maxLength: 2 }),
  scriptLines: fc.nat(),
  restore: fc.constantFrom("not-begun", "begun", "done" as const),
  signed: fc.record({ by: text, at: text, statement: text }),
  record: fc.array(fc.record({ at: text, by: text, says: text }), { maxLength: 4 }),
  files: fc.array(text, { maxLength: 3 }),
});

describe("a visit in words", () => {
  it("whatever stands in the data stays text: the page has only the elements that it makes itself", () => {
    const own = new Set("html head meta title style body h1 h2 h3 p table thead tbody tr th td ul li a".split(" "));
    fc.assert(
      fc.property(visit, (made) => {
        const page = visitPage(made);
        const elements = [...page.matchAll(/<\/?([a-z][a-z0-9]*)/gi)].map(([, name = ""]) => name.toLowerCase());
        expect(elements.filter((name) => !own.has(name))).toEqual([]);
        // each paragraph, cell and heading that is opened is closed: nothing of the data closed one
        for (const name of ["p", "td", "h1", "table"])
          expect(page.split(`</${name}>`).length).toBe((page.match(new RegExp(`<${name}[ >]`, "g"))?.length ?? 0) + 1);
      }),
    );
  });

  it("names who decided what and why, and what was written otherwise than before", () => {
    const page = visitPage({
      ...{ tag: "QW-04", visit: 7, headline: "Update to Heddle 23", chipId: "1A", ended: "Finished", endedAt: "today" },
      ordered: { by: "lead", at: "today" },
      lines: [
        {
          ...{
            area: "feel",
            title: "Yaw rate",
            place: "system/feel.yaw.rate",
            before: "251 °/s",
            onBoard: "250 °/s",
            outcome: "converted",
          },
          ...{ becomes: "240 °/s", why: "Held to its step.", decided: "Keep 240", by: "technician", at: "noon" },
          ...{ means: "A little slower.", sends: "put feel.yaw.rate 240" },
        },
      ],
      unread: [],
      accepted: [],
      scriptLines: 12,
      restore: "done",
      record: [],
      files: ["plan.csv"],
    });
    const decided = page.slice(page.indexOf("What was decided"), page.indexOf("What was written"));
    for (const part of [
      "Yaw rate",
      "250 °/s",
      "240 °/s",
      "Keep 240. A little slower.",
      "technician",
      "Held to its step.",
    ])
      expect(decided).toContain(escaped(part));
    expect(page).toContain('<a href="plan.csv">plan.csv</a>');
    expect(page).toContain("Not signed off.");
  });

  it("says that there was none of something only where everything could be read", () => {
    const none = ["Nothing was decided by hand", "No settings were written", "Nothing was read back"];
    fc.assert(
      fc.property(visit, (made) => {
        const page = visitPage({ ...made, lines: [], scriptLines: 0, restore: "not-begun" });
        for (const sentence of none) expect(page.includes(sentence)).toBe(made.unread.length === 0);
        expect(page.includes("Damaged in the workshop")).toBe(made.unread.length > 0);
      }),
    );
  });

  it("tells values as written only where the restore came to its end", () => {
    fc.assert(
      fc.property(visit, (made) => {
        const page = visitPage(made);
        expect(page.includes(">Written<")).toBe(
          made.restore === "done" && made.lines.some(({ becomes, onBoard }) => becomes !== "" && becomes !== onBoard),
        );
        if (made.restore === "not-begun") expect(page).not.toContain(">To be written<");
      }),
    );
  });
});
