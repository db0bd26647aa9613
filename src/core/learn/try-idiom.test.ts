import { tryIdiom } from "@/core/learn/try-idiom";
import { demoDocuments } from "../../../demo/documents";

const definition = (id: string) => demoDocuments().find((each) => each.document.id === id)?.text ?? "";
const tried = (text: string, sample: string) => {
  const result = tryIdiom(text, sample);
  if (!result.ok) throw new Error(JSON.stringify(result.problem));
  return result.value;
};
const refusal = (text: string, sample = "x") => {
  const result = tryIdiom(text, sample);
  return result.ok ? "tried" : result.problem.code;
};

describe("trying a definition on a sample", () => {
  it("says of each line what it is understood as, and what is left over", () => {
    const found = tried(
      definition("statement"),
      ";; firmware: Odd\nput a.b 3\nuse tune 2\nrow ports 1 use=x\nclear ports\n= so\nsay hello\n",
    );
    expect(found.lines.map((line) => [line.line, line.says])).toEqual([
      [1, "says that firmware is Odd"],
      [2, "sets a.b to 3"],
      [3, "chooses tune 2"],
      [4, "a row of ports: 1"],
      [5, "ports begins anew"],
      [6, "an answer"],
      [7, "not understood"],
    ]);
    expect([found.understood, found.leftOver]).toEqual([5, 1]);
  });

  it("shows what the first read-back would look like, in the same idiom", () => {
    const statement = tried(
      definition("statement"),
      "put a.b 3\nput c yes\nuse tune 1\nput roll 40\nuse tune 2\nput roll 41\n",
    );
    expect(statement.readBack).toEqual(expect.arrayContaining(["put a.b 3", "put c yes", "use tune 1", "put roll 40"]));
    expect(statement.readBack.at(-1)).toMatch(/^;; that is all, \d+ lines, check /);
    const section = tried(
      definition("section"),
      "[general sensors]\nGyro, main: 90 Hz\n[ports anew]\n[ports 2]\nuse: radio\n",
    );
    expect(section.readBack).toEqual(
      expect.arrayContaining(["[general sensors]", "Gyro, main: 90 Hz", "[ports 2]", "use: radio"]),
    );
    const record = tried(definition("record"), '{"record":"system","no":"tune","edition":"x","holds":{"a/b":3}}');
    expect(record.readBack.some((line) => line.includes('"a/b":3'))).toBe(true);
  });

  it("without a value there is nothing to read back, and it says so", () => {
    const found = tried(definition("statement"), ";; only words");
    expect(found.readBack).toEqual([]);
    expect(found.readBackProblem?.code).toBe("learn-nothing");
  });

  it("a definition that cannot write what it reads is told", () => {
    const mute = definition("statement").replace(/^ {2}- \{ means: select.*\n/m, "");
    const found = tried(mute, "put a.b 3\n");
    expect(found.understood).toBe(1);
    expect(found.readBackProblem === undefined || found.readBackProblem.code === "idiom-mute").toBe(true);
  });

  it("refuses what is no definition, and samples without end", () => {
    expect(refusal("document: [")).toBe("document-syntax");
    expect(refusal("document: idiom\nid: x")).toBe("document-schema");
    expect(refusal(definition("Nettle 20"))).toBe("document-kind");
    expect(refusal(definition("statement"), "x".repeat(500_000))).toBe("sample-size");
  });
});
