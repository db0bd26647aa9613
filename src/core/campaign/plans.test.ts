import { callsOf, groupsOf, wishProblem, TAKEN_BACK, type Call, type MemberPlan } from "@/core/campaign/plans";

const call = (key: string): Call => ({
  key,
  title: `Title of ${key}`,
  area: "feel",
  reason: "",
  choices: [
    { id: "keep", label: "Keep it" },
    { id: "make", label: "Make it 8" },
  ],
});
const plain: MemberPlan = {
  ...{ tag: "QW-01", calls: [call("a")], silent: ["s"], behaviour: ["b"], blocked: ["r"], lost: ["l"], changed: 1 },
  unread: [],
};

describe("who goes the same way", () => {
  const others: Readonly<Record<string, Partial<MemberPlan>>> = {
    "another decision": { calls: [call("b")] },
    "one decision more": { calls: [call("a"), call("b")] },
    "a silent change": { silent: [] },
    "another effect": { behaviour: ["c"] },
    "something that cannot be there": { blocked: [] },
    "something else that cannot be there": { blocked: ["other"] },
    "something that is lost": { lost: [] },
    "a part that was never read": { unread: ["tail"] },
    "no plan": { problem: { code: "x", message: "No backup of it is on file" } },
  };

  it.each(Object.entries(others))("%s parts them", (_, other) => {
    expect(groupsOf([plain, { ...plain, ...other, tag: "QW-02" }])).toHaveLength(2);
  });

  it("neither their names nor the order of their decisions do; the largest group stands first", () => {
    const both = { ...plain, calls: [call("a"), call("b")] };
    const groups = groupsOf([
      plain,
      { ...both, tag: "QW-02" },
      { ...both, tag: "QW-03", calls: both.calls.toReversed() },
    ]);
    expect(groups.map(({ tags }) => tags)).toEqual([["QW-02", "QW-03"], ["QW-01"]]);
    expect(callsOf([plain, { ...both, tag: "QW-02" }]).map(({ key, tags }) => [key, tags])).toEqual([
      ["a", ["QW-01", "QW-02"]],
      ["b", ["QW-02"]],
    ]);
  });
});

describe("what somebody wants decided for all", () => {
  const standing = { key: "a", choiceId: "keep", account: "lead", at: 0 };
  const code = (...wish: Parameters<typeof wishProblem>) => wishProblem(...wish)?.code;

  it("must be offered, and stand against what they saw", () => {
    expect(code({ key: "a", choiceId: "make", before: "" }, plain.calls, undefined)).toBeUndefined();
    expect(code({ key: "a", choiceId: "fly", before: "" }, plain.calls, undefined)).toBe("campaign-choice");
    expect(code({ key: "z", choiceId: "keep", before: "" }, plain.calls, undefined)).toBe("campaign-choice");
    expect(wishProblem({ key: "a", choiceId: "make", before: "" }, plain.calls, standing)).toMatchObject({
      code: "campaign-meanwhile",
      message: "lead chose “Keep it” for Title of a in the meantime",
    });
    expect(code({ key: "a", choiceId: "make", before: "keep" }, plain.calls, undefined)).toBe("campaign-meanwhile");
    // taken back even where nobody asks for it any more
    expect(code({ key: "a", choiceId: TAKEN_BACK, before: "keep" }, [], standing)).toBeUndefined();
  });
});
